import type { RunView } from '@grellin/contract';
import {
  liftMark,
  limitInWords,
  preferred,
  readingsOf,
  showQuantity,
  shutMark,
  type Plan,
  type RunState,
  type Stage,
  type UnitChoices,
  factsOf,
} from '@grellin/core';
import type { BenchView } from './benchView';
import type { Gauge } from './gaugeView';

/** A channel that a person reads and types now, with its instrument. */
export interface TypedChannel extends Gauge {
  readonly instrument: RunView['instruments'][string] | undefined;
}

/** The channel that is asked for alone; while one thing is to be read, only its form is open. */
const askedAlone = (view: BenchView): string | null => (view.next.kind === 'read' ? view.next.channel : null);

/** A lift that is read by eye has two readings: where it opened, and after that where it shut. The field says which it wants. */
function wantedOf({ stage, next }: BenchView, run: RunState, { title, channel }: Gauge): string {
  if (stage?.method.kind !== 'relief' || next.kind !== 'act') return title;
  const lift = Array.from({ length: stage.method.repeats }, (_, k) => k + 1).find((k) => shutMark(k) === next.step.id);
  const began = lift === undefined ? undefined : run.attempts[stage.id]?.at(-1)?.marks.find((m) => m.mark === liftMark(lift))?.at;
  if (began === undefined) return title;
  const read = readingsOf(run, channel).between(began, Number.POSITIVE_INFINITY).length;
  return read === 0 ? $localize`${title}:gauge:, where it opened` : $localize`${title}:gauge:, where it shut`;
}

/** The channels whose readings are typed. */
export function typedChannelsOf(view: BenchView, instruments: RunView['instruments'], run: RunState): readonly TypedChannel[] {
  const alone = askedAlone(view);
  return view.gauges
    .map((g) => ({ ...g, title: wantedOf(view, run, g), instrument: instruments[g.channel] }))
    .filter((g) => g.instrument?.streams === false && (alone ?? g.channel) === g.channel);
}

/** Channels that a logger's file could fill, each from after its newest reading on. */
export function droppableOf(view: BenchView, run: RunState, typed: readonly TypedChannel[]) {
  if (view.stage && factsOf(view.stage.method).oneAtATime) return [];
  return typed.map((g) => ({
    channel: g.channel,
    title: g.title,
    unit: g.instrument?.low.unit ?? '1',
    after: readingsOf(run, g.channel).at(-1)?.at ?? -1,
  }));
}

/** What is known of each gauge: which it is, how exact, and to when it is calibrated. */
export function gaugeFactsOf(view: BenchView, run: RunState): readonly { readonly title: string; readonly fact: string }[] {
  return view.gauges.map((g) => {
    const i = run.opened?.instruments[g.channel];
    return { title: g.title, fact: i ? `${i.id} ±${showQuantity(i.accuracy)}, ${i.fitted ? 'fitted' : `to ${i.calibrationDue ?? 'no date'}`}` : '' };
  });
}

/** The limits that the stage is judged by, in the units of their source and in those that the person reads in. */
export function limitFactsOf(plan: Plan, stage: Stage, view: BenchView, choices: UnitChoices): readonly string[] {
  const alone = askedAlone(view);
  return plan.limits
    .filter((l) => l.stage === stage.id && (alone === null || (l.channel ?? alone) === alone))
    .map((l) => {
      const liked = preferred(l.resolved, choices, Math.abs(l.resolved.value) / 1000 || 1);
      return liked ? `${limitInWords(l)}, that is ${showQuantity(liked)}` : limitInWords(l);
    });
}
