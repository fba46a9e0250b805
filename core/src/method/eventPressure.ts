import { findingOf, lacking, type Finding } from './verdict/finding';
import { figureOf, keeps, strict, type Channel, type EventPressureMethod, type ResolvedLimit, type Reason } from '../procedure';
import { decimal, decimalIn, significant, type Quantity } from '../quantity';
import { isReason, usableInstrument, type Attempted } from './evidence/attempted';
import type { Reading } from './evidence/reading';
import { readingAtEvent, readingsBetween, readingsOn, span, STALE_MS, uReading, valueIn } from './evidence/readings';
import { markAt, milliseconds, stepsUnmet } from './evidence/steps';
import type { Task } from './evidence/task';
import { judgeValue, limitsOn } from './verdict/value';

/** The edition of this method. */
export const EVENT_PRESSURE_EDITION = 'eventPressure/1';

/** Standard uncertainty of a hand on a button, s. Common practice. */
const REACTION_S = 0.2;

const quantityOf = ({ value, unit }: Reading): Quantity => ({ value, unit });

type At = Attempted<EventPressureMethod>;

/**
 * @example eventPressureTask(exampleOf('ba.user-check', 'contents').at).kind // 'end'
 */
export function eventPressureTask(at: At): Task {
  const { method, record } = at;
  const when = markAt(record, method.mark);
  if (when === undefined)
    return {
      kind: 'mark',
      mark: method.mark,
      text: method.text,
      on: method.channels,
      unmet: (now) => eventUnmet(at, now),
    };
  const unread = method.channels.find((c) => at.instruments[c] && !readingFor(at, c, when));
  return unread === undefined ? { kind: 'end' } : { kind: 'read', channel: unread };
}

/** When the watching began: when the last step was done, or the attempt began. */
function watchedFrom(at: At): number {
  const last = at.stage.steps.at(-1);
  return (last && markAt(at.record, last.id)) ?? at.record.beganAt;
}

/** The reading that counts: at the mark, or the extreme up to it. */
function readingFor(at: At, channel: Channel, when: number): Reading | undefined {
  const { take } = at.method;
  if (take === undefined) return readingAtEvent(at.record, channel, when);
  // What was typed stands for the event within a minute of it: what the needle showed long before is nothing of it.
  const typedThen = (r: Reading): boolean => !strict(at.plan) || Math.abs(r.at - when) <= STALE_MS;
  const seen = readingsOn(at.record, channel).filter((r) => r.at >= watchedFrom(at) && (r.typed ? typedThen(r) : r.at <= when));
  const further = (a: Reading, b: Reading): boolean => decimalIn(a, b.unit).cmp(b.value) === (take === 'highest' ? 1 : -1);
  return seen.reduce<Reading | undefined>((best, r) => (!best || further(r, best) ? r : best), undefined);
}

/** What is caught before it turns has turned once it is back by this share of the furthest. Common practice. */
const TURNED_SHARE = 0.05;

/**
 * Why something that is caught before it turns has not been caught: the needle has not gone to the side where it is looked for, or has not come back from there. A
 * gauge that is read by eye shows the furthest alone.
 */
function turnUnmet(at: At, when: number): Reason | null {
  const { method, plan } = at;
  // What has to stand still is seen to by its standing.
  if (!strict(plan) || method.take === undefined || method.stands !== undefined) return null;
  const side = method.take === 'highest' ? 1 : -1;
  for (const channel of method.channels) {
    const furthest = readingFor(at, channel, when);
    if (!furthest) continue;
    const now = readingsOn(at.record, channel).lastUpTo(when);
    const back = now === undefined ? 0 : Math.abs(furthest.value - valueIn(now, furthest.unit));
    const by = method.by === undefined ? TURNED_SHARE * Math.abs(furthest.value) : span(figureOf(plan, method.by), furthest.unit);
    // Whoever reads by eye reads the furthest of what springs back, and both of what turns slowly.
    const turned = (furthest.typed && method.by === undefined) || back >= by;
    const wrongSide = method.by === undefined && furthest.value * side <= 0;
    if (wrongSide || !turned) return { code: 'notTurned', values: { event: method.text, value: { value: furthest.value, unit: furthest.unit } } };
  }
  return null;
}

/** Why what is to stand still does not stand by a moment: it moved too far over the time that it has to, or nobody read it so long. */
function stillUnmet(at: At, when: number): Reason | null {
  const { method, plan, record } = at;
  if (method.stands === undefined) return null;
  const over = figureOf(plan, method.stands.s);
  const within = figureOf(plan, method.stands.within);
  const from = when - milliseconds(over);
  for (const channel of method.channels.filter((c) => at.instruments[c])) {
    const first = readingsOn(record, channel).lastUpTo(from);
    const last = readingsOn(record, channel).lastUpTo(when);
    const fresh = first && last && first !== last && from - first.at <= STALE_MS && first.at >= watchedFrom(at);
    if (!fresh) return { code: 'stillUnread', values: { event: method.text, over } };
    const seen = readingsBetween(record, channel, first.at, when).map((r) => valueIn(r, within.unit));
    const moved = Math.max(...seen) - Math.min(...seen);
    if (moved > within.value)
      return { code: 'notStill', values: { event: method.text, moved: { value: Number(moved.toPrecision(3)), unit: within.unit }, within, over } };
  }
  return null;
}

/** Why two events cannot have been where they were read: the governor stops the compressor above where it lets it load again. */
function apartUnmet(at: At, when: number): Reason | null {
  const { method, record } = at;
  for (const [wanted, mark, side] of [
    ['above', method.above, 1],
    ['below', method.below, -1],
  ] as const) {
    const then = mark === undefined ? undefined : record.earlier[mark];
    for (const channel of then === undefined ? [] : method.channels) {
      const value = readingFor(at, channel, when);
      const other = readingAtEvent({ ...record, readings: record.sinceOpened }, channel, then ?? 0);
      if (value && other && decimalIn(value, other.unit).cmp(other.value) !== side)
        return { code: 'notApart', values: { event: method.text, value: quantityOf(value), other: quantityOf(other), wanted } };
    }
  }
  return null;
}

/** Why something may not be said to have happened at a moment. */
const eventUnmet = (at: At, when: number): Reason | null => stepsUnmet(at, when) ?? turnUnmet(at, when) ?? stillUnmet(at, when) ?? apartUnmet(at, when);

/** A reading on the wrong side of a limit while the event had not come: where it would have come, it would have failed. */
function overdue(at: At, channel: Channel, limit: ResolvedLimit): Reading | undefined {
  return readingsBetween(at.record, channel, watchedFrom(at), Number.POSITIVE_INFINITY).find((r) => {
    const here = decimalIn(r, limit.resolved.unit);
    // Falling towards a least pressure, or rising towards a most: the other way round nothing is overdue.
    const first = readingsOn(at.record, channel).firstFrom(watchedFrom(at));
    const before = first && decimalIn(first, limit.resolved.unit);
    const good = before !== undefined && keeps(before, limit.op, decimal(limit.resolved.value));
    return good && !keeps(here, limit.op, decimal(limit.resolved.value));
  });
}

/** How fast a channel moved about a moment, in its reading's unit a second; zero where only one reading is known. */
function slopeAt(at: At, channel: string, when: number): number {
  const near = readingsBetween(at.record, channel, when - 2000, when + 2000);
  const [first, last] = [near.at(0), near.at(-1)];
  return first && last && last.at > first.at && first.unit === last.unit ? ((last.value - first.value) / (last.at - first.at)) * 1000 : 0;
}

/**
 * Judges what gauges stood at when something happened: a warning began, a valve opened. With a band, two limits; with two gauges, each of them.
 * Source: the rule set's own; the reaction time is common practice.
 * @example the warning starts at 62 psi, limits ≥ 55 and ≤ 75: pass, 30 % (deviation from the middle of the band)
 */
export function judgeEventPressure(at: At): readonly Finding[] {
  const { plan, stage, method, record } = at;
  const found = (channel: string | null, verdict: Finding['verdict'], reason: Reason): Finding =>
    findingOf(at, EVENT_PRESSURE_EDITION, channel, verdict, [reason]);
  const when = markAt(record, method.mark);
  if (when === undefined) {
    const late =
      record.endedAt === null
        ? []
        : method.channels.flatMap((channel) =>
            limitsOn(plan, stage.id, channel).flatMap((limit) => {
              const reading = overdue(at, channel, limit);
              return reading
                ? [
                    {
                      ...found(channel, 'fail', {
                        code: 'eventOverdue',
                        values: { event: method.text, value: { value: reading.value, unit: reading.unit }, limit: limit.resolved, op: limit.op },
                      }),
                      limit,
                      evidence: [reading.event],
                    },
                  ]
                : [];
            }),
          );
    if (late.length > 0) return late;
    const { verdict, reason } = lacking(record, { code: 'eventMissing', values: { event: method.text } });
    return [found(null, verdict, reason)];
  }
  const unmet = eventUnmet(at, when);
  if (unmet) return [found(null, 'void', unmet)];
  return method.channels.flatMap((channel): Finding[] => {
    const instrument = usableInstrument(at, channel);
    if (isReason(instrument)) return [found(channel, 'void', instrument)];
    const limits = limitsOn(plan, stage.id, channel);
    const reading = readingFor(at, channel, when);
    if (!reading) {
      const { verdict, reason } = lacking(record, { code: 'noReading', values: { channel } });
      return [found(channel, verdict, reason)];
    }
    const q = { value: reading.value, unit: reading.unit };
    if (limits.length === 0)
      return [findingOf(at, EVENT_PRESSURE_EDITION, channel, 'pass', [{ code: 'noted', values: { observed: q, event: method.text } }], [reading.event])];
    return limits.map((limit) =>
      judgeValue(at, EVENT_PRESSURE_EDITION, channel, limit, {
        observed: significant(decimal(reading.value)),
        unit: reading.unit,
        u: Math.hypot(uReading(instrument, reading.unit), slopeAt(at, channel, when) * REACTION_S),
        best: limit.of === 'pressure' ? null : 0,
        fitted: instrument.fitted,
        correlation: instrument.correlation,
        reasons: [{ code: 'event', values: { observed: q, limit: limit.resolved, op: limit.op, event: method.text } }],
        evidence: [reading.event],
      }),
    );
  });
}
