import { findingOf, lacking, type Finding } from './verdict/finding';
import { holds, strict, type Axle, type StrokeMethod } from '../procedure';
import { decimal, decimalIn, significant } from '../quantity';
import { isReason, usableInstrument, type Attempted } from './evidence/attempted';
import type { Reading } from './evidence/reading';
import type { ChannelInstrument } from './evidence/record';
import { readingsOn, span, uReading } from './evidence/readings';
import { stepsUnmet } from './evidence/steps';
import type { Task } from './evidence/task';
import { judgeValue } from './verdict/value';

/** The edition of this method. */
export const STROKE_EDITION = 'stroke/1';

type At = Attempted<StrokeMethod>;

/** The axles that this vehicle has. */
function axlesOf(at: At): readonly Axle[] {
  return at.method.axles.filter((a) => a.when === undefined || holds(a.when, at.plan.assets));
}

/** The last reading counts: a rule that slipped is simply read again, and both stay in the record. */
const strokeOf = (at: At, channel: string): Reading | undefined => readingsOn(at.record, channel).at(-1);

/**
 * @example strokeTask({ ...exampleOf('brakes.whole', 'applied').at, method: { kind: 'stroke', axles: [], limit: 'x' } }).kind // 'end'
 */
export function strokeTask(at: At): Task {
  const unread = axlesOf(at)
    .flatMap((a) => [a.left, a.right])
    .find((c) => !strokeOf(at, c));
  return unread === undefined ? { kind: 'end' } : { kind: 'read', channel: unread };
}

/** By so much of a step does a hand with a rule scatter, under a vehicle and by a lamp: between none and a whole one, so that what is claimed is within three in a hundred of the truth for either. */
const READ_AGAIN_STEPS = 0.7;

/** Standard uncertainty of a stroke: it is measured once, and nothing about it says how the hand scatters. */
function uStroke({ plan }: At, rule: ChannelInstrument, unit: string): number {
  const hand = strict(plan) ? READ_AGAIN_STEPS * span(rule.resolution, unit) : 0;
  return Math.hypot(uReading(rule, unit), hand);
}

/**
 * Judges push-rod strokes: each against the limit of its chamber's type, and the two sides of an axle against each other.
 * Source: 49 CFR 393.47 and appendix A to part 396 for the limits; the difference is common practice; from memory.
 * @example type 30, limit < 2 in: 1.875 in passes, 2 in fails
 */
export function judgeStroke(at: At): readonly Finding[] {
  const { plan, stage, record } = at;
  const unmet = record.endedAt === null ? null : stepsUnmet(at, record.endedAt);
  if (unmet) return [findingOf(at, STROKE_EDITION, null, 'void', [unmet])];
  return axlesOf(at).flatMap((axle): Finding[] => {
    const sides = [axle.left, axle.right].map((channel) => ({ channel, reading: strokeOf(at, channel), instrument: usableInstrument(at, channel) }));
    const one = sides.flatMap(({ channel, reading, instrument }): Finding[] => {
      if (isReason(instrument)) return [findingOf(at, STROKE_EDITION, channel, 'void', [instrument])];
      if (!reading) {
        const { verdict, reason } = lacking(record, { code: 'noReading', values: { channel } });
        return [findingOf(at, STROKE_EDITION, channel, verdict, [reason])];
      }
      const limits = plan.limits.filter((l) => l.stage === stage.id && l.of === 'stroke' && (l.channel ?? channel) === channel);
      return limits.map((limit) =>
        judgeValue(at, STROKE_EDITION, channel, limit, {
          observed: significant(decimal(reading.value)),
          unit: reading.unit,
          u: uStroke(at, instrument, reading.unit),
          best: 0,
          fitted: instrument.fitted,
          correlation: instrument.correlation,
          reasons: [
            { code: 'stroke', values: { observed: { value: reading.value, unit: reading.unit }, limit: limit.resolved, op: limit.op, axle: axle.title } },
          ],
          evidence: [reading.event],
        }),
      );
    });
    const [left, right] = sides;
    const difference = plan.limits.find((l) => l.stage === stage.id && l.of === 'difference');
    if (!difference || !left?.reading || !right?.reading || isReason(left.instrument) || isReason(right.instrument)) return one;
    const unit = left.reading.unit;
    const apart = decimal(left.reading.value).minus(decimalIn(right.reading, unit)).abs();
    return [
      ...one,
      judgeValue(at, STROKE_EDITION, null, difference, {
        observed: significant(apart),
        unit,
        u: Math.hypot(uStroke(at, left.instrument, unit), uStroke(at, right.instrument, unit)),
        best: 0,
        fitted: left.instrument.fitted,
        correlation: left.instrument.correlation,
        reasons: [
          {
            code: 'strokeDifference',
            values: {
              left: { value: left.reading.value, unit },
              right: { value: right.reading.value, unit: right.reading.unit },
              observed: { value: apart.toNumber(), unit },
              limit: difference.resolved,
              axle: axle.title,
            },
          },
        ],
        evidence: [left.reading.event, right.reading.event],
      }),
    ];
  });
}
