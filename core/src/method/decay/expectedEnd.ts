import { chanceAtLeast, fitDecay, predict, type Prediction } from '../../fit';
import type { Channel, DecayMethod, Plan, Stage } from '../../procedure';
import { decimal, decimalIn } from '../../quantity';
import { limitIn, measures, pressureUnit, startFigures } from './figures';
import { holdTimes } from './hold';
import type { ChannelInstrument, StageRecord } from '../evidence/record';
import { readingAt, readingsBetween, valueIn } from '../evidence/readings';
import { limitsOn } from '../verdict/value';

/** Fewer readings than this, or less of the hold, foretell nothing. Common practice. */
const LEAST_READINGS = 8;
const LEAST_SHARE = 0.25;

/** What the end of a hold is expected to read, from the readings so far. */
export interface ExpectedEnd {
  readonly unit: string;
  readonly prediction: Prediction;
  /** Least pressure that may be left. */
  readonly least: number;
  /** Probability that the end reading will keep the tightest limit. It may end a hopeless hold, never a passing one. */
  readonly chance: number;
}

/**
 * Foretells the end of a hold by a fit of the pressures themselves, unbiased where the signal is small.
 * @returns null while there is too little to go by
 * @example ((r) => expectedEnd(r.plan, r.stage, r.stage.method, { ...r.record, marks: [] }, 'suit', r.instruments['suit']))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function expectedEnd(
  plan: Plan,
  stage: Stage,
  method: DecayMethod,
  record: StageRecord,
  channel: Channel,
  instrument: ChannelInstrument,
): ExpectedEnd | null {
  const times = holdTimes(plan, stage, method, record);
  const limits = limitsOn(plan, stage.id, channel).filter((l) => l.of !== 'firstDrop' && l.of !== 'change' && !l.corrected);
  const first = limits[0];
  const start = times && readingAt(record, channel, times.startAt);
  if (!times || !first || !start) return null;
  const unit = pressureUnit(plan, method, first);
  const readings = readingsBetween(record, channel, times.startAt, times.until);
  const last = readings.at(-1);
  if (!last || readings.length < LEAST_READINGS || last.at - times.startAt < LEAST_SHARE * (times.until - times.startAt)) return null;
  const p = readings.map((r) => valueIn(r, unit));
  if (p.some((v) => !(v > 0))) return null;
  const fit = fitDecay({ t: readings.map((r) => (r.at - times.startAt) / 1000), p });
  const seconds = (times.until - times.startAt) / 1000;
  const minutes = decimal(times.until - times.clockAt).div(60_000);
  const least = limits.map((l) => {
    const f = startFigures(pressureUnit(plan, method, l), start, minutes, instrument);
    const permitted = measures[l.of]?.(f, limitIn(l, f)).permitted;
    return permitted === undefined ? Number.NEGATIVE_INFINITY : f.start.minus(permitted).toNumber();
  });
  const tightest = Math.max(...least.map((v, i) => decimalIn({ value: v, unit: pressureUnit(plan, method, limits[i] ?? first) }, unit).toNumber()));
  return { unit, prediction: predict(fit, seconds), least: tightest, chance: chanceAtLeast(fit, seconds, tightest) };
}
