import { catalogue, emptyRun, fold, next, type RunState } from '@grellin/core';
import { practiceRun, rigFor, truthOf } from '@grellin/core/practice';
import { describe, expect, it } from 'vitest';
import { benchView } from '../ask/benchView';
import { stripView } from '../strip/stripView';
import { columnsView, niceTicks } from './columnView';
import { outlines } from './outlines';
import { peaksKept, reliefView } from './reliefView';
import { stageView } from './stageView';

/** Every screen that a run passes through can be drawn: each picture is made at each thing that a person says, and nothing in it is no number. */
function finite(value: unknown, path = ''): void {
  if (typeof value === 'number') expect(Number.isFinite(value), path).toBe(true);
  else if (value instanceof Float64Array) expect(value.every(Number.isFinite), path).toBe(true);
  else if (Array.isArray(value)) value.forEach((v, i) => finite(v, `${path}[${String(i)}]`));
  else if (typeof value === 'object' && value !== null) for (const [k, v] of Object.entries(value)) finite(v, `${path}.${k}`);
}

const kinds = { decay: 'strip', halfLife: 'strip', makeUpFlow: 'columns', eventPressure: 'columns', elapsed: 'columns', expansion: 'expansion', relief: 'relief', survey: 'survey', stroke: 'stroke', check: 'card' } as const; // prettier-ignore

describe('every screen of every procedure', () => {
  it.each(
    catalogue.flatMap((p) => {
      const ruleSet = p.ruleSets[0]?.id ?? '';
      const faulty = Object.entries(truthOf(p.id, ruleSet)).find(([, verdict]) => verdict === 'fail')?.[0];
      return ['none', ...(faulty === undefined ? [] : [faulty])].map((fault) => [p.id, ruleSet, fault] as const);
    }),
  )(
    '%s, %s, %s',
    (id, ruleSet, fault) => {
      const run = practiceRun(id, ruleSet, rigFor(id) ?? '', fault);
      let state: RunState = emptyRun;
      for (const event of run.events) {
        state = fold(state, event);
        if (event.kind === 'samples' || !state.opened) continue;
        const view = benchView(run.plan, state, state.at);
        expect(view.primary.label).not.toBe('');
        for (const g of view.gauges) expect(g.value ?? '0').not.toMatch(/NaN|undefined/);
        const { stage } = view;
        if (!stage) continue;
        const picture = stageView(run.plan, state, stage, view.next, state.at);
        expect(picture.kind).toBe(kinds[stage.method.kind]);
        finite(picture, `${stage.id} at ${String(event.at)}`);
        const strip = stripView(run.plan, state, stage, state.at, null);
        if (strip) finite(strip, `strip of ${stage.id}`);
      }
      expect(next(run.plan, state).kind).toBe('closed');
    },
    60_000,
  );
});

describe('columns', () => {
  const run = practiceRun('brakes.whole', 'single', 'air-brakes', 'none');
  const upTo = (mark: string): RunState => {
    let state: RunState = emptyRun;
    for (const event of run.events) {
      state = fold(state, event);
      if (event.kind === 'marked' && event.mark === mark) return state;
    }
    throw new Error(mark);
  };
  it('two gauges of one unit share a scale, and what the rule set allows lies on it', () => {
    const state = upTo('warns');
    const stage = run.plan.stages.find((s) => s.id === 'warning');
    if (!stage) throw new Error('no stage');
    const { columns } = columnsView(run.plan, state, stage, next(run.plan, state), state.at);
    expect(columns.map((c) => c.channel)).toEqual(['primary', 'secondary']);
    expect([columns[0]?.low, columns[0]?.high]).toEqual([columns[1]?.low, columns[1]?.high]);
    expect(columns[0]?.bands).toMatchObject([{ kind: 'allowed', low: 55, label: 'at least 55 psi' }]);
  });
  it('a gauge that stands at nothing is drawn with the beginning of its dial', () => {
    const low = practiceRun('brakes.whole', 'build-from-low', 'air-brakes', 'none');
    const stage = low.plan.stages.find((s) => s.id === 'build-low');
    const began = low.events.findIndex((e) => e.kind === 'began' && e.stage === 'build-low');
    const state = low.events.slice(0, began + 40).reduce(fold, emptyRun);
    if (!stage) throw new Error('no stage');
    const engine = columnsView(low.plan, state, stage, next(low.plan, state), state.at).columns.find((c) => c.channel === 'engine');
    expect(engine?.high).toBeGreaterThan(290);
    expect(engine?.low).toBeGreaterThan(-40);
  });
  it.each([
    [0, 150, [0, 50, 100, 150]],
    [27, 33, [27, 28, 29, 30, 31, 32, 33]],
    [-0.2, 0.9, [-0.2, 0, 0.2, 0.4, 0.6, 0.8]],
  ])('ticks from %f to %f are round', (low, high, ticks) => expect(niceTicks(low, high)).toEqual(ticks));
});

describe('the lifts of a valve', () => {
  it('a thinned trace keeps its highest and lowest point', () => {
    const thin = peaksKept((visit) => {
      for (let i = 0; i < 10_000; i += 1) visit(i, i === 5432 ? 9 : i === 7001 ? -9 : Math.sin(i));
    }, 10_000);
    expect(thin.length).toBeLessThan(600);
    expect(Math.max(...thin.map((p) => p[1]))).toBe(9);
    expect(Math.min(...thin.map((p) => p[1]))).toBe(-9);
    expect(thin.every((p, i) => i === 0 || p[0] > (thin[i - 1]?.[0] ?? -1))).toBe(true);
  });
  it('gives the whole trace to the analysis once a lift is over, at 200 Hz', () => {
    const run = practiceRun('valve.relief', 'asme', 'relief-bench', 'none');
    const state = run.events.reduce((s, e) => fold(s, e), emptyRun);
    const stage = run.plan.stages.find((s) => s.method.kind === 'relief');
    if (stage?.method.kind !== 'relief') throw new Error('no stage');
    const view = reliefView(run.plan, state, stage, stage.method, state.at);
    expect(view.lifts.map((l) => l.state)).toEqual(['done', 'done', 'done']);
    for (const lift of view.lifts) expect(lift.whole?.fs).toBeCloseTo(200, 6);
    expect(view.allowed).toEqual({ low: 97, high: 103 });
  });
});

describe('outlines', () => {
  it('every place of every route lies on its drawing', () => {
    for (const { method } of catalogue.flatMap((p) => p.stages)) {
      if (method.kind !== 'survey') continue;
      for (const spot of method.route) expect(outlines[method.outline]?.places[spot.id], `${method.outline} ${spot.id}`).toBeDefined();
    }
  });
  it('no two places lie on one another', () => {
    for (const [id, o] of Object.entries(outlines)) {
      const at = Object.values(o.places);
      at.forEach(([x, y], i) => at.slice(i + 1).forEach(([x2, y2]) => expect(Math.hypot(x - x2, y - y2), id).toBeGreaterThan(24)));
    }
  });
});
