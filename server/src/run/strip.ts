import { headline, stageTrace, thinned, type Finding, type Plan, type RunState, limitedChannels } from '@grellin/core';

/** Minutes from the start of a hold, and values in the limit's unit. */
export type Strip = readonly (readonly [number, number])[];

const STRIP_POINTS = 90;

/** The hold that decided, as minutes from its start and values in the limit's unit. */
export function stripOf(plan: Plan, state: RunState, findings: readonly Finding[]): Strip {
  const tested = plan.stages.filter((s) => s.phase === 'test' && state.attempts[s.id]);
  const first = headline(plan, findings);
  const stage = tested.find((s) => s.id === first?.stage) ?? tested.at(-1);
  if (!stage) return [];
  const channel = limitedChannels(stage.method)[0] ?? '';
  const trace = stageTrace(plan, state, stage.id, channel);
  if (!trace?.hold) return [];
  const { startAt, until } = trace.hold;
  const inHold = trace.points.filter(([at]) => at >= startAt - 1000 && at <= until + 2000);
  return thinned(inHold, STRIP_POINTS).map(([at, value]) => [(at - startAt) / 60_000, value] as const);
}

/**
 * A strip as shares of what was permitted, so that strips of different pressures lie over one another: the loss so far, per cent of the allowance.
 * @param percent what the whole hold used
 */
export function asAllowance(strip: Strip, percent: number): Strip {
  const [start, end] = [strip[0]?.[1], strip.at(-1)?.[1]];
  if (start === undefined || end === undefined || start === end) return strip.map(([minutes]) => [minutes, 0]);
  return strip.map(([minutes, value]) => [minutes, Number((((start - value) / (start - end)) * percent).toPrecision(4))]);
}
