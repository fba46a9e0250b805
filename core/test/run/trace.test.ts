import { describe, expect, it } from 'vitest';
import { practiceRun } from '../../src/practice';
import { allowanceWedge, emptyRun, stageTrace, stageUnit, thinned } from '../../src/run';
import { brakes, planFor, suit } from '../testing/practiceRuns';

describe('what a strip is drawn from', () => {
  it('is compared in the unit of the rule set, also where its limit is a share', () => {
    const units = (['in-h2o-4', 'mm-h2o-100', 'mbar-16.5', 'in-h2o-2'] as const).map((r) =>
      stageUnit(
        planFor('suit.inflation', r, { suit: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } }),
        'inflate',
      ),
    );
    expect(units).toEqual(["[in_i'H2O]", 'mm[H2O]', 'mbar', "[in_i'H2O]"]);
    expect(stageUnit(planFor('brakes.applied-loss', 'bus-b', { vehicle: {} }), 'applied')).toBe('[psi]');
  });

  // The corridor's lower edge: the limit itself, the start less the permitted loss, or a share of the start.
  it.each([
    ['in-h2o-4', 4.04, 3.2, 0.84],
    ['mm-h2o-100', 101, 80, 21],
    ['mbar-16.5', 16.7, 13.7, 3],
    ['in-h2o-2', 2.04, 1.632, 0.408],
  ])('the wedge of %s from %s ends at %s', (ruleSet, start, limit, permitted) => {
    const plan = planFor('suit.inflation', ruleSet, { suit: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } });
    const wedge = allowanceWedge(plan, 'inflate', 'suit', start, stageUnit(plan, 'inflate'));
    expect(wedge?.limit).toBeCloseTo(limit, 9);
    expect(wedge?.permitted).toBeCloseTo(permitted, 9);
  });

  it('a gauge that is only recorded has no wedge, one that is judged has; a first drop makes none', () => {
    const general = planFor('brakes.applied-loss', 'single', { vehicle: {} });
    expect(allowanceWedge(general, 'applied', 'secondary', 115, '[psi]')).toBeNull();
    expect(allowanceWedge(general, 'applied', 'primary', 115, '[psi]')).toEqual({ limit: 112, permitted: 3 });
    const both = planFor('brakes.applied-loss', 'fire-apparatus', { vehicle: {} });
    expect(allowanceWedge(both, 'applied', 'secondary', 115, '[psi]')).toEqual({ limit: 112, permitted: 3 });
    const busB = planFor('brakes.applied-loss', 'bus-b', { vehicle: {} });
    expect(allowanceWedge(busB, 'applied', 'primary', 115, '[psi]')?.permitted).toBe(3); // not the first drop's 15
    expect(allowanceWedge(general, 'gather', 'primary', 115, '[psi]')).toBeNull();
  });

  it('the trace has every reading of the attempt in order, and where the hold lay', () => {
    const { plan, state } = suit('mbar-16.5', 'none');
    const trace = stageTrace(plan, state, 'inflate', 'suit');
    const times = trace?.points.map((p) => p[0]) ?? [];
    expect(times.every((t, i) => i === 0 || t - (times[i - 1] ?? 0) === 500)).toBe(true);
    expect((trace?.hold?.until ?? 0) - (trace?.hold?.clockAt ?? 0)).toBe(360_000);
    expect(trace?.marks.map((m) => m.mark)).toEqual(['connect', 'fill', 'let-down', 'settle', 'full-look', 'trim', 'start']);
    expect(stageTrace(plan, state, 'look', 'suit')).toBeNull();
    expect(stageTrace(plan, state, 'nowhere', 'suit')).toBeNull();
  });

  it('where the minute runs from the pedal, the hold begins before its start is read', () => {
    const { plan, state } = brakes('build-from-low', 'none');
    const hold = stageTrace(plan, state, 'applied', 'primary')?.hold;
    expect(hold?.startAt).toBeGreaterThan(hold?.clockAt ?? Infinity);
    expect((hold?.until ?? 0) - (hold?.clockAt ?? 0)).toBe(60_000);
  });

  it('thins to no more points than asked, the first and the last kept', () => {
    const points = Array.from({ length: 1000 }, (_, i) => i);
    const few = thinned(points, 90);
    expect(few).toHaveLength(90);
    expect([few[0], few.at(-1)]).toEqual([0, 999]);
    expect(thinned([1, 2, 3], 90)).toEqual([1, 2, 3]);
  });
});

describe('the trace of a stage that has no hold of a known length', () => {
  const run = practiceRun('store.half-life', 'new', 'store', 'none');
  const stage = run.plan.stages.find((s) => s.method.kind === 'halfLife')?.id ?? '';
  it('of a half-life has its points in the window’s unit, and no hold', () => {
    const trace = stageTrace(run.plan, run.state, stage, 'store');
    expect(trace).toMatchObject({ unit: 'Pa', hold: null });
    expect(trace?.points.length).toBeGreaterThan(100);
    expect(stageUnit(run.plan, stage)).toBe('Pa');
    expect(allowanceWedge(run.plan, stage, 'store', 250, 'Pa')).toBeNull();
  });
  it('is nothing where nothing is traced', () => {
    const look = run.plan.stages.find((s) => s.method.kind === 'check')?.id ?? '';
    expect(stageTrace(run.plan, run.state, look, 'store')).toBeNull();
    expect(stageTrace(run.plan, run.state, 'nowhere', 'store')).toBeNull();
    expect(stageTrace(run.plan, emptyRun, stage, 'store')).toBeNull();
    expect(stageTrace(run.plan, run.state, stage, 'boot')?.points).toEqual([]);
    expect(stageUnit(run.plan, 'nowhere')).toBe('Pa');
    expect(stageUnit(run.plan, look)).toBe('Pa');
  });
  it('a dial that is judged by its graduations has no corridor', () => {
    const set = practiceRun('ba.user-check', 'quarter', 'breathing-set', 'none');
    expect(allowanceWedge(set.plan, 'look-leak', 'cylinder', 300, 'bar')).toBeNull();
  });
});
