import {
  allowanceWedge,
  channelsRead,
  decimalIn,
  decimalsOf,
  figureOf,
  preferred,
  readingsOf,
  sameDimension,
  showClock,
  showDecimal,
  showQuantity,
  stepChannels,
  stageTrace,
  stageUnit,
  unitLabel,
  decimal,
  type Next,
  type Plan,
  type Quantity,
  type RunState,
  type Showing,
  type Stage,
  type UnitChoices,
  factsOf,
  limitedChannels,
} from '@grellin/core';

export interface Gauge {
  readonly channel: string;
  readonly title: string;
  /** The newest value in the unit that the person reads in, as the instrument's steps allow; null before the first reading. */
  readonly value: string | null;
  readonly unit: string;
  /** The same in the unit of the source, where that is another. */
  readonly also: string | null;
  readonly window: string | null;
  readonly inside: boolean | null;
}

export interface HoldView {
  readonly left: string;
  readonly label: string;
  readonly percent: number | null;
}

/** A figure as the person reads it, with the one of its source in brackets. */
export function inBoth(q: Quantity, choices: UnitChoices, step: number): string {
  const liked = preferred(q, choices, step);
  return liked ? `${showQuantity(liked, liked.decimals)} (${showQuantity(q)})` : showQuantity(q);
}

/** Where a gauge has to stand for what comes next; one end may be open. */
interface Wanted {
  readonly low?: Quantity;
  readonly high?: Quantity;
}

function shownWindow(plan: Plan, { shown }: Pick<Showing, 'shown'>, channel: string): Wanted | null {
  if (!shown || 'agree' in shown || shown.channel !== channel) return null;
  return { ...(shown.low ? { low: figureOf(plan, shown.low) } : {}), ...(shown.high ? { high: figureOf(plan, shown.high) } : {}) };
}

/** Where a channel has to stand for what comes next; null where nothing is asked of it. */
function wantedOn(plan: Plan, n: Next, channel: string, unit: string): Wanted | null {
  switch (n.kind) {
    // A start's window is one of pressure: the flow and the water beside it have none.
    case 'start':
      return sameDimension(n.low.unit, unit) ? n : null;
    case 'reach':
      return stepChannels(n.step).includes(channel) ? n : null;
    case 'wait':
      return n.step.kind === 'wait' && n.step.keep?.channel === channel
        ? { low: figureOf(plan, n.step.keep.low), high: figureOf(plan, n.step.keep.high) }
        : null;
    case 'act':
      return n.step.kind === 'act' ? shownWindow(plan, n.step, channel) : null;
    case 'answer':
      return shownWindow(plan, n.item, channel);
    default:
      return null;
  }
}

function windowInWords({ low, high }: Wanted, said: (q: Quantity) => string): string | null {
  if (low && high) return `${said(low)} to ${said(high)}`;
  if (low) return $localize`at least ${said(low)}:low:`;
  return high ? $localize`at most ${said(high)}:high:` : null;
}

/** The gauges of the stage that is shown, as they stand now. */
export function gaugesOf(plan: Plan, state: RunState, n: Next, shown: Stage | null, choices: UnitChoices): readonly Gauge[] {
  if (!shown) return [];
  // Push-rods are drawn side by side; only the one that is measured now is a gauge.
  const read = factsOf(shown.method).oneAtATime ? (n.kind === 'read' ? [n.channel] : []) : channelsRead(shown.method);
  // What a step brings into its window, or is shown by, is a gauge as well, where the method itself reads none.
  const awaited = 'step' in n ? stepChannels(n.step) : [];
  return [...new Set([...read, ...awaited])]
    .filter((c) => state.opened?.instruments[c])
    .map((channel) => {
      const own = plan.procedure.channels[channel]?.unit ?? 'Pa';
      // What is traced is read in the unit of its limits; an engine beside it is not.
      const traced = factsOf(shown.method).trace ? stageUnit(plan, shown.id) : own;
      const unit = sameDimension(traced, own) ? traced : own;
      const newest = readingsOf(state, channel).at(-1);
      const step = state.opened?.instruments[channel]?.resolution;
      const places = step ? (step.unit === unit ? decimalsOf(step.value) : Math.max(0, Math.ceil(-Math.log10(decimalIn(step, unit).toNumber())))) : 2;
      const wanted = wantedOn(plan, n, channel, unit);
      const keeps = (q: Quantity | undefined, sign: 1 | -1): boolean => !q || !newest || decimalIn(newest, q.unit).cmp(q.value) !== -sign;
      const inside = wanted && newest ? keeps(wanted.low, 1) && keeps(wanted.high, -1) : null;
      const stands = newest ? showDecimal(decimalIn(newest, unit), places) : null;
      const smallest = 10 ** -places;
      const liked = newest ? preferred({ value: decimalIn(newest, unit).toNumber(), unit }, choices, smallest) : null;
      return {
        channel,
        title: plan.procedure.channels[channel]?.title ?? channel,
        value: liked ? showDecimal(decimal(liked.value), liked.decimals) : stands,
        unit: unitLabel(liked?.unit ?? unit),
        also: liked ? `${stands ?? '–'} ${unitLabel(unit)}` : null,
        window: wanted && windowInWords(wanted, (q) => inBoth(q, choices, smallest)),
        inside,
      };
    });
}

/** How much of the allowance has gone so far, by the newest reading of the worst judged channel. */
function percentSoFar(plan: Plan, state: RunState, stage: Stage): number | null {
  if (factsOf(stage.method).trace?.(stage.method).hold === undefined) return null;
  const shares = limitedChannels(stage.method).flatMap((channel) => {
    const trace = stageTrace(plan, state, stage.id, channel);
    if (!trace?.hold) return [];
    const { startAt } = trace.hold;
    const start = trace.points.findLast(([at]) => at <= startAt)?.[1];
    const newest = trace.points.at(-1)?.[1];
    const wedge = start === undefined ? null : allowanceWedge(plan, stage.id, channel, start, trace.unit);
    return start === undefined || newest === undefined || !wedge || wedge.permitted <= 0
      ? []
      : [Math.max(0, Math.round(((start - newest) / wedge.permitted) * 100))];
  });
  return shares.length === 0 ? null : Math.max(...shares);
}

/** The clock of a wait or a hold, with how much of the allowance has gone; null where nothing is timed. */
export function timerOf(plan: Plan, state: RunState, n: Next, now: number): HoldView | null {
  if (n.kind === 'wait') return { left: showClock(n.until - now), label: 'Time left to settle', percent: null };
  if (n.kind === 'hold') return { left: showClock(n.until - now), label: 'Time left in the hold', percent: percentSoFar(plan, state, n.stage) };
  const hold = n.kind === 'start' || n.kind === 'reach' ? factsOf(n.stage.method).trace?.(n.stage.method).hold : undefined;
  if (hold !== undefined) return { left: showClock(decimalIn(figureOf(plan, hold), 'ms').toNumber()), label: 'The hold will last', percent: null };
  return null;
}
