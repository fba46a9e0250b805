import { figureOf, figuresShownOn, type Channel, type Id, type Plan, type ResolvedLimit, type Stage, type Words } from '../procedure';
import { decimalIn, sameDimension, showQuantity, type Quantity } from '../quantity';
import { ONE_SIDED_95, tooCoarse, uncertaintyOfLoss, type GaugeFigures } from '../uncertainty';
import { askedUnmet } from '../method';
import type { InstrumentCopy } from './event';
import { calibratedBefore } from './stageRecord';
import { reasonInWords } from './words';

/** What speaks against an instrument for a channel. The first three make a run void; the others make it hard to tell. */
export type UnfitCode = 'otherKind' | 'calibrationOut' | 'notAsAsked' | 'rangeShort' | 'coarse' | 'cannotProve';

export interface Unfit {
  readonly code: UnfitCode;
  readonly words: string;
}

/** Whether a gauge can decide the loss that a stage judges on it. */
export interface Decides {
  readonly stage: Id;
  readonly title: Words;
  readonly loss: Quantity;
  readonly can: boolean;
  /** The coarsest gauge that could, with errors that go together as much as this one's; null where this one can. */
  readonly would: { readonly accuracy: Quantity; readonly resolution: Quantity } | null;
}

export interface Fitness {
  /** `unfit` cannot give a valid result; `careful` may leave the run undecided. */
  readonly fit: 'fits' | 'careful' | 'unfit';
  readonly against: readonly Unfit[];
  /** Stage by stage, in the order of the plan. */
  readonly decides: readonly Decides[];
}

/** A step larger than this share of what is judged makes the last digit decide. Common practice: a third. */
const COARSE_SHARE = 1 / 3;
/** What could just decide is no use to anybody: this share of it can. */
const LEAST_ROOM = 0.9;
const grave: ReadonlySet<UnfitCode> = new Set(['otherKind', 'calibrationOut', 'notAsAsked', 'rangeShort']);

/** Ids of the figures that a channel must be able to show in a stage. */
function figuresOn(stage: Stage, channel: Channel): readonly Id[] {
  const steps = stage.steps.flatMap((s) => (s.kind === 'reach' && s.channel === channel ? [s.low, s.high] : []));
  return [...steps, ...figuresShownOn(stage.method, channel)];
}

/** What a channel must show, and the smallest loss that is judged on it. */
function needsOf(plan: Plan, channel: Channel): { readonly shown: readonly Quantity[]; readonly judged: readonly ResolvedLimit[] } {
  const unit = plan.procedure.channels[channel]?.unit ?? '';
  const alike = (q: Quantity): boolean => sameDimension(q.unit, unit);
  const reading = plan.stages.filter((s) => figuresOn(s, channel).length > 0 || plan.limits.some((l) => l.stage === s.id && l.channel === channel));
  const on = new Set(reading.map((s) => s.id));
  const limits = plan.limits.filter((l) => on.has(l.stage) && (l.channel ?? channel) === channel && alike(l.resolved));
  return {
    shown: [
      ...plan.stages.flatMap((s) => figuresOn(s, channel).map((id) => figureOf(plan, id))),
      ...limits.filter((l) => ['end', 'pressure', 'flow', 'stroke'].includes(l.of)).map((l) => l.resolved),
    ].filter(alike),
    judged: limits.filter((l) => l.of === 'loss' || l.of === 'lossPerMinute'),
  };
}

/** What a gauge is good for, as plain numbers in the unit of its scale. */
const figuresOf = ({ accuracy, resolution, correlation, low }: InstrumentCopy): GaugeFigures => ({
  accuracy: decimalIn(accuracy, low.unit).toNumber(),
  resolution: decimalIn(resolution, low.unit).toNumber(),
  correlation,
});

/** A figure that nobody misses by rounding it: one digit, and never more than it is. */
function oneDigitDown(value: number): number {
  const step = 10 ** Math.floor(Math.log10(value));
  return Number((Math.floor(value / step + 1e-9) * step).toPrecision(1));
}

/** Stage by stage, whether a gauge could prove the loss that is allowed there on an item that loses nothing, and what could. */
function decidesOf(plan: Plan, instrument: InstrumentCopy, judged: readonly ResolvedLimit[]): readonly Decides[] {
  const { unit } = instrument.low;
  const figures = figuresOf(instrument);
  const u = uncertaintyOfLoss(figures, 0);
  return plan.stages.flatMap((stage) =>
    judged
      .filter((l) => l.stage === stage.id)
      .map((limit): Decides => {
        const permitted = decimalIn(limit.resolved, unit).toNumber();
        const can = instrument.fitted || !tooCoarse(permitted, u);
        // The uncertainty of a loss goes with the gauge's figures: so much finer, so much surer.
        const finer = LEAST_ROOM * (permitted / (ONE_SIDED_95 * u));
        const as = (value: number): Quantity => ({ value: oneDigitDown(value * finer), unit });
        return {
          stage: stage.id,
          title: stage.title,
          loss: limit.resolved,
          can,
          would: can || permitted <= 0 ? null : { accuracy: as(figures.accuracy), resolution: as(figures.resolution) },
        };
      }),
  );
}

/**
 * Whether an instrument may stand for a channel of a plan on a day: of the right kind, in date, in range, and fine enough for what is judged on it.
 * @param on ISO date of the run
 * @example instrumentFitness(plan, 'suit', { …, calibrationDue: '2020-01-01' }, '2026-11-25').fit // 'unfit'
 */
export function instrumentFitness(plan: Plan, channel: Channel, instrument: InstrumentCopy, on: string): Fitness {
  const row = plan.procedure.channels[channel];
  if (!row || !sameDimension(instrument.low.unit, row.unit))
    return { fit: 'unfit', against: [{ code: 'otherKind', words: `It does not read ${row?.title ?? channel}.` }], decides: [] };
  const against: Unfit[] = [];
  const due = instrument.calibrationDue;
  if (due === null ? !instrument.fitted : due < on)
    against.push({ code: 'calibrationOut', words: due === null ? 'It was never calibrated.' : `Its calibration ran out on ${due}.` });
  const asked = askedUnmet(plan, channel, { high: instrument.high, ...calibratedBefore(instrument, on) });
  if (asked) against.push({ code: 'notAsAsked', words: `${reasonInWords(asked)}.` });
  const { shown, judged } = needsOf(plan, channel);
  const { unit } = instrument.low;
  const high = decimalIn(instrument.high, unit);
  const beyond = shown.find((q) => decimalIn(q, unit).lt(instrument.low.value) || decimalIn(q, unit).gt(high));
  if (beyond)
    against.push({
      code: 'rangeShort',
      words: `It cannot show ${showQuantity(beyond)}: it reads ${showQuantity(instrument.low)} to ${showQuantity(instrument.high)}.`,
    });
  // The tightest loss decides: that of the kit's own proof, where it has one.
  const [loss] = judged.map((l) => l.resolved).sort((a, b) => decimalIn(a, unit).minus(decimalIn(b, unit)).toNumber());
  if (loss) {
    const permitted = decimalIn(loss, unit).toNumber();
    const figures = figuresOf(instrument);
    if (figures.resolution > permitted * COARSE_SHARE)
      against.push({ code: 'coarse', words: `Its steps of ${showQuantity(instrument.resolution)} are coarse for a loss of ${showQuantity(loss)}.` });
    if (!instrument.fitted && tooCoarse(permitted, uncertaintyOfLoss(figures, 0)))
      against.push({ code: 'cannotProve', words: `It could not prove ${showQuantity(loss)} even on an item that loses nothing.` });
  }
  return {
    fit: against.length === 0 ? 'fits' : against.some((a) => grave.has(a.code)) ? 'unfit' : 'careful',
    against,
    decides: decidesOf(plan, instrument, judged),
  };
}
