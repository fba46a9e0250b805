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
  stageTrace,
  stageUnit,
  unitLabel,
  decimal,
  type Next,
  type Plan,
  type Quantity,
  type RunState,
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

/** The gauges of the stage that is shown, as they stand now. */
export function gaugesOf(plan: Plan, state: RunState, n: Next, shown: Stage | null, choices: UnitChoices): readonly Gauge[] {
  if (!shown) return [];
  // Push-rods are drawn side by side; only the one that is measured now is a gauge.
  const read = factsOf(shown.method).oneAtATime ? (n.kind === 'read' ? [n.channel] : []) : channelsRead(shown.method);
  // What a step brings into its window is a gauge as well, where the method itself reads none.
  const awaited = n.kind === 'reach' && n.step.kind === 'reach' ? [n.step.channel] : [];
  return [...new Set([...read, ...awaited])]
    .filter((c) => state.opened?.instruments[c])
    .map((channel) => {
      const unit = factsOf(shown.method).trace ? stageUnit(plan, shown.id) : (plan.procedure.channels[channel]?.unit ?? 'Pa');
      const newest = readingsOf(state, channel).at(-1);
      const step = state.opened?.instruments[channel]?.resolution;
      const places = step ? (step.unit === unit ? decimalsOf(step.value) : Math.max(0, Math.ceil(-Math.log10(decimalIn(step, unit).toNumber())))) : 2;
      const reach = n.kind === 'reach' && n.step.kind === 'reach' && n.step.channel === channel;
      // A start's window is one of pressure: the flow and the water beside it have none.
      const window = (reach || n.kind === 'start') && 'low' in n && sameDimension(n.low.unit, unit) ? n : null;
      const inside =
        window && newest ? decimalIn(newest, window.low.unit).gte(window.low.value) && decimalIn(newest, window.high.unit).lte(window.high.value) : null;
      const own = newest ? showDecimal(decimalIn(newest, unit), places) : null;
      const smallest = 10 ** -places;
      const liked = newest ? preferred({ value: decimalIn(newest, unit).toNumber(), unit }, choices, smallest) : null;
      return {
        channel,
        title: plan.procedure.channels[channel]?.title ?? channel,
        value: liked ? showDecimal(decimal(liked.value), liked.decimals) : own,
        unit: unitLabel(liked?.unit ?? unit),
        also: liked ? `${own ?? '–'} ${unitLabel(unit)}` : null,
        window: window ? `${inBoth(window.low, choices, smallest)} to ${inBoth(window.high, choices, smallest)}` : null,
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
