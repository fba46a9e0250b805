import { STANDARD_ATMOSPHERE_PA } from '../../physics';
import { attributeOf, figureOf, strict, type Channel, type Id, type Plan, type Stage, type Step, type Reason } from '../../procedure';
import { decimalIn, type Quantity } from '../../quantity';
import type { Attempted } from './attempted';
import { readingAt, readingsOn, valueIn } from './readings';
import type { Reading } from './reading';
import type { StageRecord } from './record';
import { leftShown, shownUnmet } from './shown';

/** The mark that starts a hold: the start is read at this moment. */
export const START = 'start';

/**
 * @example milliseconds({ value: 6, unit: 'min' }) // 360000
 */
export function milliseconds(q: Quantity): number {
  return decimalIn(q, 'ms').toNumber();
}

/**
 * @example markAt(exampleOf('suit.inflation', 'inflate').record, 'nothing') // undefined
 */
export function markAt(record: StageRecord, mark: Id): number | undefined {
  return record.marks.find((m) => m.mark === mark)?.at;
}

/**
 * When the last step of a stage was done, apart from one that brings a pressure into its window: what proves that is read before it is marked, and may be the
 * start as well. Before everything where there is none.
 * @example ((r) => lastStepAt({ ...r.stage, steps: [] }, r.record))(exampleOf('suit.inflation', 'inflate')) // -Infinity
 */
export function lastStepAt(stage: Stage, record: StageRecord): number {
  return Math.max(Number.NEGATIVE_INFINITY, ...stage.steps.filter((s) => s.kind !== 'reach').map((s) => markAt(record, s.id) ?? Number.NEGATIVE_INFINITY));
}

/**
 * Where a step's waiting began: when the step before it was done, or the attempt began.
 * @example ((r) => waitingSince(r.stage, r.stage.steps[0], r.record) === r.attempt.beganAt)(exampleOf('suit.inflation', 'inflate')) // true
 */
export function waitingSince(stage: Stage, step: Step, record: StageRecord): number {
  const before = stage.steps[stage.steps.indexOf(step) - 1];
  return (before && markAt(record, before.id)) ?? record.beganAt;
}

/** A gauge that is read by eye shows what went on between two readings no further apart than this share of the wait, and than a minute. Common practice. */
const WATCHED_SHARE = 0.25;

type Wait = Extract<Step, { kind: 'wait' }>;
type Kept = NonNullable<Wait['keep']>;

/** How a settling went: since when its channel has stood in its window without a break, how often it left it, and where it stood when it did last. */
interface Settled {
  readonly since: number;
  readonly left: number;
  readonly outside: Reading | null;
}

/** Readings of a settling up to a moment, looked through for where its window was left. */
function settled(plan: Plan, stage: Stage, step: Wait, keep: Kept, record: StageRecord, at: number): Settled {
  const from = waitingSince(stage, step, record);
  const [low, high] = [figureOf(plan, keep.low), figureOf(plan, keep.high)];
  const most = Math.max(60_000, WATCHED_SHARE * milliseconds(figureOf(plan, step.s)));
  // Compared as plain numbers in the gauge's own unit, worked out once: a settling of ten minutes is looked through at every reading.
  const ends = new Map<string, readonly [number, number]>();
  const isOut = (r: Reading): boolean => {
    const [least, most] = ends.get(r.unit) ?? [decimalIn(low, r.unit).toNumber(), decimalIn(high, r.unit).toNumber()];
    ends.set(r.unit, [least, most]);
    return r.value < least || r.value > most;
  };
  let since = from;
  let left = 0;
  let inside = true;
  let seen = from;
  let last: Reading | null = null;
  for (const r of readingsOn(record, keep.channel).between(from, at)) {
    // What nobody watched did not settle: the clock begins anew with the reading that ends the gap.
    if (r.typed && r.at - seen > most) since = r.at;
    seen = r.at;
    const out = isOut(r);
    if (out && inside) left += 1;
    if (out) last = r;
    if (!out && !inside) since = r.at;
    inside = !out;
  }
  if (at - seen > most) since = at;
  return { since: inside ? since : at, left, outside: inside ? null : last };
}

/** How the waiting of a step stands: since when it counts, and why it does not count now. */
export interface Waiting {
  readonly since: number;
  /** Where its pressure stands that has left its window. */
  readonly strayed: Reason | null;
  /** It left its window more often than the rule lets it be brought back. */
  readonly spoilt: Reason | null;
}

/**
 * How the waiting of a step stands at a moment: from its beginning, or from when its window was reached again after it had been left.
 * @example ((r) => waiting(r.plan, r.stage, { id: 'x', kind: 'act', text: 'Do it' }, r.record, 0).since === r.attempt.beganAt)(exampleOf('suit.inflation', 'inflate')) // true
 */
export function waiting(plan: Plan, stage: Stage, step: Step, record: StageRecord, at: number): Waiting {
  if (step.kind !== 'wait' || !step.keep) return { since: waitingSince(stage, step, record), strayed: null, spoilt: null };
  const { keep } = step;
  const { since, left, outside: out } = settled(plan, stage, step, keep, record, at);
  const [low, high] = [figureOf(plan, keep.low), figureOf(plan, keep.high)];
  return {
    since,
    strayed: out && { code: 'leftWindow', values: { value: { value: out.value, unit: out.unit }, low, high } },
    spoilt: left > keep.topUps ? { code: 'keptLeaving', values: { times: String(left), most: String(keep.topUps) } } : null,
  };
}

function waitUnmet(plan: Plan, stage: Stage, step: Wait, record: StageRecord, at: number): Reason | null {
  const wanted = figureOf(plan, step.s);
  const { since, strayed, spoilt } = waiting(plan, stage, step, record, at);
  const waited = at - since;
  return spoilt ?? strayed ?? (waited < milliseconds(wanted) ? { code: 'waitShort', values: { waited: { value: waited / 1000, unit: 's' }, wanted } } : null);
}

function outside(reading: Reading, low: Quantity, high: Quantity): boolean {
  return valueIn(reading, low.unit) < low.value || valueIn(reading, high.unit) > high.value;
}

/**
 * Why a channel does not stand in a window at a moment; null when it does.
 * @example windowUnmet('notReached', exampleOf('suit.inflation', 'inflate').record, 'nothing', { value: 1, unit: 'mbar' }, { value: 2, unit: 'mbar' }, 0)?.code // 'noReading'
 */
export function windowUnmet(
  code: 'notReached' | 'startOutside',
  record: StageRecord,
  channel: Channel,
  low: Quantity,
  high: Quantity,
  at: number,
): Reason | null {
  const reading = readingAt(record, channel, at);
  if (!reading) return { code: 'noReading', values: { channel } };
  return outside(reading, low, high) ? { code, values: { value: { value: reading.value, unit: reading.unit }, low, high } } : null;
}

/** An ullage is read off a gauge, and no tank is a right cylinder: only what is filled in less than half of the time is something else. Common practice. */
const SURELY_TOO_FAST = 0.5;
/** A filling begins with no more than this share of what it reaches. Common practice. */
const NEAR_NOTHING = 0.1;

/** Why what stands in its window cannot be the item: nothing brings so much gas into it in so short a time. */
function filledUnmet(plan: Plan, stage: Stage, step: Extract<Step, { kind: 'reach' }>, record: StageRecord, at: number): Reason | null {
  const volume = step.fills && attributeOf(plan.assets, step.fills.volume);
  if (!step.fills || typeof volume !== 'object') return null;
  const low = figureOf(plan, step.low);
  const since = waitingSince(stage, step, record);
  const readings = readingsOn(record, step.channel).between(since, at);
  const seen = readings.map((r) => valueIn(r, low.unit));
  // Where nobody read it before it stood there, it began with nothing.
  const from = seen.length > 1 ? Math.min(...seen.slice(0, -1)) : 0;
  // What stood there already when it began was not filled now: it may be what was proved before, and nothing else.
  if (from > NEAR_NOTHING * low.value) return { code: 'heldBefore', values: { stood: { value: from, unit: low.unit } } };
  const rise = low.value - from;
  const cubicMetres = (decimalIn({ value: rise, unit: low.unit }, 'Pa').toNumber() / STANDARD_ATMOSPHERE_PA) * decimalIn(volume, 'm3').toNumber();
  const most = figureOf(plan, step.fills.most);
  const wholeS = (SURELY_TOO_FAST * cubicMetres) / (decimalIn(most, 'L/min').toNumber() / 60_000);
  // Where it was watched, the rise itself is timed, from a tenth of it to nine: waiting before it or after it is no filling.
  const up = seen.findIndex((v) => v >= from + 0.9 * rise);
  const down = seen.findLastIndex((v, k) => k < up && v <= from + 0.1 * rise);
  const [first, last] = [readings.at(down), readings.at(up)];
  const watched = down >= 0 && up > 0 && first && last && !first.typed && !last.typed;
  const tookS = watched ? (last.at - first.at) / 1000 : (at - since) / 1000;
  const leastS = watched ? 0.8 * wholeS : wholeS;
  return tookS < leastS ? { code: 'filledTooFast', values: { took: { value: tookS, unit: 's' }, least: { value: Math.ceil(leastS), unit: 's' }, most } } : null;
}

/**
 * Why a step may not be called done at a moment; null when it may. `may` asks this before a mark is written and the methods ask it again
 * of the history, so that a file that nobody asked about is judged by the same rule.
 * @param when ms on the run's clock
 * @example ((r) => stepUnmet(r.at, { id: 'x', kind: 'act', text: 'Do it' }, 0))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function stepUnmet(at: Attempted, step: Step, when: number): Reason | null {
  const { plan, stage, record } = at;
  if (step.kind === 'act') return strict(plan) ? shownUnmet(at, step, when) : null;
  if (step.kind === 'reach')
    return (
      windowUnmet('notReached', record, step.channel, figureOf(plan, step.low), figureOf(plan, step.high), when) ?? filledUnmet(plan, stage, step, record, when)
    );
  return waitUnmet(plan, stage, step, record, when) ?? (strict(plan) ? shownUnmet(at, step, when) : null);
}

/**
 * What did not stay as a step had brought it until a moment: an engine that was stopped for a hold, and ran again in it. Null where all of it did.
 * @param until ms on the run's clock
 * @example ((r) => stayUnmet(r.at, r.attempt.endedAt))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function stayUnmet(at: Attempted, until: number): Reason | null {
  for (const step of at.stage.steps) {
    const done = step.kind === 'act' && step.stays ? markAt(at.record, step.id) : undefined;
    const left = done === undefined || step.kind !== 'act' ? null : leftShown(at, step, done, until);
    if (left) return left;
  }
  return null;
}

/**
 * Why the steps of a stage are not all done by the rule, or what they brought about did not stay until a moment; null when they are, and it did.
 * @param until ms on the run's clock
 * @example ((r) => stepsUnmet(r.at, r.attempt.endedAt))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function stepsUnmet(at: Attempted, until: number): Reason | null {
  for (const step of at.stage.steps) {
    const done = markAt(at.record, step.id);
    if (done === undefined) return { code: 'stepSkipped', values: { step: step.text } };
    const unmet = stepUnmet(at, step, done);
    if (unmet) return unmet;
  }
  return stayUnmet(at, until);
}
