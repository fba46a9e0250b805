import type { Unit } from '../../quantity';
import type { Channel, Id } from '../term';
import type { Figure } from './facts';
import { byKind, factsOf, type Method, type MethodOf } from './table';

/**
 * The channels that a method reads.
 * @example channelsRead(exampleOf('suit.inflation', 'inflate').stage.method) // ['suit']
 */
export function channelsRead(method: Method): readonly Channel[] {
  return factsOf(method).reads(method);
}

/**
 * The channels that a limit may name: those that yield a finding.
 * @example limitedChannels(exampleOf('suit.inflation', 'inflate').stage.method) // ['suit']
 */
export function limitedChannels(method: Method): readonly Channel[] {
  const facts = factsOf(method);
  return (facts.finds ?? facts.reads)(method);
}

/**
 * The figures that a method needs and that this use of it names, each with a unit of its kind.
 * @example methodFigures(exampleOf('suit.inflation', 'inflate').stage.method, () => 'mbar').map((f) => f.id) // ['hold', 'startLow', 'startHigh', 'fillHigh']
 */
export function methodFigures(method: Method, unitOf: (channel: Channel) => Unit): readonly { readonly id: Id; readonly like: Unit }[] {
  return factsOf(method)
    .figures(method)
    .flatMap(({ id, in: like }) => (id === undefined ? [] : [{ id, like: typeof like === 'string' ? like : unitOf(like[0] ?? '') }]));
}

/**
 * Ids of the figures that an instrument on a channel must be able to show.
 * @example figuresShownOn(exampleOf('suit.inflation', 'inflate').stage.method, 'suit') // ['startLow', 'startHigh']
 */
export function figuresShownOn(method: Method, channel: Channel): readonly Id[] {
  const asked = (f: Figure): boolean => f.shown === true && typeof f.in !== 'string' && f.in.includes(channel);
  return factsOf(method)
    .figures(method)
    .flatMap((f) => (f.id !== undefined && asked(f) ? [f.id] : []));
}

/**
 * Whether a procedure only looks at an item at rest: it may be done on what must never be put under pressure again.
 * @example isLook(procedureById('cyl.visual')) // true
 * @example isLook(procedureById('cyl.water-jacket')) // false
 */
export const isLook = (p: { readonly stages: readonly { readonly method: Method }[] }): boolean => p.stages.every((s) => factsOf(s.method).atRest === true);

/** The items that a method asks about one by one; none but a check has any. */
export const itemsOf = (method: Method): MethodOf<'check'>['items'] => byKind({ check: (m) => m.items }, method) ?? [];

/** The places that a method looks at one by one; none but a survey has any. */
export const routeOf = (method: Method): MethodOf<'survey'>['route'] => byKind({ survey: (m) => m.route }, method) ?? [];
