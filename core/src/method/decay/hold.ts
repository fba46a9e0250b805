import { figureOf, strict, type Channel, type DecayMethod, type Plan, type Stage, type Reason } from '../../procedure';
import { readingAt, readingsOn } from '../evidence/readings';
import type { Attempted } from '../evidence/attempted';
import type { Reading } from '../evidence/reading';
import type { StageRecord } from '../evidence/record';
import { lastStepAt, markAt, milliseconds, START, stepsUnmet, windowUnmet } from '../evidence/steps';

/** An end reading this much later than the minute is called late: a tenth of the hold, at least two seconds. Common practice. */
const LATE_SHARE = 0.1;
const LATE_LEAST_MS = 2000;

/** The hold's place on the run's clock. */
export interface HoldTimes {
  /** When the start was read. */
  readonly startAt: number;
  /** When the clock began to run: the same, or a step before it. */
  readonly clockAt: number;
  /** When the hold is over. */
  readonly until: number;
}

/**
 * Where the hold stands, or null when it has not started.
 * @example ((r) => holdTimes(r.plan, r.stage, r.stage.method, { ...r.record, marks: [] }))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function holdTimes(plan: Plan, stage: Stage, method: DecayMethod, record: StageRecord): HoldTimes | null {
  const startAt = markAt(record, START);
  if (startAt === undefined) return null;
  const from = plan.ruleSet.holdFrom?.[stage.id];
  const clockAt = from === undefined ? startAt : markAt(record, from);
  if (clockAt === undefined) return null;
  return { startAt, clockAt, until: clockAt + milliseconds(figureOf(plan, method.hold)) };
}

/** The two readings that a loss is taken from. */
export interface HoldReadings {
  readonly start: Reading;
  readonly end: Reading;
  readonly times: HoldTimes;
  /** The hold was broken off before its time. */
  readonly early: boolean;
  readonly late: boolean;
}

/**
 * The first reading at or after the end of the hold, or null while there is none.
 * @example endReading(exampleOf('suit.inflation', 'inflate').record, 'suit', 1e12) // undefined
 */
export function endReading(record: StageRecord, channel: Channel, until: number): Reading | undefined {
  return readingsOn(record, channel).firstFrom(until);
}

/**
 * Why the start may not be read now: a step undone, or a judged channel outside the window.
 * @example ((r) => startUnmet({ ...r.at, record: { ...r.record, marks: [] } }, 0)?.code)(exampleOf('suit.inflation', 'inflate')) // 'stepSkipped'
 */
export function startUnmet(attempted: Attempted<DecayMethod>, at: number): Reason | null {
  const { plan, stage, method, record } = attempted;
  const skipped = stepsUnmet(attempted, at);
  if (skipped) return skipped;
  for (const channel of judgedChannels(plan, stage, method)) {
    const unmet = windowUnmet('startOutside', record, channel, figureOf(plan, method.start.low), figureOf(plan, method.start.high), at);
    if (unmet) return unmet;
  }
  // Where the rules are strict, a start is read after the last step: what stood there before it was let down is no start.
  const done = strict(plan) ? lastStepAt(stage, record) : Number.NEGATIVE_INFINITY;
  const unread = method.channels.find((c) => (readingAt(record, c, at)?.at ?? Number.NEGATIVE_INFINITY) < Math.max(done, Number.MIN_SAFE_INTEGER));
  return unread === undefined ? null : { code: 'noReading', values: { channel: unread } };
}

/**
 * The channels that a limit of this stage looks at; the others are recorded.
 * @example ((r) => judgedChannels(r.plan, r.stage, r.stage.method))(exampleOf('suit.inflation', 'inflate')) // ['suit']
 */
export function judgedChannels(plan: Plan, stage: Stage, method: DecayMethod): readonly Channel[] {
  const limits = plan.limits.filter((l) => l.stage === stage.id);
  return method.channels.filter((c) => limits.some((l) => l.channel === undefined || l.channel === c));
}

/**
 * The start and end readings of one channel's hold, or why there are none.
 * @example ((r) => Object.keys(holdReadings(r.plan, r.stage, r.stage.method, r.record, 'suit')))(exampleOf('suit.inflation', 'inflate')) // ['start', 'end', 'times', 'early', 'late']
 */
export function holdReadings(plan: Plan, stage: Stage, method: DecayMethod, record: StageRecord, channel: Channel): HoldReadings | Reason {
  const times = holdTimes(plan, stage, method, record);
  if (!times) return { code: record.endedAt === null ? 'unfinished' : 'holdShort', values: {} };
  const start = readingAt(record, channel, times.startAt);
  if (!start) return { code: 'noReading', values: { channel } };
  const over = endReading(record, channel, times.until);
  const last = readingsOn(record, channel).at(-1);
  const end = over ?? (last && last.at > times.startAt ? last : undefined);
  if (!end) return { code: record.endedAt === null ? 'unfinished' : 'noReading', values: { channel } };
  const typed = start.typed || end.typed;
  const gap = typed ? record.gaps.find((g) => g.at > times.startAt && g.at <= end.at) : undefined;
  if (gap) return { code: 'clockGap', values: { lost: { value: gap.lostMs / 1000, unit: 's' } } };
  const allowed = Math.max(LATE_LEAST_MS, LATE_SHARE * (times.until - times.clockAt));
  return { start, end, times, early: over === undefined, late: end.at - times.until > allowed };
}
