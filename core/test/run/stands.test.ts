import { describe, expect, it } from 'vitest';
import {
  catalogue,
  checkProcedure,
  judge,
  lackOf,
  may,
  mendOf,
  next,
  procedureById,
  reachedNever,
  standsAtFirst,
  standsNow,
  type Plan,
  type Procedure,
  type RunEvent,
  type RunState,
} from '../../src';
import { lie, chanceOf, practiceOf, practiceRun, rigFor } from '../../src/practice';
import { foldAll } from '../../src/run';

const brakes = procedureById('brakes.whole') as Procedure;
const whole = (ruleSet: string) => practiceOf('brakes.whole', ruleSet, 'air-brakes', 'none', { seed: 5 });

/** What was marked and answered, in the order of time. */
const said = (events: readonly RunEvent[]): readonly string[] =>
  events.flatMap((e) => (e.kind === 'marked' ? [e.mark] : e.kind === 'answered' && e.answer === 'yes' ? [e.item] : []));

describe('how the set-up must never stand', () => {
  it.each(catalogue.flatMap((p) => p.ruleSets.map((r) => ({ id: p.id, ruleSet: r.id, p, r }))))(
    '$id, $ruleSet: no order of the work, no repetition and no breaking off reaches it',
    ({ p, r }) => expect(reachedNever(p, r)).toEqual([]),
  );
  const changed = (id: string, needs: Readonly<Record<string, string>> | undefined): Procedure => ({
    ...brakes,
    stages: brakes.stages.map((s) => ({ ...s, steps: s.steps.map((x) => (x.id === id ? { ...x, needs } : x)) })),
  });
  it('is found by the checker where a step no longer asks for what keeps it safe, with the reason', () => {
    const flaws = checkProcedure(changed('release', undefined));
    expect(flaws.every((f) => f.code === 'neverReached')).toBe(true);
    expect(flaws.some((f) => f.about.startsWith('release: Nothing holds the vehicle'))).toBe(true);
    // Only where that step is done at all: the schools without a static minute leave it out.
    expect(new Set(flaws.map((f) => f.path)).size).toBe(2);
  });
  it('things are put right in an order that is safe, whatever order a document or a store names them in: chocks come out after the brake is set', () => {
    const ways = [{ chocks: 'out', parking: 'set' }, { parking: 'set', chocks: 'out' }] as const; // prettier-ignore
    for (const needs of ways) {
      expect(checkProcedure(changed('moving-ground', needs)).map((f) => f.code)).not.toContain('neverReached');
      expect(lackOf(brakes, needs, { chocks: 'in', parking: 'released' })).toEqual({ state: 'parking', way: 'set' });
      expect(lackOf(brakes, needs, { chocks: 'in', parking: 'set' })).toEqual({ state: 'chocks', way: 'out' });
    }
    // Where no order is safe, the document is not.
    expect(checkProcedure(changed('moving-ground', { chocks: 'out', parking: 'released' })).map((f) => f.code)).toContain('neverReached');
  });
  it('how it stands at first is said, and does not hang on the order of names', () => {
    const turned = { ...brakes, states: Object.fromEntries(Object.entries(brakes.states ?? {}).map(([id, row]) => [id, { ...row, ways: Object.fromEntries(Object.entries(row.ways).reverse()) }])) }; // prettier-ignore
    expect(standsAtFirst(turned)).toEqual({
      chocks: 'out',
      parking: 'set',
      engine: 'off',
      pedal: 'up',
      supplyLine: 'on',
      serviceLine: 'on',
    });
    const unknown = { ...brakes, states: { ...brakes.states, chocks: { ...brakes.states?.['chocks'], first: 'gone' } } } as Procedure;
    expect(checkProcedure(unknown).map((f) => f.code)).toContain('stateUnknown');
  });
  it('a state or a way that the document does not know is a flaw', () => {
    expect(checkProcedure(changed('release', { chocks: 'in', parking: 'up' })).map((f) => f.code)).toContain('stateUnknown');
    expect(checkProcedure({ ...brakes, never: [{ stands: { ghost: 'in' }, why: 'x' }] }).map((f) => f.code)).toContain('stateUnknown');
  });
});

/** What makes up for what is lost while it is watched. */
const feeds = { engine: 'off', supply: 'off', cylinder: 'shut' } as const;
/** Fed by a pump that stands beside the item and is shut as the start is read, or by nothing: a face-piece is drawn down by hand. */
const unfed = new Set(['ba.facepiece', 'cyl.water-jacket', 'cyl.direct-expansion', 'valve.relief', 'valve.vent']);

describe('a hold begins with nothing feeding what is held', () => {
  const holds = catalogue.flatMap((p) =>
    p.ruleSets.flatMap((r) =>
      p.stages
        .filter((s) => s.phase === 'test' && (s.method.kind === 'decay' || s.method.kind === 'halfLife') && !r.skip.includes(s.id))
        .map((s) => ({ id: p.id, ruleSet: r.id, stage: s.id, p, s, skip: r.skip })),
    ),
  );
  it.each(holds.filter((h) => !unfed.has(h.id)))('$id, $ruleSet: $stage', ({ p, s, skip }) => {
    expect(Object.keys(feeds).some((state) => p.states?.[state])).toBe(true);
    // Whatever stood before, after its own steps the supply is off, because one of them shut it or would not be done before.
    const steps = s.steps.filter((step) => !skip.includes(step.id));
    for (const [state, way] of Object.entries(feeds).filter(([name]) => p.states?.[name])) {
      const last = steps.reduce<string | undefined>((now, step) => step.makes?.[state] ?? step.needs?.[state] ?? now, undefined);
      expect(last, state).toBe(way);
    }
  });
  it('a file that says the nitrogen was never shut off is void, though its minute was tight', () => {
    const { plan, events } = practiceRun('tank.vapour-10', 'above-ground', rigFor('tank.vapour-10') ?? '', 'none');
    expect(judge(plan, foldAll(events)).verdict).toBe('pass');
    const found = judge(plan, foldAll(events.filter((e) => !(e.kind === 'marked' && e.mark === 'nitrogen-shut'))));
    expect(found.verdict).toBe('void');
    expect(found.findings.flatMap((f) => f.reasons.map((r) => r.code))).toContain('standsWrong');
  });
  it('what was answered so is asked back: a relief valve that was opened for the zero is shut before the circuit is filled', () => {
    const { events } = practiceRun('anaes.circle', 'steady', rigFor('anaes.circle') ?? '', 'none');
    const order = said(events);
    expect(order.indexOf('open-all')).toBeLessThan(order.indexOf('stands.relief.shut'));
    expect(order.indexOf('stands.relief.shut')).toBeLessThan(order.indexOf('fill'));
  });
});

describe('the set-up of a run', () => {
  it('a school that moves first is asked for the chocks again before the brake is released', () => {
    const { events, state, plan } = practiceRun('brakes.whole', 'bus-a', 'air-brakes', 'none');
    const order = said(events);
    expect(order.indexOf('stands.chocks.out')).toBeGreaterThan(order.indexOf('chocks'));
    expect(order.indexOf('stands.chocks.out')).toBeLessThan(order.indexOf('moving-ground'));
    expect(order.lastIndexOf('stands.chocks.in')).toBeGreaterThan(order.indexOf('moving-ground'));
    expect(order.lastIndexOf('stands.chocks.in')).toBeLessThan(order.indexOf('release'));
    expect(judge(plan, state).verdict).toBe('pass');
  });
  it('nobody tugs with the chocks in, or with the brake released', () => {
    const order = said(practiceRun('brakes.whole', 'build-from-low', 'air-brakes', 'none').events);
    const tug = order.indexOf('parking-holds');
    expect(order.lastIndexOf('stands.parking.set', tug)).toBeGreaterThan(order.indexOf('stroke-charge'));
    expect(order.indexOf('chocks-stowed')).toBeGreaterThan(order.lastIndexOf('stands.parking.set', tug));
    expect(order.indexOf('chocks-stowed')).toBeLessThan(tug);
  });

  /** A run up to where something is asked for, by a practised hand's own events. */
  const upTo = (ruleSet: string, wanted: (plan: Plan, state: RunState) => boolean): { plan: Plan; state: RunState; events: readonly RunEvent[] } => {
    const { plan, events } = practiceRun('brakes.whole', ruleSet, 'air-brakes', 'none');
    for (let n = 1; n < events.length; n++) {
      const state = foldAll(events.slice(0, n));
      if (wanted(plan, state)) return { plan, state, events: events.slice(0, n) };
    }
    throw new Error('never asked for');
  };
  const asks = (id: string) => (plan: Plan, state: RunState) => {
    const n = next(plan, state);
    return n.kind === 'act' && n.step.id === id;
  };
  const event = (state: RunState, body: object): RunEvent => ({ id: 'x', source: 'bench:1', n: (state.sources['bench:1']?.n ?? 0) + 1, at: state.at, ...body }) as RunEvent; // prettier-ignore

  it('offers what is lacking, refuses the step before it, and takes nothing else for it', () => {
    const { plan, state } = upTo('bus-a', asks('stands.chocks.in'));
    expect(standsNow(plan, state)).toMatchObject({ chocks: 'out', parking: 'set' });
    const source = Object.keys(state.sources).find((s) => !s.startsWith('sim')) ?? '';
    const say = (body: object): RunEvent => ({ ...event(state, body), source, n: (state.sources[source]?.n ?? 0) + 1 });
    const refused = may(plan, state, say({ kind: 'marked', mark: 'release' }));
    expect([refused?.code, refused?.values['why']]).toEqual(['step.unmet', 'standsWrong']);
    expect(may(plan, state, say({ kind: 'marked', mark: 'stands.chocks.out' }))?.code).toBe('step.unmet');
    expect(may(plan, state, say({ kind: 'marked', mark: 'stands.chocks.in' }))).toBeNull();
  });
  it('a file that releases the brake with the chocks out is void, and says why', () => {
    const { plan, events, state } = upTo('bus-a', asks('stands.chocks.in'));
    const source = Object.keys(state.sources).find((s) => !s.startsWith('sim')) ?? '';
    const forced = foldAll([...events, { ...event(state, { kind: 'marked', mark: 'release' }), source, n: (state.sources[source]?.n ?? 0) + 1 }]);
    const codes = judge(plan, forced).findings.flatMap((f) => f.reasons.map((r) => r.code));
    expect(codes).toEqual(expect.arrayContaining(['standsWrong', 'neverStands']));
    expect(judge(plan, forced).verdict).toBe('void');
  });
  it.each(['bus-a', 'single', 'build-from-low'])('%s: without any one of what was put right, it is void', (ruleSet) => {
    const { plan, events } = practiceRun('brakes.whole', ruleSet, 'air-brakes', 'none');
    const mends = events.filter((e) => e.kind === 'marked' && mendOf(e.mark));
    expect(mends.length).toBeGreaterThan(0);
    for (const mend of mends) expect(judge(plan, foldAll(events.filter((e) => e !== mend))).verdict).toBe('void');
  });
  it('what was taken back was done all the same: a brake is not set again by a word', () => {
    const { plan, events, state } = upTo('single', (p, s) => standsNow(p, s)['parking'] === 'released');
    const mark = events.findLast((e) => e.kind === 'marked' && e.mark === 'release');
    const source = mark?.source ?? '';
    const back = foldAll([
      ...events,
      { id: 'w', source, n: (state.sources[source]?.n ?? 0) + 1, at: state.at, kind: 'withdrawn', event: mark?.id ?? '', reason: 'a slip' },
    ]);
    expect(standsNow(plan, back)['parking']).toBe('released');
  });
  it.each(['bus-a', 'single', 'build-from-low'])('%s: somebody who says yes to everything never brings it there either', (ruleSet) => {
    for (const seed of [1, 2, 3]) {
      const { plan, state } = lie({ ...whole(ruleSet) }, chanceOf(seed), { mischievous: 0.2, lazy: 0, typed: false });
      expect(judge(plan, state).findings.flatMap((f) => f.reasons.map((r) => r.code))).not.toContain('neverStands');
    }
  });
  it('has none where a procedure names none', () => {
    const { plan, state } = practiceRun('drysuit.survey', 'general', rigFor('drysuit.survey') ?? '', 'none');
    expect(standsNow(plan, state)).toEqual({});
  });
});
