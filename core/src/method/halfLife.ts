import { findingOf, lacking, type Finding } from './verdict/finding';
import { fitDecay, halfLifeOf, type DecayFit } from '../fit';
import { figureOf, keeps, strict, type HalfLifeMethod, type Reason } from '../procedure';
import { driftEqualToLoss } from '../physics';
import { decimal, decimalIn, significant, type Quantity } from '../quantity';
import { CAN_ERR } from '../uncertainty';
import { isReason, usableInstrument, type Attempted } from './evidence/attempted';
import type { Reading } from './evidence/reading';
import {
  crossing,
  goneThrough,
  readingAt,
  readingsBetween,
  readingsOn,
  repeatabilityOf,
  span,
  type CrossingTime,
  uReading,
  valueIn,
} from './evidence/readings';
import { markAt, START, stepsUnmet, windowUnmet } from './evidence/steps';
import type { Task } from './evidence/task';
import type { ChannelInstrument } from './evidence/record';
import { decide } from './verdict/decide';
import { judgeValue, limitsOn } from './verdict/value';
import { whenever } from './verdict/whenever';

/** The edition of this method. It changes when the same readings could be judged otherwise. */
export const HALF_LIFE_EDITION = 'halfLife/2';

type At = Attempted<HalfLifeMethod>;

function startUnmet(at: At, when: number): Reason | null {
  const { plan, method, record } = at;
  return stepsUnmet(at, when) ?? windowUnmet('startOutside', record, method.channel, figureOf(plan, method.start.low), figureOf(plan, method.start.high), when);
}

const unitOf = (at: At): string => figureOf(at.plan, at.method.start.low).unit;

function crossed(at: At, start: Reading, startAt: number): CrossingTime | null {
  const unit = unitOf(at);
  // A first dip of a noisy trace is no crossing.
  return (strict(at.plan) ? goneThrough : crossing)(at.record, at.method.channel, valueIn(start, unit) / 2, unit, false, startAt);
}

/** The longest half-life that a limit of this stage asks for, ms: when that has gone by above half, nothing more is to be learnt. */
function enoughMs(at: At): number {
  const wanted = limitsOn(at.plan, at.stage.id, at.method.channel).map((l) => decimal(span(l.resolved, 'ms')).toNumber());
  return Math.max(0, ...wanted);
}

/**
 * @example halfLifeTask(exampleOf('store.half-life', 'half').at).kind // 'end'
 */
export function halfLifeTask(at: At): Task {
  const { plan, method, record } = at;
  const startAt = markAt(record, START);
  if (startAt === undefined)
    return {
      kind: 'start',
      low: figureOf(plan, method.start.low),
      high: figureOf(plan, method.start.high),
      on: [method.channel],
      unmet: (when) => startUnmet(at, when),
    };
  const start = readingAt(record, method.channel, startAt);
  const until = startAt + enoughMs(at);
  const last = readingsOn(record, method.channel).at(-1);
  const over = start !== undefined && (crossed(at, start, startAt) !== null || (last !== undefined && last.at >= until));
  return over ? { kind: 'end' } : { kind: 'hold', since: startAt, until };
}

/** A fit through the readings so far, shown before half is gone; null while there is nothing to fit. */
function fitOf(at: At, startAt: number): DecayFit | null {
  const unit = unitOf(at);
  const points = readingsBetween(at.record, at.method.channel, startAt, Number.POSITIVE_INFINITY);
  if (points.length < 4) return null;
  return fitDecay({ t: points.map((r) => (r.at - startAt) / 1000), p: points.map((r) => valueIn(r, unit)) });
}

/** Standard uncertainty of how far a reading stands from half of the start, in the unit of the start's window. */
function uFromHalf(at: At, instrument: ChannelInstrument): number {
  const unit = unitOf(at);
  const scale = span(instrument.accuracy, unit) / Math.sqrt(3);
  const scatter = strict(at.plan) ? repeatabilityOf(readingsOn(at.record, at.method.channel), unit) : 0;
  const step = Math.max(span(instrument.resolution, unit) / Math.sqrt(12), scatter);
  // p(t) − p0/2: a common error of both only moves it by half of itself.
  return Math.hypot(scale * Math.sqrt(1.25 - instrument.correlation), step * Math.sqrt(1.25));
}

/** Standard uncertainty of a crossing time, s: of the reading there and of the half it is held against, over the slope; and of readings far apart. */
function uTime(at: At, instrument: ChannelInstrument, cross: CrossingTime, start: number): number {
  const u = uFromHalf(at, instrument);
  const slope = Math.abs(cross.slope) * 1000 || (start * Math.LN2) / 2 / Math.max(1, cross.at / 1000);
  return Math.hypot(u / slope, cross.typed ? cross.apart / 1000 / Math.sqrt(12) : 0);
}

/**
 * What a pressure that is still above half when the time is over says: as much as the gauge can tell it from half. How far it stands above it is what the
 * decision rule and the confidence are about.
 */
function aboveHalf(at: At, instrument: ChannelInstrument, finding: Finding, last: Reading, start: number): Finding {
  const unit = unitOf(at);
  const u = uFromHalf(at, instrument);
  const [observed, limit] = [decimal(valueIn(last, unit)), decimal(start).div(2)];
  const decision = decide({ observed, limit, op: '>=', u, bestMargin: start / 2, fitted: instrument.fitted }, at.plan.ruleSet.decision);
  return {
    ...finding,
    verdict: decision.verdict === 'fail' ? 'undecided' : decision.verdict,
    reasons: [...finding.reasons.filter((r) => r.code !== 'closeCall' && r.code !== 'tooCoarse' && r.code !== 'insideGuard'), ...decision.reasons],
    confidence: { conforms: decision.conforms, u: { value: u, unit }, correlation: instrument.correlation },
  };
}

/** A fitted time: three digits are all that it is worth. */
const minutesOf = (seconds: number): Quantity => ({ value: Number((seconds / 60).toPrecision(3)), unit: 'min' });

/**
 * Judges a half-life: the time from the start reading until half of it is left, straight between the readings around the crossing. A pressure that is
 * still above half when the wanted time is over has a longer half-life than that: it passes. Broken off before that, it is no result, unless a fit says
 * with its whole interval that it could no longer pass.
 * Source: AS 2628-2010, from memory.
 * @example 250 Pa, half crossed after 6 min 12 s, limit ≥ 5 min: pass, 81 %
 */
export function judgeHalfLife(at: At): readonly Finding[] {
  const { plan, stage, method, record } = at;
  const { channel } = method;
  const found = (verdict: Finding['verdict'], reasons: readonly Reason[]): readonly Finding[] => [findingOf(at, HALF_LIFE_EDITION, channel, verdict, reasons)];
  const instrument = usableInstrument(at, channel);
  const startAt = markAt(record, START);
  if (startAt === undefined) {
    const { verdict, reason } = lacking(record, { code: 'holdShort', values: {} });
    return found(verdict, [reason]);
  }
  if (isReason(instrument)) return found('void', [instrument]);
  const unmet = startUnmet(at, startAt);
  if (unmet) return found('void', [unmet]);
  const start = readingAt(record, channel, startAt);
  if (!start) return found('void', [{ code: 'noReading', values: { channel } }]);
  const gap = start.typed ? record.gaps.find((g) => g.at > startAt) : undefined;
  if (gap) return found('void', [{ code: 'clockGap', values: { lost: { value: gap.lostMs / 1000, unit: 's' } } }]);
  const unit = unitOf(at);
  const p0 = valueIn(start, unit);
  const cross = crossed(at, start, startAt);
  const lastAt = readingsOn(record, channel).at(-1)?.at ?? startAt;
  const fit = fitOf(at, startAt);
  const half = fit && halfLifeOf(fit);
  const fitted: readonly Reason[] =
    half && Number.isFinite(half.value) && half.value > 0
      ? [
          {
            code: 'halfLifeFit',
            values: {
              value: minutesOf(half.value),
              low: minutesOf(half.low),
              high: Number.isFinite(half.high) ? minutesOf(half.high) : 'endless',
            },
          },
        ]
      : [];
  // Half of the start is what may be lost in the time: the drift that alone would do it, or hide it.
  const startPa = decimalIn(start, 'Pa').toNumber();
  const drift: readonly Reason[] = method.gas ? [{ code: 'driftEqual', values: { drift: { value: driftEqualToLoss(startPa, startPa / 2), unit: 'K' } } }] : [];
  return limitsOn(plan, stage.id, channel).map((limit): Finding => {
    const wantedMs = span(limit.resolved, 'ms');
    const elapsed = lastAt - startAt;
    if (!cross && elapsed < wantedMs) {
      const hopeless = half !== null && half.high * 1000 < wantedMs && record.endedAt !== null;
      const early = lacking(record, { code: 'holdShort', values: {} });
      return hopeless
        ? { ...findingOf(at, HALF_LIFE_EDITION, channel, 'fail', [...fitted, { code: 'endedHopeless', values: {} }]), limit }
        : findingOf(at, HALF_LIFE_EDITION, channel, early.verdict, [early.reason, ...fitted]);
    }
    const minutes = (cross ? cross.at - startAt : elapsed) / 60_000;
    const judgedAt = (took: number): Finding => {
      const shown = significant(decimal(Number(took.toPrecision(12))));
      const q = { value: shown.toNumber(), unit: 'min' };
      return judgeValue(at, HALF_LIFE_EDITION, channel, limit, {
        observed: shown,
        unit: 'min',
        u: cross ? uTime(at, instrument, { ...cross, at: cross.at - startAt }, p0) / 60 : 0,
        best: null,
        fitted: instrument.fitted,
        correlation: instrument.correlation,
        reasons: [
          {
            code: cross ? 'halfLife' : 'halfLifeOver',
            values: { start: { value: p0, unit }, half: { value: p0 / 2, unit }, observed: q, limit: limit.resolved },
          },
          ...fitted,
          ...drift,
        ],
        evidence: [start.event],
      });
    };
    const finding = judgedAt(minutes);
    if (cross && strict(plan)) {
      const [shortest, longest] = [(cross.earliest - startAt) / 1000, (cross.latest - startAt) / 1000];
      return whenever(finding, shortest, longest, (s) => judgedAt(s / 60));
    }
    const last = readingsOn(record, channel).at(-1);
    const rise = last ? valueIn(last, unit) - p0 : 0;
    if (!cross && rise > CAN_ERR * Math.SQRT2 * uReading(instrument, unit))
      return {
        ...finding,
        verdict: 'undecided',
        reasons: [...finding.reasons, { code: 'rose', values: { rise: { value: Number(rise.toPrecision(6)), unit } } }],
      };
    if (!cross && strict(plan) && last) return aboveHalf(at, instrument, finding, last, p0);
    // Above half when the time is over is proof enough, whatever the operator's strictness: the true half-life is longer.
    return !cross && keeps(decimal(minutes), '>=', decimal(span(limit.resolved, 'min'))) ? { ...finding, verdict: 'pass' } : finding;
  });
}
