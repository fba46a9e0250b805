import { figureOf, type DecayMethod, type Plan, type ResolvedLimit } from '../procedure';
import { convert, decimal, decimalIn, roundHalfUp, significant, unitRow, type Decimal, type Quantity } from '../quantity';
import { uncertaintyOfLoss, uncertaintyOfRatio, uncertaintyOfReading, type GaugeFigures } from '../uncertainty';
import type { HoldReadings } from './decayHold';
import type { ChannelInstrument, Reading, Reason, StageRecord } from './record';

/** Figures of one channel and one limit, all in the unit that they are compared in. */
export interface Figures {
  readonly unit: string;
  readonly start: Decimal;
  readonly end: Decimal;
  readonly loss: Decimal;
  readonly gauge: GaugeFigures;
  /** Decimals that the instrument is read to in this unit. */
  readonly decimals: number;
  readonly timing: number;
  readonly minutes: Decimal;
}

/** The limit's own unit where it is a pressure, else the unit that the rule set gives its start window in. */
export function pressureUnit(plan: Plan, method: DecayMethod, limit: ResolvedLimit): string {
  return unitRow(limit.resolved.unit)?.dimension === 'pressure' ? limit.resolved.unit : figureOf(plan, method.start.low).unit;
}

/** A difference in another unit: the gauge's figures are spans, and a pressure scale has no offset, so the plain conversion serves. */
const span = (q: Quantity, unit: string): number => convert(q, unit).value;

function decimalsFor(resolution: Quantity, unit: string): number {
  const step = decimalIn(resolution, unit);
  if (resolution.unit === unit) return Math.max(0, step.c.length - 1 - step.e);
  return Math.max(0, Math.ceil(-Math.log10(step.toNumber())));
}

export function figures(unit: string, hold: HoldReadings, first: Reading, last: Reading, instrument: ChannelInstrument, record: StageRecord): Figures {
  const start = decimalIn(first, unit);
  const end = decimalIn(last, unit);
  const tookMs = last.at - hold.times.clockAt;
  // A first drop is not timed, so no clock can be uncertain about it.
  const timing = (first.typed || last.typed) && tookMs > 0 ? (record.typedTimingMs * Math.SQRT2) / tookMs : 0;
  const gauge = { accuracy: span(instrument.accuracy, unit), resolution: span(instrument.resolution, unit), correlation: instrument.correlation };
  return {
    unit,
    start,
    end,
    loss: significant(start.minus(end)),
    gauge,
    decimals: decimalsFor(instrument.resolution, unit),
    timing,
    minutes: decimal(tookMs).div(60_000),
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

export const uLoss = (f: Figures): number => uncertaintyOfLoss(f.gauge, f.loss.toNumber(), { temperature: 0, barometer: 0, timing: f.timing });

/** What each measure of a hold is, how uncertain it is, and what it would be for a flawless item. */
export const measures: Readonly<Record<ResolvedLimit['of'], (f: Figures, limit: Decimal) => Shown>> = {
  loss: (f, limit) => ({ observed: f.loss, unit: f.unit, u: uLoss(f), bestMargin: limit.toNumber(), permitted: limit }),
  firstDrop: (f, limit) => ({ observed: f.loss, unit: f.unit, u: uLoss(f), bestMargin: limit.toNumber(), permitted: limit }),
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
};

export function limitIn(limit: ResolvedLimit, f: Figures): Decimal {
  return decimalIn(limit.resolved, limit.of === 'ratio' ? '%' : f.unit);
}

/** Pressures in the arithmetic, kept as quantities; the wording takes the decimals from `decimals`. */
export function arithmetic(limit: ResolvedLimit, f: Figures, shown: Shown): Reason {
  const q = (value: Decimal, unit = f.unit): Quantity => ({ value: significant(value).toNumber(), unit });
  return {
    code: limit.of,
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

export function allowance(f: Figures, shown: Shown): number | null {
  if (shown.permitted.lte(0)) return null;
  const used = roundHalfUp(f.loss.div(shown.permitted).times(100), 0).toNumber();
  return Math.max(0, used);
}
