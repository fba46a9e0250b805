import type { Id, Verdict } from '../procedure';
import { decimalIn, type Quantity } from '../quantity';
import type { RigAction } from '../rig';
import { benches } from './bench';

/**
 * The rig that simulates what a procedure tests, if there is one.
 * @example rigFor('suit.inflation') // 'suit'
 */
export function rigFor(procedure: Id): string | undefined {
  return benches[procedure]?.rig;
}

/**
 * The faults that a procedure's rig can be given, and what a run under a rule set must then come to.
 * @example truthOf('ba.soap-survey', 'general') // { none: 'pass', 'line joint': 'fail', 'reducer creeps': 'fail', 'half full': 'fail' }
 */
export function truthOf(procedure: Id, ruleSet: Id): Readonly<Record<string, Verdict>> {
  const rows = Object.entries(benches[procedure]?.truth ?? {});
  return Object.fromEntries(rows.map(([fault, truth]) => [fault, typeof truth === 'string' ? truth : (truth[ruleSet] ?? 'pass')]));
}

/** A move with its aim worked out. */
export type DefiniteMove = RigAction | { readonly until: Id } | { readonly seconds: number };

/**
 * The moves that carry out a step, with the aim inside its window.
 * @param window the pressures that the step must reach, where it has one
 * @example movesAt('suit.inflation', 'nothing') // []
 */
export function movesAt(procedure: Id, step: Id, window?: { readonly low: Quantity; readonly high: Quantity }): readonly DefiniteMove[] {
  return (benches[procedure]?.moves[step] ?? []).map((move): DefiniteMove => {
    if (!('act' in move)) return move;
    if (!move.aim || !window) return { act: move.act, ...(move.to === undefined ? {} : { to: move.to }) };
    const low = decimalIn(window.low, 'Pa').toNumber();
    const high = decimalIn(window.high, 'Pa').toNumber();
    // Near an end and not on it: noise would step over it.
    const share = { low: 0.15, middle: 0.5, high: 0.85 }[move.aim];
    return { act: move.act, to: low + share * (high - low) };
  });
}

/**
 * The rig actions alone that carry out a step, for the practice rig's one-press hand.
 * @example handAt('suit.inflation', 'nothing') // []
 */
export function handAt(procedure: Id, step: Id, window?: { readonly low: Quantity; readonly high: Quantity }): readonly RigAction[] {
  return movesAt(procedure, step, window).filter((m): m is RigAction => 'act' in m);
}
