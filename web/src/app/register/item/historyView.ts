import type { SeriesView } from '@grellin/contract';
import { daysBetween } from '@grellin/core';

/** A line of a drawing, and what it is. */
export interface DrawnLine {
  readonly path: string;
  readonly record: string;
  readonly newest: boolean;
}

export interface Tick {
  readonly at: number;
  readonly label: string;
}

/** An item's strips over one another, and its tests over time, in the units of two drawings. */
export interface HistoryView {
  readonly strips: readonly DrawnLine[];
  readonly stripTicks: readonly Tick[];
  readonly points: readonly { readonly x: number; readonly y: number; readonly failed: boolean; readonly words: string }[];
  readonly line: string | null;
  /** Where it crosses, with its interval, across the drawing. */
  readonly crossing: { readonly x: number; readonly low: number; readonly high: number } | null;
  /** Where the whole allowance is used, down the drawings. */
  readonly allowanceY: number;
  readonly dateTicks: readonly Tick[];
  readonly words: string;
}

export const WIDTH = 360;
export const HEIGHT = 190;
const LEFT = 34;
const BOTTOM = 22;
const TOP = 8;
/** A line is drawn on this far past the last test, as a share of what the tests span. */
const AHEAD_SHARE = 0.6;

const scale = (low: number, high: number, from: number, to: number) => (v: number) => from + ((v - low) / (high - low || 1)) * (to - from);

function inWords(s: SeriesView): string {
  const o = s.outlook;
  if (!o) return 'Three tests on different days are needed to see where it goes.';
  const rate = `${o.perYear > 0 ? '+' : o.perYear < 0 ? '−' : ''}${String(Math.abs(o.perYear))} % of the allowance a year`;
  if (!o.stands) return `${rate}, over ${String(o.n)} tests. ${o.earliest ? `Not before ${o.earliest} at 95 %; no date can be named yet.` : 'It will not cross its limit.'}`; // prettier-ignore
  const between = o.low && o.high ? `, between ${o.low} and ${o.high}` : '';
  return `${rate}, over ${String(o.n)} tests. If nothing is done it crosses its limit on ${o.crosses ?? '?'}${between}.`;
}

/** Draws a series. Pure. */
export function historyView(s: SeriesView, today: string): HistoryView {
  const most = Math.max(110, ...s.points.map((p) => p.percent), ...s.strips.flatMap((r) => r.points.map((p) => p[1]))) * 1.05;
  const least = Math.min(0, ...s.strips.flatMap((r) => r.points.map((p) => p[1])));
  const y = scale(least, most, HEIGHT - BOTTOM, TOP);
  const minutes = Math.max(1, ...s.strips.flatMap((r) => r.points.map((p) => p[0])));
  const sx = scale(0, minutes, LEFT, WIDTH - 6);
  const path = (points: readonly (readonly [number, number])[], fx: (v: number) => number): string =>
    points.map(([a, b], i) => `${i === 0 ? 'M' : 'L'}${fx(a).toFixed(1)} ${y(b).toFixed(1)}`).join('');

  const first = s.points[0]?.on ?? today;
  const day = (on: string): number => daysBetween(first, on);
  const last = s.points.at(-1)?.on ?? today;
  const span = Math.max(30, day(last));
  const o = s.outlook;
  const end = Math.max(day(today), span) + span * AHEAD_SHARE;
  const dx = scale(0, end, LEFT, WIDTH - 6);
  const clamp = (on: string | null, otherwise: number): number => (on === null ? otherwise : Math.min(end, Math.max(0, day(on))));
  const newest = s.points.at(-1)?.percent ?? 0;
  const toX = o?.crosses && day(o.crosses) <= end * 1.5 ? day(o.crosses) : null;
  // The line goes through what it says: the limit on the day of the crossing, and its slope back from there.
  const line =
    o && toX !== null && o.perYear > 0
      ? path(
          [
            [0, 100 - (o.perYear * toX) / 365.25],
            [Math.min(end, toX), 100 - (o.perYear * Math.max(0, toX - end)) / 365.25],
          ],
          dx,
        )
      : null;
  const years = new Set<string>();
  for (let d = 0; d <= end; d += 30) {
    const date = new Date(Date.parse(`${first}T00:00:00Z`) + d * 86_400_000);
    years.add(`${String(date.getUTCFullYear())}-01-01`);
  }
  return {
    strips: s.strips.map((r, i) => ({ path: path(r.points, sx), record: r.record, newest: i === s.strips.length - 1 })),
    stripTicks: [0, minutes / 2, minutes].map((m, i) => ({ at: sx(m) - i * 10, label: `${String(Number(m.toPrecision(2)))} min` })),
    points: s.points.map((p) => ({
      x: dx(day(p.on)),
      y: y(p.percent),
      failed: p.verdict !== 'pass',
      words: `${p.on}: ${String(p.percent)} %${p.verdict === 'pass' ? '' : ', failed'} (${p.record})`,
    })),
    line,
    crossing: o?.stands && o.crosses ? { x: dx(clamp(o.crosses, end)), low: dx(clamp(o.low, 0)), high: dx(clamp(o.high, end)) } : null,
    allowanceY: y(100),
    dateTicks: [...years].filter((on) => day(on) >= 0 && day(on) <= end).map((on) => ({ at: dx(day(on)), label: on.slice(0, 4) })),
    words: s.points.length === 0 ? '' : `Last used ${String(newest)} %. ${inWords(s)}`,
  };
}
