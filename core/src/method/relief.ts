import { findingOf, lacking, type Finding } from './verdict/finding';
import { findLifts } from '../fit';
import { figureOf, strict, type Id, type ReliefMethod, type Reason } from '../procedure';
import { decimal, decimalIn, significant, type Quantity } from '../quantity';
import { isReason, usableInstrument, type Attempted } from './evidence/attempted';
import type { ReadingList } from './evidence/readingList';
import { readingsBetween, uReading, valueIn } from './evidence/readings';
import { markAt, stepsUnmet } from './evidence/steps';
import type { Task } from './evidence/task';
import { judgeValue, limitsOn } from './verdict/value';

/** The edition of this method. */
export const RELIEF_EDITION = 'relief/1';

type At = Attempted<ReliefMethod>;

/** Fewer samples a second than this are no trace: a crack must then be typed as it was read. */
const SLOWEST_MS = 50;
/** A trace noisier than this share of the set pressure, or one that rises faster, is warned about. Engineering choice. */
const NOISY_SHARE = 0.002;
const FAST_SHARE_PER_S = 0.03;

/** No spring shuts a valve closer than this to where it opened: two readings so near were both taken after it. Common practice. */
const LEAST_BLOWDOWN = 0.01;

export const liftMark = (k: number): Id => `lift-${k}`;
export const shutMark = (k: number): Id => `shut-${k}`;

/** What one lift showed, in the unit of the channel's readings. */
interface OneLift {
  readonly crack: number;
  readonly reseat: number | null;
  readonly unit: string;
  /** Standard uncertainty of where the trace breaks, besides the gauge's. */
  readonly spread: number;
  readonly count: number;
  readonly evidence: readonly Id[];
  readonly warnings: readonly Reason[];
}

function evenTrace(readings: ReadingList): { readonly trace: Float64Array; readonly fs: number } | null {
  const sampled = readings.filter((r) => !r.typed);
  const [first, last] = [sampled[0], sampled.at(-1)];
  if (!first || !last || sampled.length < 40) return null;
  const everyMs = (last.at - first.at) / (sampled.length - 1);
  if (everyMs > SLOWEST_MS) return null;
  return { trace: Float64Array.from(sampled, (r) => r.value), fs: 1000 / everyMs };
}

function liftOf(at: At, k: number): OneLift | Reason {
  const { record, method, plan } = at;
  const from = markAt(record, liftMark(k));
  const to = markAt(record, shutMark(k));
  if (from === undefined || to === undefined) return { code: 'liftMissing', values: { lift: String(k) } };
  const readings = readingsBetween(record, method.channel, from, to);
  const unit = readings.at(0)?.unit ?? '';
  const even = evenTrace(readings);
  if (!even) {
    const typed = readings.filter((r) => r.typed);
    const [crack, reseat] = typed;
    // A person reads a needle: first where it cracked, then where it shut.
    const own = strict(plan) ? (crack?.unit ?? unit) : unit;
    const shut = reseat ? valueIn(reseat, own) : null;
    // One reading alone could be either of the two.
    if (strict(plan) && crack && shut === null) return { code: 'reseatMissing', values: { lift: String(k) } };
    if (strict(plan) && crack && shut !== null && shut > crack.value * (1 - LEAST_BLOWDOWN))
      return { code: 'reseatAbove', values: { lift: String(k), crack: { value: crack.value, unit: own }, reseat: { value: shut, unit: own } } };
    return crack
      ? {
          crack: crack.value,
          reseat: shut,
          unit: own,
          spread: 0,
          count: 1,
          evidence: typed.slice(0, 2).map((r) => r.event),
          warnings: [],
        }
      : { code: 'liftNotFound', values: { lift: String(k) } };
  }
  const { noise, lifts } = findLifts(even.trace, even.fs);
  const [first, last] = [lifts[0], lifts.at(-1)];
  if (!first || !last) return { code: 'liftNotFound', values: { lift: String(k) } };
  const set = decimalIn(figureOf(plan, method.set), unit).toNumber();
  const ramp = ((first.crack - (even.trace[0] ?? 0)) / Math.max(1, first.crackAt)) * even.fs;
  const warnings: Reason[] = [];
  if (noise > NOISY_SHARE * set) warnings.push({ code: 'noisyTrace', values: { noise: { value: Number(noise.toPrecision(3)), unit } } });
  if (ramp > FAST_SHARE_PER_S * set) warnings.push({ code: 'fastRamp', values: { lift: String(k) } });
  if (lifts.length > 1) warnings.push({ code: 'chatter', values: { times: String(lifts.length) } });
  const digits = (v: number): number => Number(v.toPrecision(9));
  return {
    crack: digits(first.crack),
    reseat: last.reseat === null ? null : digits(last.reseat),
    unit,
    spread: noise / 2,
    count: lifts.length,
    evidence: [...new Set(readings.map((r) => r.event))],
    warnings,
  };
}

const repeatsOf = (method: ReliefMethod): readonly number[] => Array.from({ length: method.repeats }, (_, i) => i + 1);

/**
 * @example reliefTask(exampleOf('valve.relief', 'crack').at).kind // 'end'
 */
export function reliefTask(at: At): Task {
  const { method, record } = at;
  for (const k of repeatsOf(method)) {
    if (markAt(record, liftMark(k)) === undefined)
      return {
        kind: 'mark',
        mark: liftMark(k),
        on: [],
        text: k === 1 ? 'Lift 1: raise the pressure slowly' : `Bleed, isolate, then lift ${k}: raise the pressure slowly`,
        unmet: (when) => stepsUnmet(at, when),
      };
    if (markAt(record, shutMark(k)) === undefined)
      return {
        kind: 'mark',
        mark: shutMark(k),
        on: [method.channel],
        text: `Lift ${k}: it has opened and shut again; isolate`,
        unmet: (when) => {
          const lift = liftOf({ ...at, record: { ...record, marks: [...record.marks, { mark: shutMark(k), at: when, event: 'asked' }] } }, k);
          return 'code' in lift ? lift : null;
        },
      };
  }
  return { kind: 'end' };
}

/**
 * Judges lifts of a relief valve: each one's opening pressure is found in the trace as the place where it breaks, and each must keep the limits, not their
 * mean. Shutting, blowdown and the spread of the repeats are worked out beside. A spoilt lift is withdrawn with its reason and done again alone.
 * Source: terms of ISO 4126-1 and API 576; tolerances are the rule set's; from memory.
 * @example set 100 psi, lifts at 101.2, 100.8, 101.0, limits 97 to 103: pass, 40 %, 27 %, 33 %
 */
export function judgeRelief(at: At): readonly Finding[] {
  const { plan, stage, method, record } = at;
  const { channel } = method;
  const found = (verdict: Finding['verdict'], reason: Reason): Finding => findingOf(at, RELIEF_EDITION, channel, verdict, [reason]);
  const instrument = usableInstrument(at, channel);
  if (isReason(instrument)) return [found('void', instrument)];
  const unmet = record.endedAt === null ? null : stepsUnmet(at, record.endedAt);
  if (unmet) return [found('void', unmet)];
  const lifts = repeatsOf(method).map((k) => liftOf(at, k));
  const limits = limitsOn(plan, stage.id, channel);
  const findings = lifts.flatMap((lift, i): Finding[] => {
    if ('code' in lift) {
      const { verdict, reason } = lacking(record, lift);
      return [found(verdict, reason)];
    }
    const q = (value: number): Quantity => ({ value, unit: lift.unit });
    const u = Math.hypot(uReading(instrument, lift.unit), lift.spread);
    const blowdown = lift.reseat === null ? null : (100 * (lift.crack - lift.reseat)) / lift.crack;
    const values = {
      lift: String(i + 1),
      crack: q(lift.crack),
      reseat: lift.reseat === null ? 'not seen' : q(lift.reseat),
      blowdown: blowdown === null ? 'not seen' : { value: Number(blowdown.toPrecision(6)), unit: '%' },
    };
    return limits.flatMap((limit): Finding[] => {
      if (limit.of === 'spread') return [];
      const observed = limit.of === 'pressure' ? lift.crack : blowdown;
      if (observed === null) return [found(record.endedAt === null ? 'undecided' : 'void', { code: 'reseatMissing', values: { lift: String(i + 1) } })];
      return [
        judgeValue(at, RELIEF_EDITION, channel, limit, {
          observed: significant(decimal(Number(observed.toPrecision(12)))),
          unit: limit.of === 'pressure' ? lift.unit : '%',
          u: limit.of === 'pressure' ? u : (100 * u * Math.SQRT2) / lift.crack,
          best: limit.of === 'pressure' ? decimalIn(figureOf(plan, method.set), lift.unit).toNumber() : null,
          fitted: instrument.fitted,
          correlation: instrument.correlation,
          reasons: [{ code: 'lift', values: { ...values, limit: limit.resolved, op: limit.op } }, ...lift.warnings],
          evidence: lift.evidence,
        }),
      ];
    });
  });
  const good = lifts.filter((l): l is OneLift => !('code' in l));
  const spread = limits.find((l) => l.of === 'spread');
  if (!spread || good.length < method.repeats || good.length < 2) return findings;
  const unit = good[0]?.unit ?? '';
  const cracks = good.map((l) => (strict(plan) ? decimalIn({ value: l.crack, unit: l.unit }, unit).toNumber() : l.crack));
  const widest = Math.max(...cracks) - Math.min(...cracks);
  return [
    ...findings,
    judgeValue(at, RELIEF_EDITION, channel, spread, {
      observed: significant(decimal(Number(widest.toPrecision(12)))),
      unit,
      u: Math.SQRT2 * Math.hypot(uReading({ ...instrument, accuracy: { value: 0, unit } }, unit), ...good.map((l) => l.spread / Math.sqrt(good.length))),
      best: 0,
      fitted: instrument.fitted,
      correlation: instrument.correlation,
      reasons: [{ code: 'spread', values: { observed: { value: Number(widest.toPrecision(6)), unit }, limit: spread.resolved, lifts: String(good.length) } }],
      evidence: good.flatMap((l) => l.evidence),
    }),
  ];
}
