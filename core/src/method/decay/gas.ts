import { fitSettling, settled, settlingWait, type Points } from '../../fit';
import { correctedLossPa, decayConstant, driftEqualToLoss, equivalentHole, gasEnd, leakFlow, minutesLost, pressurePerKelvin, referenceStates, timeToPressure, type GasEnd } from '../../physics'; // prettier-ignore
import { attributeOf, type Channel, type DecayMethod, type GasFacts, type Reason, type DecayReasons } from '../../procedure';
import { decimal, decimalIn, significant, type Quantity } from '../../quantity';
import type { Attempted, Instruments } from '../evidence/attempted';
import type { Figures, Shown } from './figures';
import type { HoldReadings } from './hold';
import type { Reading } from '../evidence/reading';
import { readingAt, readingsBetween, span, uReading, valueIn } from '../evidence/readings';

type At = Attempted<DecayMethod>;

/** A leak that is slow on a quick hold shows in fewer points than this only as noise. */
const SETTLING_POINTS = 40;
const SETTLING_CHANCE = 0.001;
/** What a wearer breathes at work, m³/s: 40 L/min, the design rate of the trade. */
const WORK_RATE = 0.04 / 60;

/** Most points that the settling fit is given: more add time and no knowledge. */
const FITTED_POINTS = 120;

const pascal = (value: number, unit: string): number => decimalIn({ value: Number(value.toPrecision(15)), unit }, 'Pa').toNumber();
const inUnit = (pa: number, unit: string): number => decimalIn({ value: Number(pa.toPrecision(15)), unit: 'Pa' }, unit).toNumber();

interface Ends {
  readonly start: GasEnd;
  readonly end: GasEnd;
  /** Standard uncertainty of the drift's share of the loss, Pa. */
  readonly uTemperature: number;
  readonly uBarometer: number;
}

/** Both ends of the hold with the temperature and barometer that were read; null where neither was. */
function endsOf({ method, record }: At, instruments: Instruments, hold: HoldReadings): Ends | null {
  const { temperature, barometer } = method.gas ?? {};
  const at = (channel: Channel | undefined, reading: Reading): Reading | undefined =>
    channel === undefined ? undefined : readingAt(record, channel, reading.at);
  const [t1, t2] = [at(temperature, hold.start), at(temperature, hold.end)];
  const [b1, b2] = [at(barometer, hold.start), at(barometer, hold.end)];
  if (!(t1 && t2) && !(b1 && b2)) return null;
  const end = (reading: Reading, t: Reading | undefined, b: Reading | undefined): GasEnd =>
    gasEnd(valueIn(reading, 'Pa'), t1 && t2 && t ? valueIn(t, 'K') : undefined, b1 && b2 && b ? valueIn(b, 'Pa') : undefined);
  const start = end(hold.start, t1, b1);
  const thermometer = temperature === undefined ? undefined : instruments[temperature];
  const glass = barometer === undefined ? undefined : instruments[barometer];
  // Accuracies and steps of temperature are differences; a degree Celsius of them is a kelvin.
  const uT = thermometer && t1 ? Math.SQRT2 * Math.hypot(thermometer.accuracy.value / Math.sqrt(3), thermometer.resolution.value / Math.sqrt(12)) : 0;
  return {
    start,
    end: end(hold.end, t2, b2),
    uTemperature: pressurePerKelvin(start.gaugePa, start.temperatureK, start.atmospherePa) * uT,
    uBarometer: glass && b1 ? Math.SQRT2 * uReading(glass, 'Pa') * Math.sqrt(1 - glass.correlation) : 0,
  };
}

/**
 * The figures with the measured drift taken off the loss, and its uncertainty added; null where nothing was measured.
 * @example ((r) => correctedFigures(r.at, {}, holdReadings(r.plan, r.stage, r.stage.method, r.record, 'suit'), {}))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function correctedFigures(at: At, instruments: Instruments, hold: HoldReadings, f: Figures): Figures | null {
  const ends = endsOf(at, instruments, hold);
  if (!ends) return null;
  const loss = significant(decimal(Number(inUnit(correctedLossPa(ends.start, ends.end), f.unit).toPrecision(12))));
  const other = { ...f.other, temperature: inUnit(ends.uTemperature, f.unit), barometer: inUnit(ends.uBarometer, f.unit) };
  return { ...f, loss, end: significant(f.start.minus(loss)), other };
}

/**
 * A measured drift that alone is worth more than the permitted loss: neither a pass nor a fail can be believed.
 * @example ((r) => driftTooLarge(r.at, {}, holdReadings(r.plan, r.stage, r.stage.method, r.record, 'suit'), {}, {}))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function driftTooLarge(at: At, instruments: Instruments, hold: HoldReadings, f: Figures, shown: Shown): Reason | null {
  const corrected = correctedFigures(at, instruments, hold, f);
  if (!corrected || !shown.permitted.gt(0)) return null;
  const drift = f.loss.minus(corrected.loss);
  return drift.abs().gt(shown.permitted)
    ? { code: 'driftOnly', values: { drift: { value: drift.toNumber(), unit: f.unit }, corrected: { value: corrected.loss.toNumber(), unit: f.unit } } }
    : null;
}

/**
 * The loss in other terms: with drift taken off, as a flow, as one round hole, and the drift that alone would equal the limit.
 * @example ((r) => inOtherTerms(r.at, holdReadings(r.plan, r.stage, r.stage.method, r.record, 'suit'), startFigures('mbar', { at: 0, value: 16.5, unit: 'mbar' }, decimal(6), r.instruments.suit), { permitted: decimal(3) }).map((x) => x.code))(exampleOf('suit.inflation', 'inflate')) // ['driftEqual']
 */
export function inOtherTerms(at: At, hold: HoldReadings, f: Figures, shown: Shown): readonly Reason[] {
  const gas = at.method.gas;
  if (!gas) return [];
  const found: Reason[] = [];
  const ends = endsOf(at, at.instruments, hold);
  const startPa = pascal(f.start.toNumber(), f.unit);
  if (ends)
    found.push({
      code: 'correctedLoss',
      values: { loss: { value: Number(inUnit(correctedLossPa(ends.start, ends.end), f.unit).toPrecision(6)), unit: f.unit } },
    });
  else if (shown.permitted.gt(0))
    found.push({ code: 'driftEqual', values: { drift: { value: driftEqualToLoss(startPa, pascal(shown.permitted.toNumber(), f.unit)), unit: 'K' } } });
  const volume = gas.volume && attributeOf(at.plan.assets, gas.volume);
  const seconds = (hold.end.at - hold.times.clockAt) / 1000;
  if (typeof volume !== 'object' || !(seconds > 0)) return found;
  const { start, end } = ends ?? { start: gasEnd(startPa), end: gasEnd(pascal(f.end.toNumber(), f.unit)) };
  const flow = leakFlow(start, end, decimalIn(volume, 'm3').toNumber(), seconds);
  if (!(flow > 0)) return found;
  const millilitres = { value: Number((flow * 6e7).toPrecision(4)), unit: 'mL/min' };
  found.push({ code: 'asFlow', values: { flow: millilitres, state: referenceStates.room.id, bound: gas.flexible ? 'lower' : 'exact' } });
  found.push({ code: 'costs', values: costsOf(gas, flow, start.gaugePa, end.gaugePa, seconds) });
  const hole = equivalentHole(flow, (start.gaugePa + end.gaugePa) / 2);
  if (hole > 0) found.push({ code: 'asHole', values: { diameter: { value: Number((hole * 1000).toPrecision(3)), unit: 'mm' } } });
  return found;
}

/** What a leak costs: litres a day, how long until half is gone, and minutes of air in an hour where it is breathed from. */
function costsOf(gas: GasFacts, flow: number, startPa: number, endPa: number, seconds: number): DecayReasons['costs'] {
  const half = startPa > endPa && endPa > 0 ? timeToPressure(startPa, startPa / 2, decayConstant(startPa, endPa, seconds)) : Number.POSITIVE_INFINITY;
  const q = (value: number, unit: string): Quantity => ({ value: Number(value.toPrecision(3)), unit });
  return {
    perDay: q(flow * 86_400 * 1000, 'L'),
    ...(Number.isFinite(half) ? { half: half < 7200 ? q(half / 60, 'min') : q(half / 3600, 'h') } : {}),
    ...(gas.breathed ? { air: q(minutesLost(flow, WORK_RATE, 3600), 'min') } : {}),
  };
}

/**
 * Whether the pressure was still settling while it was held: shown by two stretches that are not equivalent and a quick term that is no accident.
 * @example ((r) => stillSettling(r.at, 'suit', holdReadings(r.plan, r.stage, r.stage.method, r.record, 'suit'), startFigures('mbar', { at: 0, value: 16.5, unit: 'mbar' }, decimal(6), r.instruments.suit), { permitted: decimal(3) }))(exampleOf('suit.inflation', 'inflate')) // []
 */
export function stillSettling(at: At, channel: Channel, hold: HoldReadings, f: Figures, shown: Shown): readonly Reason[] {
  if (!at.method.gas || hold.early || !shown.permitted.gt(0) || !(shown.permitted.toNumber() < f.start.toNumber())) return [];
  const all = readingsBetween(at.record, channel, hold.times.startAt, hold.end.at).filter((r) => !r.typed);
  if (all.length < SETTLING_POINTS) return [];
  const every = Math.ceil(all.length / FITTED_POINTS);
  const used = all.filter((_, i) => i % every === 0);
  const points: Points = { t: used.map((r) => (r.at - hold.times.startAt) / 1000), p: used.map((r) => valueIn(r, f.unit)) };
  if (points.p.some((v) => !(v > 0))) return [];
  const half = Math.floor(points.t.length / 2);
  const stretch = (from: number, to?: number): Points => ({ t: points.t.slice(from, to), p: points.p.slice(from, to) });
  const holdS = (hold.times.until - hold.times.startAt) / 1000;
  const permitted = shown.permitted.toNumber();
  if (settled(stretch(0, half), stretch(half), f.start.toNumber(), permitted, holdS)) return [];
  const fit = fitSettling(points);
  if (!fit || fit.chance > SETTLING_CHANCE || fit.settling.amplitude < span({ value: 0.05 * permitted, unit: f.unit }, f.unit)) return [];
  const wait = settlingWait(fit.settling.amplitude, 1 / fit.settling.mu, permitted, holdS);
  return wait > 0
    ? [
        {
          code: 'stillSettling',
          values: { wait: { value: Math.ceil(wait), unit: 's' }, drop: { value: Number(fit.settling.amplitude.toPrecision(3)), unit: f.unit } },
        },
      ]
    : [];
}
