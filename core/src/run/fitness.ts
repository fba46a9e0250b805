import { figureOf, figuresShownOn, type Channel, type Id, type Plan, type Stage } from '../procedure';
import { decimalIn, sameDimension, showQuantity, type Quantity } from '../quantity';
import { tooCoarse, uncertaintyOfLoss } from '../uncertainty';
import type { InstrumentCopy } from './event';

/** What speaks against an instrument for a channel. The first two make a run void; the others make it hard to tell. */
export type UnfitCode = 'otherKind' | 'calibrationOut' | 'rangeShort' | 'coarse' | 'cannotProve';

export interface Unfit {
  readonly code: UnfitCode;
  readonly words: string;
}

export interface Fitness {
  /** `unfit` cannot give a valid result; `careful` may leave the run undecided. */
  readonly fit: 'fits' | 'careful' | 'unfit';
  readonly against: readonly Unfit[];
}

/** A step larger than this share of what is judged makes the last digit decide. Common practice: a third. */
const COARSE_SHARE = 1 / 3;
const grave: ReadonlySet<UnfitCode> = new Set(['otherKind', 'calibrationOut', 'rangeShort']);

/** Ids of the figures that a channel must be able to show in a stage. */
function figuresOn(stage: Stage, channel: Channel): readonly Id[] {
  const steps = stage.steps.flatMap((s) => (s.kind === 'reach' && s.channel === channel ? [s.low, s.high] : []));
  return [...steps, ...figuresShownOn(stage.method, channel)];
}

/** What a channel must show, and the smallest loss that is judged on it. */
function needsOf(plan: Plan, channel: Channel): { readonly shown: readonly Quantity[]; readonly judged: readonly Quantity[] } {
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
    judged: limits.filter((l) => l.of === 'loss' || l.of === 'lossPerMinute').map((l) => l.resolved),
  };
}

/**
 * Whether an instrument may stand for a channel of a plan on a day: of the right kind, in date, in range, and fine enough for what is judged on it.
 * @param on ISO date of the run
 * @example instrumentFitness(plan, 'suit', { …, calibrationDue: '2020-01-01' }, '2026-11-25').fit // 'unfit'
 */
export function instrumentFitness(plan: Plan, channel: Channel, instrument: InstrumentCopy, on: string): Fitness {
  const row = plan.procedure.channels[channel];
  if (!row || !sameDimension(instrument.low.unit, row.unit))
    return { fit: 'unfit', against: [{ code: 'otherKind', words: `It does not read ${row?.title ?? channel}.` }] };
  const against: Unfit[] = [];
  const due = instrument.calibrationDue;
  if (due === null ? !instrument.fitted : due < on)
    against.push({ code: 'calibrationOut', words: due === null ? 'It was never calibrated.' : `Its calibration ran out on ${due}.` });
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
  const [loss] = [...judged].sort((a, b) => decimalIn(a, unit).minus(decimalIn(b, unit)).toNumber());
  if (loss) {
    const permitted = decimalIn(loss, unit).toNumber();
    const figures = {
      accuracy: decimalIn(instrument.accuracy, unit).toNumber(),
      resolution: decimalIn(instrument.resolution, unit).toNumber(),
      correlation: instrument.correlation,
    };
    if (figures.resolution > permitted * COARSE_SHARE)
      against.push({ code: 'coarse', words: `Its steps of ${showQuantity(instrument.resolution)} are coarse for a loss of ${showQuantity(loss)}.` });
    if (!instrument.fitted && tooCoarse(permitted, uncertaintyOfLoss(figures, 0)))
      against.push({ code: 'cannotProve', words: `It could not prove ${showQuantity(loss)} even on an item that loses nothing.` });
  }
  return { fit: against.length === 0 ? 'fits' : against.some((a) => grave.has(a.code)) ? 'unfit' : 'careful', against };
}
