import { leastSquares } from '../fit';
import { findingOf, lacking, type Finding } from './verdict/finding';
import { figureOf, strict, type Channel, type ElapsedMethod, type Reason } from '../procedure';
import { decimal, decimalIn, significant, type Quantity } from '../quantity';
import { isReason, usableInstrument, type Attempted } from './evidence/attempted';
import { crossing, readingsBetween, span, uReading, valueIn, type CrossingTime } from './evidence/readings';
import { whenever } from './verdict/whenever';
import { markAt, stepsUnmet } from './evidence/steps';
import type { Task } from './evidence/task';
import { judgeValue, limitsOn } from './verdict/value';

/** The edition of this method. */
export const ELAPSED_EDITION = 'elapsed/1';

/** The mark that the second figure has been passed. */
export const PASSED = 'passed';

type At = Attempted<ElapsedMethod>;

interface Both {
  readonly from: Through;
  readonly to: Through;
}

/**
 * The crossings seen so far; the second only after the first.
 * @example crossingsSoFar(exampleOf('brakes.whole', 'build-up').at).low !== null // true
 */
export function crossingsSoFar(at: At): { readonly [K in keyof Both]: Through | null } {
  const { from, to } = throughOn(at, at.method.channel);
  if (at.method.second === undefined) return { from, to };
  const other = throughOn(at, at.method.second);
  return { from: later(from, other.from), to: later(to, other.to) };
}

/** Where two gauges are watched it has come there when both have. */
const later = (a: Through | null, b: Through | null): Through | null => (a && b ? (a.at >= b.at ? a : b) : null);

function throughOn(at: At, channel: Channel): { readonly [K in keyof Both]: Through | null } {
  const { plan, stage, method, record } = at;
  const first = figureOf(plan, method.from);
  const second = figureOf(plan, method.to);
  const unit = first.unit;
  const rising = decimalIn(second, unit).gt(first.value);
  const last = stage.steps.at(-1);
  const begin = (last && markAt(record, last.id)) ?? record.beganAt;
  const from = crossing(record, channel, first.value, unit, rising, begin);
  // A first reading that is beyond the first figure already did not see it crossed; one on the figure itself did.
  const onIt = strict(plan) && from !== null && readingsBetween(record, channel, from.at, from.at).find((r) => valueIn(r, unit) === first.value) !== undefined;
  if (!from || (from.apart === 0 && !onIt)) return { from: null, to: null };
  const value = decimalIn(second, unit).toNumber();
  const to = crossing(record, channel, value, unit, rising, from.at);
  return { from: through(at, channel, from, first.value, unit), to: to && through(at, channel, to, value, unit) };
}

/** A moment that a thumb catches: a gauge goes through a figure. */
export interface Tap {
  readonly channel: Channel;
  readonly quantity: Quantity;
}

/**
 * The figures that are caught next by a thumb, one for each gauge that is watched: where the clock starts, and once it went through that, where it stops. Two numbers
 * are never typed in a hurry.
 * @example tapsOf(exampleOf('brakes.whole', 'build-up').at) // []: both were passed
 */
export function tapsOf(at: At): readonly Tap[] {
  const { plan, method } = at;
  return [method.channel, method.second].flatMap((channel): readonly Tap[] => {
    if (channel === undefined) return [];
    const { from, to } = throughOn(at, channel);
    const figure = from ? (to ? null : method.to) : method.from;
    return figure === null ? [] : [{ channel, quantity: figureOf(plan, figure) }];
  });
}

function crossings(at: At): Both | null {
  const { from, to } = crossingsSoFar(at);
  return from && to ? { from, to } : null;
}

/**
 * @example elapsedTask(exampleOf('brakes.whole', 'build-up').at).kind // 'end'
 */
export function elapsedTask(at: At): Task {
  const { plan, method, record } = at;
  if (markAt(record, PASSED) !== undefined) return { kind: 'end' };
  const to = figureOf(plan, method.to);
  return {
    kind: 'mark',
    mark: PASSED,
    on: method.second === undefined ? [method.channel] : [method.channel, method.second],
    text: `Watch it from ${figureOf(plan, method.from).value} to ${to.value}; say when it has passed`,
    unmet: (when) => stepsUnmet(at, when) ?? (crossings(at) ? null : { code: 'notCrossed', values: { from: figureOf(plan, method.from), to } }),
  };
}

/** What streams is looked at this far to each side of a crossing: two neighbours alone say more of their noise than of where it went through. */
const AROUND_MS = 5000;
/** Fewer samples than this have no line through them. */
const LEAST_AROUND = 6;

/** A line through readings: where it stands at the crossing, and how it goes on. */
const straight = { value: (x: number, [a = 0, b = 0]: readonly number[]) => a + b * x, slopes: (x: number) => [1, x] };

/** A crossing with what is known of it from the samples around it. */
interface Through extends CrossingTime {
  /** The gauge that it was read on. */
  readonly channel: Channel;
  /** Standard deviation of its time by the scatter of the samples, s; null where too few were streamed to say. */
  readonly scattered: number | null;
}

/**
 * Where a streamed pressure went through a value: by the line through the samples around it, as far as they reach. A crossing that was typed, or that too few
 * samples stand around, is left as it is.
 */
function through(at: At, channel: Channel, cross: CrossingTime, value: number, unit: string): Through {
  const as = { ...cross, channel, scattered: null };
  if (!strict(at.plan) || cross.typed || cross.earliest < cross.latest) return as;
  const around = readingsBetween(at.record, channel, cross.at - AROUND_MS, cross.at + AROUND_MS);
  const points = around.filter((r) => !r.typed).map((r) => [(r.at - cross.at) / 1000, valueIn(r, unit)] as const);
  if (points.length < LEAST_AROUND) return as;
  const line = leastSquares(points.map(([t]) => t), points.map(([, p]) => p), straight, [0, 0]); // prettier-ignore
  const [stands = value, slope = 0] = line?.parameters ?? [];
  const off = (value - stands) / slope;
  // A line that does not go the way of the crossing, or goes through far from it, is none of it.
  if (!(slope * cross.slope > 0) || Math.abs(off) * 1000 > AROUND_MS) return as;
  const mean = points.reduce((sum, [t]) => sum + t, 0) / points.length;
  const spread = points.reduce((sum, [t]) => sum + (t - mean) ** 2, 0);
  const left = points.reduce((sum, [t, p]) => sum + (p - stands - slope * t) ** 2, 0);
  const deviation = Math.sqrt(left / (points.length - 2));
  const scattered = (deviation / Math.abs(slope)) * Math.sqrt(1 / points.length + (off - mean) ** 2 / spread);
  const time = cross.at + off * 1000;
  return { ...cross, channel, at: time, earliest: time, latest: time, slope: slope / 1000, scattered };
}

/** Standard uncertainty of one crossing, s. An error that the gauge has at both crossings moves neither against the other. */
function uCrossing(at: At, cross: Through, unit: string): number {
  const instrument = at.instruments[cross.channel];
  const slope = Math.abs(cross.slope) * 1000;
  const typed = cross.typed ? cross.apart / 1000 / Math.sqrt(12) : 0;
  if (!instrument || slope === 0) return typed;
  if (cross.scattered === null) return Math.hypot(uReading(instrument, unit) / slope, typed);
  const own = (span(instrument.accuracy, unit) / Math.sqrt(3)) * Math.sqrt(1 - instrument.correlation);
  return Math.hypot(own / slope, cross.scattered);
}

/**
 * Judges how long a pressure takes from one figure to another, straight between the readings around each crossing. The engine speed is noted where it is read.
 * Source: the rule set's own.
 * @example 85 psi crossed at 12.0 s, 100 psi at 36.5 s, limit ≤ 45 s: 24.5 s, pass, 54 %
 */
export function judgeElapsed(at: At): readonly Finding[] {
  const { plan, stage, method, record } = at;
  const { channel } = method;
  const found = (verdict: Finding['verdict'], reason: Reason): readonly Finding[] => [findingOf(at, ELAPSED_EDITION, channel, verdict, [reason])];
  const instrument = usableInstrument(at, channel);
  if (isReason(instrument)) return found('void', instrument);
  const other = method.second === undefined ? instrument : usableInstrument(at, method.second);
  if (isReason(other)) return found('void', other);
  const unmet = record.endedAt === null ? null : stepsUnmet(at, markAt(record, PASSED) ?? record.endedAt);
  if (unmet) return found('void', unmet);
  const both = crossings(at);
  const first = figureOf(plan, method.from);
  const to = figureOf(plan, method.to);
  if (!both) {
    const { verdict, reason } = lacking(record, { code: 'notCrossed', values: { from: first, to } });
    return found(verdict, reason);
  }
  const gap = both.to.typed ? record.gaps.find((g) => g.at > both.from.at && g.at <= both.to.at) : undefined;
  if (gap) return found('void', { code: 'clockGap', values: { lost: { value: gap.lostMs / 1000, unit: 's' } } });
  const seconds = Number(((both.to.at - both.from.at) / 1000).toPrecision(12));
  const speeds = method.speed === undefined ? [] : [...readingsBetween(record, method.speed, both.from.at, both.to.at)];
  const [noticed] = speeds;
  const mean = speeds.reduce((a, r) => a + r.value, 0) / Math.max(1, speeds.length);
  const noted: readonly Reason[] = noticed ? [{ code: 'engineSpeed', values: { speed: { value: Math.round(mean), unit: noticed.unit } } }] : [];
  const u = Math.hypot(uCrossing(at, both.from, first.unit), uCrossing(at, both.to, first.unit));
  return limitsOn(plan, stage.id, channel).map((limit) => {
    const judged = (took: number): Finding =>
      judgeValue(at, ELAPSED_EDITION, channel, limit, {
        observed: significant(decimal(took)),
        unit: 's',
        u,
        best: null,
        fitted: instrument.fitted,
        correlation: instrument.correlation,
        reasons: [{ code: 'elapsed', values: { from: first, to, observed: { value: took, unit: 's' }, limit: limit.resolved } }, ...noted],
        evidence: [],
      });
    const shortest = Math.max(0, (both.to.earliest - both.from.latest) / 1000);
    const longest = (both.to.latest - both.from.earliest) / 1000;
    return strict(plan) ? whenever(judged(seconds), shortest, longest, judged) : judged(seconds);
  });
}
