import { figureOf, type DecayMeasure, type DecayMethod, type Measure, type Plan, type ResolvedLimit, type Reason } from '../../procedure';
import { decimal, decimalIn, roundHalfUp, significant, unitRow, type Decimal, type Quantity } from '../../quantity';
import { uncertaintyOfLoss, uncertaintyOfRatio, uncertaintyOfReading, type GaugeFigures, type OtherTerms } from '../../uncertainty';
import type { HoldReadings } from './hold';
import { span } from '../evidence/readings';
import type { Reading } from '../evidence/reading';
import type { ChannelInstrument, StageRecord } from '../evidence/record';

/** Figures of one channel and one limit, all in the unit that they are compared in. */
export interface Figures {
  readonly unit: string;
  readonly start: Decimal;
  readonly end: Decimal;
  readonly loss: Decimal;
  readonly gauge: GaugeFigures;
  /** Decimals that the instrument is read to in this unit. */
  readonly decimals: number;
  /** What moves the loss besides the gauge. */
  readonly other: OtherTerms;
  readonly minutes: Decimal;
}

/**
 * The limit's own unit where it is a pressure, else the unit that the rule set gives its start window in.
 * @example ((r) => pressureUnit(r.plan, r.stage.method, r.plan.limits.at(-1)))(exampleOf('suit.inflation', 'inflate')) // '[in_i\'H2O]'
 */
export function pressureUnit(plan: Plan, method: DecayMethod, limit: ResolvedLimit): string {
  return unitRow(limit.resolved.unit)?.dimension === 'pressure' ? limit.resolved.unit : figureOf(plan, method.start.low).unit;
}

function decimalsFor(resolution: Quantity, unit: string): number {
  const step = decimalIn(resolution, unit);
  if (resolution.unit === unit) return Math.max(0, step.c.length - 1 - step.e);
  return Math.max(0, Math.ceil(-Math.log10(step.toNumber())));
}

function gaugeFigures(instrument: ChannelInstrument, unit: string, repeatability = 0): GaugeFigures {
  return { accuracy: span(instrument.accuracy, unit), resolution: span(instrument.resolution, unit), correlation: instrument.correlation, repeatability };
}

/**
 * @param repeatability standard deviation of single readings in the hold, in `unit`
 * @example ((r) => figures('mbar', { times: { clockAt: 0 } }, { at: 0, value: 16.5, unit: 'mbar' }, { at: 360_000, value: 16.2, unit: 'mbar' }, r.instruments.suit, r.record).loss.toString())(exampleOf('suit.inflation', 'inflate')) // '0.3'
 */
export function figures(
  unit: string,
  hold: HoldReadings,
  first: Reading,
  last: Reading,
  instrument: ChannelInstrument,
  record: StageRecord,
  repeatability = 0,
): Figures {
  const start = decimalIn(first, unit);
  const end = decimalIn(last, unit);
  const tookMs = last.at - hold.times.clockAt;
  // A first drop is not timed, so no clock can be uncertain about it.
  const timing = (first.typed || last.typed) && tookMs > 0 ? (record.typedTimingMs * Math.SQRT2) / tookMs : 0;
  return {
    unit,
    start,
    end,
    // Under suction what is lost is suction.
    loss: significant(start.lt(0) ? end.minus(start) : start.minus(end)),
    gauge: gaugeFigures(instrument, unit, repeatability),
    decimals: decimalsFor(instrument.resolution, unit),
    other: { temperature: 0, barometer: 0, timing },
    minutes: decimal(tookMs).div(60_000),
  };
}

/**
 * The figures of a hold of which the start alone is known: enough to say what it may lose.
 * @example Number(startFigures('mbar', { at: 0, value: 16.5, unit: 'mbar', typed: true, id: 'e1' }, decimal(6), exampleOf('suit.inflation', 'inflate').instruments['suit']).start) // 16.5
 */
export function startFigures(unit: string, first: Reading, minutes: Decimal, instrument: ChannelInstrument): Figures {
  const start = decimalIn(first, unit);
  const other = { temperature: 0, barometer: 0, timing: 0 };
  return {
    unit,
    start,
    end: start,
    loss: decimal(0),
    gauge: gaugeFigures(instrument, unit),
    decimals: decimalsFor(instrument.resolution, unit),
    other,
    minutes,
  };
}

export interface Shown {
  readonly observed: Decimal;
  readonly unit: string;
  readonly u: number;
  readonly bestMargin: number;
  /** The loss that the limit permits, in the unit of the loss. */
  readonly permitted: Decimal;
}

export const uLoss = (f: Figures): number => uncertaintyOfLoss(f.gauge, f.loss.toNumber(), f.other);

type Showing = (f: Figures, limit: Decimal) => Shown;

const asLoss: Showing = (f, limit) => ({ observed: f.loss, unit: f.unit, u: uLoss(f), bestMargin: limit.toNumber(), permitted: limit });

/** What each measure of a hold is, how uncertain it is, and what it would be for a flawless item. */
export const measures: Readonly<Partial<Record<Measure, Showing>>> = {
  loss: asLoss,
  firstDrop: asLoss,
  change: (f, limit) => ({ ...asLoss(f, limit), observed: f.loss.abs() }),
  lossPerMinute: (f, limit) => ({
    observed: significant(f.loss.div(f.minutes)),
    unit: f.unit,
    u: uLoss(f) / f.minutes.toNumber(),
    bestMargin: limit.toNumber(),
    permitted: limit.times(f.minutes),
  }),
  end: (f, limit) => {
    const permitted = f.start.minus(limit);
    return { observed: f.end, unit: f.unit, u: uncertaintyOfReading(f.gauge), bestMargin: permitted.toNumber(), permitted };
  },
  ratio: (f, limit) => {
    const share = significant(f.end.div(f.start).times(100));
    const u = 100 * uncertaintyOfRatio(f.gauge, f.start.toNumber(), f.end.toNumber());
    return { observed: share, unit: '%', u, bestMargin: 100 - limit.toNumber(), permitted: f.start.times(decimal(100).minus(limit)).div(100) };
  },
  // What the eye can see on a dial: movement counted in its own graduations.
  graduations: (f, limit) => {
    const one = Number(f.gauge.resolution.toPrecision(12));
    return { observed: significant(f.loss.abs().div(one)), unit: '1', u: uLoss(f) / one, bestMargin: limit.toNumber(), permitted: limit.times(one) };
  },
};

/**
 * @example limitIn({ of: 'loss', resolved: { value: 3, unit: 'mbar' } }, { unit: 'Pa' }).toString() // '300'
 */
export function limitIn(limit: ResolvedLimit, f: Figures): Decimal {
  if (limit.of === 'ratio') return decimalIn(limit.resolved, '%');
  return decimalIn(limit.resolved, limit.of === 'graduations' ? '1' : f.unit);
}

/**
 * Pressures in the arithmetic, kept as quantities; the wording takes the decimals from `decimals`.
 * @example ((r) => arithmetic({ of: 'loss', resolved: { value: 3, unit: 'mbar' } }, startFigures('mbar', { at: 0, value: 16.5, unit: 'mbar' }, decimal(6), r.instruments.suit), { observed: decimal(0.3), unit: 'mbar', permitted: decimal(3) }).values.allowed)(exampleOf('suit.inflation', 'inflate')) // { value: 3, unit: 'mbar' }
 */
export function arithmetic(limit: ResolvedLimit, f: Figures, shown: Shown): Reason {
  const q = (value: Decimal, unit = f.unit): Quantity => ({ value: significant(value).toNumber(), unit });
  return {
    code: limit.of as DecayMeasure, // `measures` has shown it: it is one
    values: {
      start: q(f.start),
      end: q(f.end),
      loss: q(f.loss),
      observed: q(shown.observed, shown.unit),
      allowed: q(shown.permitted),
      limit: limit.resolved,
      over: { value: f.minutes.toNumber(), unit: 'min' },
      decimals: String(f.decimals),
    },
  };
}

/**
 * Share of the permitted loss that was used, in whole percent; null where the limit permits none.
 * @param rounded the share itself, of figures that the rule has rounded
 * @example allowance({ of: 'loss' }, { loss: decimal(1.2) }, { permitted: decimal(3) }) // 40
 */
export function allowance(limit: ResolvedLimit, f: Figures, shown: Shown, rounded?: Decimal): number | null {
  if (shown.permitted.lte(0)) return null;
  if (rounded) return Math.max(0, roundHalfUp(rounded.times(100), 0).toNumber());
  const used = roundHalfUp((limit.of === 'change' || limit.of === 'graduations' ? f.loss.abs() : f.loss).div(shown.permitted).times(100), 0).toNumber();
  return Math.max(0, used);
}
