import { allowanceWedge, decimalIn, showClock, showQuantity, stageTrace, unitLabel, type Plan, type RunState, type Stage, byKind } from '@grellin/core';

export interface StripLine {
  readonly channel: string;
  readonly title: string;
  readonly judged: boolean;
  /** [ms on the run's clock, value in the strip's unit] */
  readonly points: readonly (readonly [number, number])[];
}

export interface StripPhase {
  readonly label: string;
  readonly from: number;
  readonly to: number;
}

/** What the decay strip draws: time across, pressure up, the allowance wedge shaded. */
export interface StripView {
  readonly unit: string;
  readonly lines: readonly StripLine[];
  readonly phases: readonly StripPhase[];
  /** The window that the needle must stand in now. */
  readonly window: { readonly low: number; readonly high: number } | null;
  readonly wedge: { readonly from: number; readonly until: number; readonly start: number; readonly limit: number } | null;
  readonly x: readonly [number, number];
  readonly y: readonly [number, number];
  /** The time that the axis calls zero. */
  readonly zero: number;
  readonly holdMs: number | null;
  /** Values that something is waited for to cross. */
  readonly levels: readonly { readonly value: number; readonly label: string }[];
  /** Moments that the rule set names, ms on the run's clock. */
  readonly times: readonly { readonly at: number; readonly label: string }[];
  /** What is foretold for a moment, with its interval. */
  readonly forecast: { readonly at: number; readonly low: number; readonly value: number; readonly high: number } | null;
}

const short: Readonly<Record<string, string>> = {
  fill: 'fill',
  settle: 'settle',
  'rig-settle': 'cool',
  'let-down': 'let down',
  trim: 'trim',
  'rig-pressure': 'fill',
  charge: 'charge',
  recharge: 'charge',
  'engine-off': 'engine off',
  release: 'release',
  'static-settle': 'settle',
  'applied-settle': 'settle',
  pedal: 'pedal',
  blank: 'blank off',
  connect: 'join',
};

/** The span of the strip before the hold that is kept in sight, as a share of the hold. */
const BEFORE_SHARE = 0.55;
const LEAST_SPAN_MS = 60_000;

function rangeOf(values: readonly number[]): readonly [number, number] {
  const low = Math.min(...values);
  const high = Math.max(...values);
  const air = Math.max((high - low) * 0.08, Math.abs(high) * 0.01, 0.01);
  return [low - air, high + air];
}

/**
 * Computes the strip of the latest attempt at a stage.
 * @param now the run's clock, ms
 * @param window the window that is asked for now, in the strip's unit
 */
export function stripView(plan: Plan, state: RunState, stage: Stage, now: number, window: StripView['window']): StripView | null {
  return (
    byKind(
      { halfLife: (m) => halfLifeStrip(plan, state, stage, m.channel, now, window), decay: (m) => holdStrip(plan, state, stage, m.channels, now, window) },
      stage.method,
    ) ?? null
  );
}

function holdStrip(plan: Plan, state: RunState, stage: Stage, channels: readonly string[], now: number, window: StripView['window']): StripView | null {
  const traces = channels.map((channel) => ({ channel, trace: stageTrace(plan, state, stage.id, channel) }));
  const first = traces[0]?.trace;
  if (!first) return null;
  const { hold, beganAt, marks } = first;
  const judged = (channel: string): boolean => plan.limits.some((l) => l.stage === stage.id && (l.channel ?? channel) === channel);
  const lines = traces.map(({ channel, trace }) => ({
    channel,
    title: plan.procedure.channels[channel]?.title ?? channel,
    judged: judged(channel),
    points: trace?.points ?? [],
  }));

  const end = first.endedAt ?? now;
  const holdMs = hold ? hold.until - hold.clockAt : null;
  const x: readonly [number, number] = hold
    ? [
        Math.max(beganAt, hold.clockAt - Math.max(LEAST_SPAN_MS / 2, (holdMs ?? 0) * BEFORE_SHARE)),
        Math.max(hold.until, Math.min(end, hold.until + (holdMs ?? 0) * 0.1)) + (holdMs ?? 0) * 0.03,
      ]
    : [Math.max(beganAt, end - 15 * LEAST_SPAN_MS), Math.max(beganAt + LEAST_SPAN_MS, end + LEAST_SPAN_MS / 6)];

  const judgedLine = lines.find((l) => l.judged) ?? lines[0];
  const start = hold ? judgedLine?.points.findLast(([at]) => at <= hold.startAt)?.[1] : undefined;
  const limits = hold && start !== undefined && judgedLine ? allowanceWedge(plan, stage.id, judgedLine.channel, start, first.unit) : null;
  const wedge = hold && start !== undefined && limits ? { from: hold.startAt, until: hold.until, start, limit: limits.limit } : null;

  const seen = lines.flatMap((l) => l.points.filter(([at]) => at >= x[0] && at <= x[1]).map((p) => p[1]));
  let y = rangeOf([
    ...seen,
    ...(window ? [window.low, window.high] : []),
    ...(wedge ? [wedge.start, wedge.limit] : []),
    ...(seen.length === 0 && !window ? [0, 1] : []),
  ]);
  if (wedge) {
    // What came before the hold must not squeeze the wedge flat: beyond a few allowances it is cut off.
    const permitted = wedge.start - wedge.limit;
    const inHold = lines.flatMap((l) => (l.judged ? l.points.filter(([at]) => at >= wedge.from).map((p) => p[1]) : []));
    const low = Math.min(wedge.limit - permitted * 0.25, ...inHold.map((v) => v - permitted * 0.1));
    y = [Math.max(y[0], Math.min(low, wedge.start - permitted * 1.4)), Math.min(y[1], wedge.start + permitted * 2.4)];
  }

  const edges = [beganAt, ...marks.map((m) => m.at)];
  const phases = marks
    .map((m, i): StripPhase => ({ label: m.mark === 'start' ? '' : (short[m.mark] ?? m.mark), from: edges[i] ?? beganAt, to: m.at }))
    .filter((p) => p.label !== '' && p.to - p.from > (x[1] - x[0]) * 0.08 && p.to > x[0]);
  return { unit: unitLabel(first.unit), lines, phases, window, wedge, x, y, zero: hold?.clockAt ?? beganAt, holdMs, levels: [], times: [], forecast: null };
}

/** The strip of a half-life: the half is a line to be crossed, and the rule set's times stand on it. */
function halfLifeStrip(plan: Plan, state: RunState, stage: Stage, channel: string, now: number, window: StripView['window']): StripView | null {
  const trace = stageTrace(plan, state, stage.id, channel);
  if (!trace) return null;
  const { points, marks, beganAt, unit } = trace;
  const startAt = marks.find((m) => m.mark === 'start')?.at ?? null;
  const start = startAt === null ? undefined : points.findLast(([at]) => at <= startAt)?.[1];
  const limits = plan.limits.filter((l) => l.stage === stage.id);
  const times =
    startAt === null
      ? []
      : limits.map((l) => ({
          at: startAt + decimalIn(l.resolved, 'ms').toNumber(),
          label: `${l.op === '>=' ? 'at least' : 'by'} ${showQuantity(l.resolved)}`,
        }));
  const end = trace.endedAt ?? now;
  const last = Math.max(end + LEAST_SPAN_MS / 6, ...times.map((t) => t.at + LEAST_SPAN_MS / 2), beganAt + LEAST_SPAN_MS);
  const x: readonly [number, number] = [Math.max(beganAt, startAt === null ? end - 10 * LEAST_SPAN_MS : startAt - LEAST_SPAN_MS / 2), last];
  const levels = start === undefined ? [] : [{ value: start / 2, label: `half: ${Number((start / 2).toPrecision(4))}` }];
  const seen = points.filter(([at]) => at >= x[0]).map((p) => p[1]);
  const y = rangeOf([0, ...seen, ...levels.map((l) => l.value), ...(window ? [window.low, window.high] : []), ...(seen.length === 0 && !window ? [1] : [])]);
  const line = { channel, title: plan.procedure.channels[channel]?.title ?? channel, judged: true, points };
  return {
    unit: unitLabel(unit),
    lines: [line],
    phases: [],
    window,
    wedge: null,
    x,
    y: [Math.min(0, y[0]), y[1]],
    zero: startAt ?? beganAt,
    holdMs: null,
    levels,
    times,
    forecast: null,
  };
}

/** A time on the strip's axis, from its zero: whole steps as `1:00`. */
export function axisTime(ms: number): string {
  return ms < 0 ? `−${showClock(-ms)}` : showClock(ms);
}
