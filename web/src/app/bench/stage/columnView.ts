import {
  attemptedOf,
  channelsRead,
  crossingsSoFar,
  decimalIn,
  figureOf,
  readingsOf,
  sameDimension,
  showClock,
  showQuantity,
  unitLabel,
  type Next,
  type Plan,
  type Quantity,
  type RunState,
  type Stage,
  type Unit,
  byKind,
  type Attempted,
  type MethodOf,
} from '@grellin/core';

/** A stretch of the scale: one the needle must stand in now, or one that the rule set allows. */
export interface ColumnBand {
  readonly low: number;
  readonly high: number;
  readonly label: string;
  readonly kind: 'wanted' | 'allowed';
}

/** One gauge drawn as a column, with what it showed over the last while beside it. */
export interface ColumnView {
  readonly channel: string;
  readonly title: string;
  readonly unit: string;
  readonly low: number;
  readonly high: number;
  readonly ticks: readonly number[];
  readonly value: number | null;
  readonly bands: readonly ColumnBand[];
  readonly lines: readonly { readonly value: number; readonly label: string }[];
  /** [seconds before now (negative), value] */
  readonly trace: readonly (readonly [number, number])[];
}

/** The columns of a stage, and a watch that the crossings start and stop by themselves. */
export interface ColumnsView {
  readonly columns: readonly ColumnView[];
  readonly watch: { readonly label: string; readonly shown: string; readonly running: boolean } | null;
}

/** How far back the trace beside a column goes, s. */
export const TRACE_S = 90;
const MOST_POINTS = 240;
const FORWARD: ReadonlySet<string> = new Set(['<', '<=']);

/** About six round steps over a range. */
export function niceTicks(low: number, high: number): readonly number[] {
  const rough = (high - low) / 6;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = ([1, 2, 5, 10].find((s) => s * power >= rough) ?? 10) * power;
  const first = Math.ceil(low / step - 1e-9);
  const count = Math.floor(high / step + 1e-9) - first + 1;
  return Array.from({ length: Math.max(0, count) }, (_, i) => Number(((first + i) * step).toPrecision(12)));
}

/** The limits of a stage on one channel, as stretches: a least and a most together are one. */
function allowed(plan: Plan, stage: Stage, channel: string, unit: Unit): ColumnBand[] {
  const limits = plan.limits.filter((l) => l.stage === stage.id && (l.channel ?? channel) === channel && sameDimension(l.resolved.unit, unit));
  const bounds = limits.filter((l) => ['pressure', 'flow', 'end', 'count'].includes(l.of));
  if (bounds.length === 0) return [];
  const at = (q: Quantity): number => decimalIn(q, unit).toNumber();
  const most = bounds.filter((l) => FORWARD.has(l.op));
  const least = bounds.filter((l) => !FORWARD.has(l.op));
  const high = most.length === 0 ? Infinity : Math.min(...most.map((l) => at(l.resolved)));
  const low = least.length === 0 ? -Infinity : Math.max(...least.map((l) => at(l.resolved)));
  const label =
    low === -Infinity
      ? `at most ${showQuantity({ value: high, unit })}`
      : high === Infinity
        ? `at least ${showQuantity({ value: low, unit })}`
        : `${low} to ${showQuantity({ value: high, unit })}`;
  return [{ low, high, label, kind: 'allowed' }];
}

function wanted(plan: Plan, stage: Stage, channel: string, unit: Unit, n: Next): ColumnBand[] {
  const here = n.kind === 'reach' ? n.step.kind === 'reach' && n.step.channel === channel : n.kind === 'start' && pressureOf(stage) === channel;
  // The band that a flow must keep the pressure in all the while.
  const band = byKind({ makeUpFlow: (m) => (m.pressure === channel && n.kind === 'hold' ? m.band : null) }, stage.method);
  const window = here && 'low' in n ? n : band ? { low: figureOf(plan, band.low), high: figureOf(plan, band.high) } : null;
  if (!window) return [];
  const { low, high } = window;
  return [
    { low: decimalIn(low, unit).toNumber(), high: decimalIn(high, unit).toNumber(), label: `${showQuantity(low)} to ${showQuantity(high)}`, kind: 'wanted' },
  ];
}

function pressureOf(stage: Stage): string | null {
  return byKind({ makeUpFlow: (m) => m.pressure, expansion: (m) => m.pressure }, stage.method) ?? channelsRead(stage.method)[0] ?? null;
}

function columnOf(plan: Plan, state: RunState, stage: Stage, channel: string, n: Next, now: number): ColumnView {
  const row = plan.procedure.channels[channel];
  const unit = row?.unit ?? '1';
  const since = now - TRACE_S * 1000;
  const readings = readingsOf(state, channel);
  const value = readings.at(-1);
  const recent = readings.between(since, Number.POSITIVE_INFINITY);
  const every = Math.max(1, Math.ceil(recent.length / MOST_POINTS));
  const trace = recent
    .filter((_, i) => i % every === 0 || i === recent.length - 1)
    .map((r): readonly [number, number] => [(r.at - now) / 1000, decimalIn(r, unit).toNumber()]);
  const bands = [...wanted(plan, stage, channel, unit, n), ...allowed(plan, stage, channel, unit)];
  const crossed = byKind({ elapsed: (m) => (m.channel === channel ? [m.from, m.to] : []) }, stage.method) ?? [];
  const lines = crossed.map((id) => figureOf(plan, id)).map((q) => ({ value: decimalIn(q, unit).toNumber(), label: showQuantity(q) }));
  const shown = value ? decimalIn(value, unit).toNumber() : null;
  const edges = [...bands.flatMap((b) => [b.low, b.high]), ...lines.map((l) => l.value), ...trace.map((p) => p[1]), ...(shown === null ? [] : [shown])].filter(
    Number.isFinite,
  );
  const instrument = state.opened?.instruments[channel];
  const scale =
    instrument && sameDimension(instrument.low.unit, unit) ? [decimalIn(instrument.low, unit).toNumber(), decimalIn(instrument.high, unit).toNumber()] : [0, 1];
  const [bottom = 0, top = 1] = edges.length === 0 ? scale : [Math.min(...edges), Math.max(...edges)];
  const whole = (scale[1] ?? 1) - (scale[0] ?? 0);
  // A gauge that has shown nothing but noise about nothing is drawn with the beginning of its dial.
  const least = Math.max(Math.abs(top), Math.abs(bottom)) <= whole / 100 ? whole / 10 : 0;
  const air = Math.max((top - bottom) * 0.25, Math.abs(top) * 0.04, least);
  // The whole dial where the work is spread over it; otherwise the part that is worked in.
  const wide = top - bottom > whole * 0.35;
  // A dial that begins at nothing is not drawn below it, unless the needle is there.
  const floor = Math.min(scale[0] ?? 0, bottom);
  const low = wide ? floor : Math.max(floor, bottom - air);
  const high = wide ? Math.max(top + air * 0.2, Math.min(scale[1] ?? top, top + air)) : top + air;
  return { channel, title: row?.title ?? channel, unit: unitLabel(unit), low, high, ticks: [], value: shown, bands, lines, trace };
}

/** Gauges of one unit are compared by eye: they get one scale. */
function onOneScale(columns: readonly ColumnView[]): readonly ColumnView[] {
  return columns.map((c) => {
    const alike = columns.filter((other) => other.unit === c.unit);
    const low = Math.min(...alike.map((a) => a.low));
    const high = Math.max(...alike.map((a) => a.high));
    const bands = c.bands.map((b) => ({ ...b, low: Math.max(b.low, low), high: Math.min(b.high, high) }));
    return { ...c, low, high, bands, ticks: niceTicks(low, high) };
  });
}

function watchOf(plan: Plan, state: RunState, stage: Stage, now: number): ColumnsView['watch'] {
  const attempt = state.attempts[stage.id]?.at(-1);
  return attempt ? (byKind({ elapsed: (m) => stopWatch(attemptedOf(plan, state, { ...stage, method: m }, attempt), now) }, stage.method) ?? null) : null;
}

function stopWatch(at: Attempted<MethodOf<'elapsed'>>, now: number): ColumnsView['watch'] {
  const { plan, method } = at;
  const { from, to } = crossingsSoFar(at);
  const start = showQuantity(figureOf(plan, method.from));
  if (!from) return { label: `The watch starts at ${start}`, shown: '0:00', running: false };
  return to
    ? { label: `From ${start} to ${showQuantity(figureOf(plan, method.to))}`, shown: `${((to.at - from.at) / 1000).toFixed(1)} s`, running: false }
    : { label: `Since ${start}`, shown: showClock(now - from.at), running: true };
}

/** The columns of a stage that watches gauges. */
export function columnsView(plan: Plan, state: RunState, stage: Stage, n: Next, now: number): ColumnsView {
  const columns = channelsRead(stage.method)
    .filter((c) => state.opened?.instruments[c])
    .map((channel) => columnOf(plan, state, stage, channel, n, now));
  return { columns: onOneScale(columns), watch: watchOf(plan, state, stage, now) };
}
