import { describe, expect, it } from 'vitest';
import { is, suitRun } from '../../../testing/scriptedRun';
import { stripOption, type StripColours } from './stripOption';
import { axisTime, stripView } from './stripView';

const colours: StripColours = { ink: '#000', faint: '#111', rule: '#222', accent: '#333', wedge: '#444', beyond: '#555', soft: '#666', panel: '#777' };

describe('the decay strip', () => {
  const run = suitRun();
  const inflate = run.plan.stages.find((s) => s.id === 'inflate');
  if (!inflate) throw new Error('no stage');
  const whole = run.upTo(is({ kind: 'ended', stage: 'inflate' }));
  const view = stripView(run.plan, whole, inflate, whole.at, null);

  it('spans the hold and shades the corridor from the start to the limit', () => {
    expect(view?.wedge).toMatchObject({ limit: 3.2 });
    expect(view?.wedge?.start).toBeGreaterThanOrEqual(4);
    expect((view?.wedge?.until ?? 0) - (view?.wedge?.from ?? 0)).toBe(240_000);
    expect(view?.x[1]).toBeGreaterThanOrEqual(view?.wedge?.until ?? 0);
    expect(view?.y[0]).toBeLessThan(3.2);
    expect(view?.unit).toBe('inH2O');
    expect(view?.lines[0]?.points.length).toBeGreaterThan(480);
  });

  it('has a window while one is asked for, and no wedge before the start', () => {
    const filling = run.upTo(is({ kind: 'marked', mark: 'connect' }));
    const early = stripView(run.plan, filling, inflate, filling.at, { low: 5, high: 6 });
    expect(early?.wedge).toBeNull();
    expect(early?.y[1]).toBeGreaterThan(6);
  });

  it('draws nothing for a stage that measures nothing', () => {
    const look = run.plan.stages.find((s) => s.id === 'look');
    expect(look && stripView(run.plan, whole, look, whole.at, null)).toBeNull();
  });

  it('becomes a chart: two polygons, a line, the newest point', () => {
    if (!view) throw new Error('no view');
    const option = stripOption(view, colours);
    const series = option.series as { type: string; data: unknown[] }[];
    expect(series.map((x) => x.type)).toEqual(['custom', 'custom', 'line', 'line']);
    expect(series[2]?.data).toHaveLength(view.lines[0]?.points.length ?? -1);
    expect(series[3]?.data).toHaveLength(1);
  });

  it('names times from the start of the hold', () => expect([-30_000, 0, 90_000].map(axisTime)).toEqual(['−0:30', '0:00', '1:30']));
});
