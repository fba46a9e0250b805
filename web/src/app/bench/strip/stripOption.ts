import type { CustomSeriesOption, LineSeriesOption } from 'echarts/charts';
import type { GridComponentOption, MarkAreaComponentOption } from 'echarts/components';
import type { ComposeOption } from 'echarts/core';
import { axisTime, type StripView } from './stripView';

export type StripOption = ComposeOption<LineSeriesOption | CustomSeriesOption | GridComponentOption | MarkAreaComponentOption>;

/** Colours of the theme in force, read from the page's tokens. */
export interface StripColours {
  readonly ink: string;
  readonly faint: string;
  readonly rule: string;
  readonly accent: string;
  readonly wedge: string;
  readonly beyond: string;
  readonly soft: string;
  readonly panel: string;
}

type Corner = readonly [number, number];

/** A filled polygon in the chart's own coordinates. */
function polygon(corners: readonly Corner[], fill: string): CustomSeriesOption {
  return {
    type: 'custom',
    silent: true,
    clip: true,
    z: 1,
    data: [[0]],
    renderItem: (_params, api) => ({ type: 'polygon', shape: { points: corners.map((c) => api.coord([c[0], c[1]])) }, style: { fill } }),
  };
}

function wedgeSeries(view: StripView, c: StripColours): CustomSeriesOption[] {
  const w = view.wedge;
  if (!w) return [];
  const low = Math.min(view.y[0], w.limit);
  return [
    polygon([[w.from, w.start], [w.until, w.limit], [w.until, w.start]], c.wedge), // prettier-ignore
    polygon([[w.from, w.start], [w.until, w.limit], [w.until, low], [w.from, low]], c.beyond), // prettier-ignore
  ];
}

/** A round step for the time axis: five to eight labels, on whole half-minutes or minutes. */
function timeStep(span: number): number {
  return [10_000, 15_000, 30_000, 60_000, 120_000, 300_000, 600_000].find((s) => span / s <= 8) ?? 1_200_000;
}

/** What ECharts draws for a strip. Pure. */
export function stripOption(view: StripView, c: StripColours): StripOption {
  const step = timeStep(view.x[1] - view.x[0]);
  const ticks: number[] = [];
  for (let t = Math.ceil((view.x[0] - view.zero) / step) * step; t + view.zero <= view.x[1]; t += step) ticks.push(t + view.zero);
  const [main, ...others] = view.lines;
  const lines = [...others, ...(main ? [main] : [])].map((l): LineSeriesOption => ({
    type: 'line',
    name: l.title,
    data: l.points.map(([at, value]) => [at, value]),
    showSymbol: false,
    clip: true,
    silent: true,
    animation: false,
    z: l.judged ? 4 : 3,
    sampling: 'lttb',
    lineStyle: { color: l.judged ? c.ink : c.faint, width: l.judged ? 3 : 1.5, type: l.judged ? 'solid' : 'dashed' },
    ...(l !== main ? { endLabel: { show: true, formatter: l.title, color: c.faint, fontFamily: 'IBM Plex Sans', fontSize: 13, offset: [-110, 16] } } : {}),
  }));
  const newest = main?.points.at(-1);
  const marks: LineSeriesOption = {
    type: 'line',
    data: newest ? [[newest[0], newest[1]]] : [],
    symbol: 'circle',
    symbolSize: 13,
    itemStyle: { color: c.ink },
    silent: true,
    animation: false,
    z: 5,
    markArea: {
      silent: true,
      data: [
        ...view.phases.map((p): [object, object] => [
          {
            name: p.label,
            xAxis: p.from,
            itemStyle: { color: c.soft, opacity: 0.6, borderColor: c.rule, borderWidth: 1 },
            label: { color: c.faint, position: 'insideTopLeft', fontFamily: 'IBM Plex Sans', fontSize: 13 },
          },
          { xAxis: p.to },
        ]),
        ...(view.window ? [[{ yAxis: view.window.low, itemStyle: { color: c.wedge } }, { yAxis: view.window.high }] as [object, object]] : []),
      ],
    },
    markLine: {
      silent: true,
      symbol: 'none',
      animation: false,
      data: [
        ...view.levels.map((l) => ({
          yAxis: l.value,
          lineStyle: { color: c.accent, width: 2, type: 'dashed' as const },
          label: { formatter: l.label, color: c.ink, position: 'insideStartTop' as const, fontFamily: 'IBM Plex Sans', fontWeight: 600 as const, fontSize: 14 },
        })),
        ...view.times.map((t) => ({
          xAxis: t.at,
          lineStyle: { color: c.ink, width: 3, type: 'solid' as const },
          label: { formatter: t.label, color: c.ink, position: 'end' as const, fontFamily: 'IBM Plex Sans', fontWeight: 600 as const, fontSize: 13 },
        })),
        ...(view.wedge
          ? [
              { xAxis: view.wedge.until, lineStyle: { color: c.ink, width: 3, type: 'solid' as const }, label: { show: false } },
              {
                yAxis: view.wedge.limit,
                lineStyle: { color: c.ink, width: 1, type: 'dotted' as const },
                label: {
                  formatter: `limit ${Number(view.wedge.limit.toPrecision(4))}`,
                  color: c.ink,
                  position: 'insideStartBottom' as const,
                  distance: 8,
                  fontFamily: 'IBM Plex Sans',
                  fontWeight: 600 as const,
                  fontSize: 13,
                },
              },
            ]
          : []),
      ],
    },
  };
  const label = { color: c.faint, fontFamily: 'B612', fontSize: 13 };
  const f = view.forecast;
  // Where the hold is foretold to end: a bar over its interval, and the value on it.
  const forecast: LineSeriesOption[] = f
    ? [
        {
          type: 'line',
          data: [
            [f.at, f.low],
            [f.at, f.high],
          ],
          symbol: 'none',
          silent: true,
          animation: false,
          clip: true,
          z: 5,
          lineStyle: { color: c.accent, width: 9, opacity: 0.55 },
        },
        {
          type: 'line',
          data: [[f.at, f.value]],
          symbol: 'diamond',
          symbolSize: 13,
          itemStyle: { color: c.accent },
          silent: true,
          animation: false,
          clip: true,
          z: 6,
        },
      ]
    : [];
  return {
    animation: false,
    grid: { left: 64, right: 24, top: 34, bottom: 34 },
    xAxis: {
      type: 'value',
      min: view.x[0],
      max: view.x[1],
      axisLine: { lineStyle: { color: c.rule } },
      axisTick: { show: false, customValues: ticks },
      axisLabel: { ...label, customValues: ticks, formatter: (t: number) => axisTime(Math.round(t - view.zero)) },
      splitLine: { show: false },
    },
    yAxis: {
      type: 'value',
      min: view.y[0],
      max: view.y[1],
      name: view.unit,
      nameTextStyle: { ...label, fontFamily: 'IBM Plex Sans', align: 'right' },
      axisLabel: { ...label, showMinLabel: false, showMaxLabel: false, formatter: (v: number) => String(Number(v.toPrecision(4))) },
      splitLine: { lineStyle: { color: c.rule, opacity: 0.6 } },
    },
    series: [...wedgeSeries(view, c), ...lines, marks, ...forecast],
  };
}
