import { describe, expect, it } from 'vitest';
import {
  catalogue,
  checkProcedure,
  judge,
  makePlan,
  may,
  next,
  procedureById,
  tapsOf,
  requiredStages,
  type EventBody,
  type Plan,
  type Procedure,
  type RunEvent,
  sentBack,
  type RunState,
} from '../../src';
import { perform, practiceOf, practiceRun, rigFor, truthOf } from '../../src/practice';
import { fold, foldAll } from '../../src/run';
import { found, instrumentsFor, practised, recordFor, stageOf, type Written } from '../testing/attempt';

/** Stages that hang on what another found: one that decides in its place, one that looks for where it leaks, and what decides nothing by itself. */
const run = (procedure: string, ruleSet: string, fault: string) => practiceRun(procedure, ruleSet, rigFor(procedure) ?? '', fault);
const required = (r: { readonly plan: Plan; readonly state: RunState }) => requiredStages(r.plan, r.state).map((s) => s.id);
const of = (r: { readonly plan: Plan; readonly state: RunState }, stage: string) => judge(r.plan, r.state).findings.filter((f) => f.stage === stage);

describe('a circuit that is watched first', () => {
  it('that stands still needs no flow: it is not asked for, and passes', () => {
    const tight = run('anaes.circle', 'watch-first', 'none');
    expect(required(tight)).not.toContain('make-up-then');
    expect(judge(tight.plan, tight.state).verdict).toBe('pass');
  });
  it('that falls is asked for the flow, and the flow decides: over its limit it fails', () => {
    const leaks = run('anaes.circle', 'watch-first', 'hose crack');
    expect(required(leaks)).toContain('make-up-then');
    expect(of(leaks, 'watch')[0]?.reasons.map((r) => r.code)).toContain('leftTo');
    expect(of(leaks, 'make-up-then')[0]?.verdict).toBe('fail');
    expect(judge(leaks.plan, leaks.state).verdict).toBe('fail');
  });
  it('that falls and is held by a small flow passes, and says which decided', () => {
    const practice = practiceOf('anaes.circle', 'watch-first', rigFor('anaes.circle') ?? '', 'hose crack', { seed: 5 });
    const leaks = { plan: practice.plan };
    const lenient = { ...leaks.plan, limits: leaks.plan.limits.map((l) => (l.of === 'flow' ? { ...l, resolved: { value: 5000, unit: 'mL/min' } } : l)) };
    const result = judge(lenient, perform({ ...practice, plan: lenient }).state);
    expect(result).toMatchObject({ verdict: 'pass', blocks: false });
    expect(result.findings.find((f) => f.stage === 'watch')?.verdict).toBe('undecided');
  });
  it('left after it fell, before a flow was measured, is no pass: it fell', () => {
    const leaks = run('anaes.circle', 'watch-first', 'hose crack');
    const until = leaks.events.findIndex((e) => e.kind === 'began' && e.stage === 'make-up-then');
    const left = foldAll(leaks.events.slice(0, until));
    expect(judge(leaks.plan, left)).toMatchObject({ verdict: 'fail', blocks: true });
    // A flow that was not measured decides nothing either.
    const broken = foldAll(leaks.events.filter((e) => !(e.kind === 'samples' && e.channel === 'flow')));
    expect(judge(leaks.plan, broken).blocks).toBe(true);
  });
  it('that never fills is no question of how much', () => {
    const open = run('anaes.circle', 'watch-first', 'hole in the bag');
    expect(required(open)).not.toContain('make-up-then');
    expect(judge(open.plan, open.state).verdict).toBe('fail');
  });
});

describe('where it leaks', () => {
  const cases = catalogue.flatMap((p) => p.stages.filter((s) => s.seeks).map((s) => ({ id: p.id, find: s.id })));
  it('is looked for in every trade that holds a pressure', () => expect(new Set(cases.map((c) => c.id)).size).toBeGreaterThanOrEqual(7));
  it.each([
    ['suit.inflation', 'mbar-16.5', 'zip end'],
    ['store.half-life', 'new', 'hatch seal'],
    ['tank.vapour-10', 'in-use', 'vent cap'],
    ['ba.high-pressure', 'bar-10', 'line joint'],
  ])('%s, %s, %s: only after it failed, place by place, and says nothing of whether', (procedure, ruleSet, fault) => {
    expect(required(run(procedure, ruleSet, 'none'))).not.toContain('find');
    const leaks = run(procedure, ruleSet, fault);
    expect(required(leaks)).toContain('find');
    expect(judge(leaks.plan, leaks.state).verdict).toBe('fail');
    // Whatever was said of the places, even that all are dry: what failed goes on failing.
    const dry = leaks.events.map((e): RunEvent => (e.kind === 'spotted' ? { ...e, grade: 'none' } : e));
    expect(judge(leaks.plan, foldAll(dry))).toMatchObject({ verdict: 'fail', blocks: true });
  });
  /** Every rule set with its first fault that is a leak which its hold finds. */
  const leaking = catalogue
    .filter((p) => p.stages.some((s) => s.seeks) && p.id !== 'brakes.whole')
    .flatMap((p) => p.ruleSets.map((r) => ({ id: p.id, ruleSet: r.id, fault: Object.entries(truthOf(p.id, r.id)).find(([, v]) => v === 'fail')?.[0] ?? '' })));
  it.each(leaking)('$id, $ruleSet, $fault: soaped on its drawing, the place is found', ({ id, ruleSet, fault }) => {
    const leaks = run(id, ruleSet, fault);
    const found = of(leaks, 'find');
    expect(found.map((f) => f.verdict)).toEqual(['fail']);
    expect(found[0]?.reasons.map((r) => r.code)).toEqual(['bubbles']);
  });
  it('nothing that bubbles is nothing found, and says so', () => {
    const leaks = run('suit.inflation', 'mbar-16.5', 'zip end');
    const late = leaks.events.filter((e) => e.kind !== 'spotted' || e.grade === 'none');
    const dry = leaks.events.map((e): RunEvent => (e.kind === 'spotted' ? { ...e, grade: 'fewAtFirst' } : e));
    for (const events of [late, dry]) expect(judge(leaks.plan, foldAll(events))).toMatchObject({ verdict: 'fail', blocks: true });
  });
  it('need not be looked for: it is left with its reason, and not without', () => {
    const leaks = run('suit.inflation', 'mbar-16.5', 'zip end');
    const began = leaks.events.findIndex((e) => e.kind === 'began' && e.stage === 'find');
    const state = foldAll(leaks.events.slice(0, began + 1));
    const source = leaks.events[began]?.source ?? '';
    const say = (body: EventBody): RunEvent => ({ id: 'x', source, n: (state.sources[source]?.n ?? 0) + 1, at: state.at + 1000, ...body });
    expect(may(leaks.plan, state, say({ kind: 'ended', stage: 'find', attempt: 1 }))).not.toBeNull();
    const left = say({ kind: 'ended', stage: 'find', attempt: 1, reason: 'the workshop looks for it' });
    expect(may(leaks.plan, state, left)).toBeNull();
    const after = fold(state, left);
    expect(next(leaks.plan, after)).toMatchObject({ kind: 'begin', stage: { id: 'aftercare' } });
    expect(judge(leaks.plan, after).verdict).toBe('fail');
  });
});

describe('what decides nothing by itself', () => {
  it('a seat that loses and does not bubble sends to the manifold, and is no pass; one that bubbles fails', () => {
    const scored = run('valve.relief', 'asme', 'scored seat');
    expect(of(scored, 'seat')[0]).toMatchObject({ verdict: 'undecided' });
    expect(of(scored, 'seat')[0]?.reasons.map((r) => r.code)).toContain('sendsOn');
    expect(judge(scored.plan, scored.state)).toMatchObject({ verdict: 'fail', blocks: true });
    const elsewhere = run('valve.relief', 'asme', 'manifold leaks');
    expect(of(elsewhere, 'seat-soap')[0]?.verdict).toBe('pass');
    expect(judge(elsewhere.plan, elsewhere.state)).toMatchObject({ verdict: 'undecided', blocks: false, holds: true });
  });
  it('a poppet that shows nothing says that tanks are not tied, and not that they leak', () => {
    const tied = run('tank.vapour-10', 'in-use', 'none');
    const untied = tied.events.map((e): RunEvent => (e.kind === 'answered' && e.item === 'poppet.2' ? { ...e, answer: 'no', reason: 'no dip' } : e));
    const result = judge(tied.plan, foldAll(untied));
    expect(result).toMatchObject({ verdict: 'undecided', blocks: false, holds: true });
    expect(result.findings.find((f) => f.stage === 'tie')?.reasons.map((r) => r.code)).toEqual(['answeredNo', 'sendsOn']);
  });
});

describe('what passes and is looked at again', () => {
  const looked = run('cyl.visual', 'us-metal', 'none');
  const said = (item: string, reason?: string) => looked.events.map((e): RunEvent => (e.kind === 'answered' && e.item === item ? { ...e, answer: 'watch', ...(reason ? { reason } : {}) } : e)); // prettier-ignore
  it('is a pass that says what was seen', () => {
    const result = judge(looked.plan, foldAll(said('dents', 'scrape of 0.2 mm near the foot, photographed')));
    expect(result.verdict).toBe('pass');
    expect(result.findings.flatMap((f) => f.reasons)).toContainEqual({ code: 'watched', values: { item: expect.any(String) as string, note: 'scrape of 0.2 mm near the foot, photographed' } }); // prettier-ignore
  });
  it('is void without its words, and where there is nothing between sound and bad', () => {
    expect(judge(looked.plan, foldAll(said('dents'))).verdict).toBe('void');
    expect(judge(looked.plan, foldAll(said('heat', 'a little brown'))).verdict).toBe('void');
  });
  it('may not be said of what has no such answer, nor without a reason', () => {
    const before = looked.events.findIndex((e) => e.kind === 'answered' && e.item === 'dents');
    const state = foldAll(looked.events.slice(0, before));
    const event = (more: object): RunEvent => ({ ...looked.events[before], ...more }) as RunEvent;
    expect(may(looked.plan, state, event({ answer: 'watch', reason: undefined }))?.code).toBe('item.reasonMissing');
    expect(may(looked.plan, state, event({ answer: 'watch', reason: 'a scrape' }))).toBeNull();
    expect(may(looked.plan, state, event({ item: 'heat', answer: 'watch', reason: 'a scrape' }))?.code).toBe('item.notWatched');
  });
});

describe('both gauges of a build-up', () => {
  it('the clock stops when the slower one has come there', () => {
    const fire = run('brakes.whole', 'fire-apparatus', 'none');
    const stage = fire.plan.stages.find((s) => s.id === 'build-up-both');
    expect(stage?.method).toMatchObject({ kind: 'elapsed', channel: 'primary', second: 'secondary' });
    // As it was before anybody said that it had passed: the gauges go on, and the slower one comes there after that.
    const passed = fire.events.findIndex((e) => e.kind === 'marked' && e.mark === 'passed');
    const running = fire.events.filter((e, i) => i < passed || e.kind === 'samples');
    const slow = (e: RunEvent): RunEvent =>
      e.kind === 'samples' && e.channel === 'secondary' ? { ...e, values: e.values.map((v) => v - 0.1 * Math.max(0, v - 85)) } : e;
    const took = (events: readonly RunEvent[]) => judge(fire.plan, foldAll(events)).findings.find((f) => f.stage === 'build-up-both')?.observed?.value ?? NaN;
    expect(took(running.map(slow))).toBeGreaterThan(took(fire.events) + 0.5);
  });
});

describe('the checker', () => {
  const circle = procedureById('anaes.circle') as Procedure;
  const codes = (p: Procedure) => checkProcedure(p).map((f) => f.code);
  const changed = (id: string, more: object): Procedure => ({ ...circle, stages: circle.stages.map((s) => (s.id === id ? { ...s, ...more } : s)) });
  it('refuses who decides in the place of nothing, or of what comes after it', () => {
    expect(codes(changed('make-up-then', { decides: 'nowhere' }))).toContain('decidesNothing');
    expect(codes(changed('make-up-then', { decides: 'open-valve' }))).toContain('decidesNothing');
  });
  it('refuses a search for what no stage finds', () => expect(codes(changed('find', { seeks: ['open-valve'] }))).toContain('seeksNothing'));
  it('does not take a search, nor who decides where another did not, for the test itself', () => {
    const blind = { ...circle, ruleSets: circle.ruleSets.map((r) => (r.id === 'watch-first' ? { ...r, skip: ['make-up', 'watch', 'make-up-then'], limits: r.limits.filter((l) => l.stage === 'rig-proof') } : r)) }; // prettier-ignore
    expect(codes(blind)).toContain('leakUnlooked');
  });
  it('a rule set may leave out single looks', () => {
    const made = makePlan({ ...circle, ruleSets: circle.ruleSets.map((r) => ({ ...r, skip: [...r.skip, 'domes'] })) }, 'd', 'human', {
      circuit: { volume: { value: 6, unit: 'L' } },
    });
    const look = made.ok ? made.plan.stages.find((s) => s.id === 'look')?.method : undefined;
    expect(look?.kind === 'check' && look.items.map((i) => i.id)).not.toContain('domes');
    expect(look?.kind === 'check' && look.items.length).toBeGreaterThan(3);
  });
});

describe('a clock that two thumbs start and stop', () => {
  const plan = practised('brakes.whole', 'fire-apparatus');
  const psi = (value: number) => ({ value, unit: '[psi]' });
  const tapped = (readings: Written['readings'], passed = 60) => found(plan, 'build-up-both', { typed: true, readings, marks: { 'engine-idle-both': 0.5, passed } }); // prettier-ignore
  const engine = [[0.2, 700]] as const;
  it('says for each gauge which figure comes next, and none once both are through', () => {
    const at = (readings: Written['readings']) => {
      const stage = stageOf(plan, 'build-up-both');
      if (stage.method.kind !== 'elapsed') throw new Error('not timed');
      return tapsOf({ plan, stage, method: stage.method, record: recordFor(plan, 'build-up-both', { typed: true, readings, marks: { 'engine-idle-both': 0.5 }, undone: ['passed'], ended: null }), instruments: instrumentsFor(plan) }); // prettier-ignore
    };
    expect(at({})).toEqual([{ channel: 'primary', quantity: psi(85) }, { channel: 'secondary', quantity: psi(85) }]); // prettier-ignore
    expect(at({ primary: [[10, 85]] })).toEqual([{ channel: 'primary', quantity: psi(100) }, { channel: 'secondary', quantity: psi(85) }]); // prettier-ignore
    expect(at({ primary: [[10, 85], [40, 100]], secondary: [[11, 85]] })).toEqual([{ channel: 'secondary', quantity: psi(100) }]); // prettier-ignore
    expect(at({ primary: [[10, 85], [40, 100]], secondary: [[11, 85], [43, 100]] })).toEqual([]); // prettier-ignore
  });
  it('runs from when both stand at the first figure until both stand at the second', () => {
    const [f] = tapped({
      primary: [
        [10, 85],
        [40, 100],
      ],
      secondary: [
        [11.5, 85],
        [43, 100],
      ],
      engine,
    });
    expect(f?.verdict).toBe('pass');
    expect(f?.observed?.value).toBeCloseTo(31.5, 6);
    const [late] = tapped(
      {
        primary: [
          [10, 85],
          [40, 100],
        ],
        secondary: [
          [11.5, 85],
          [57, 100],
        ],
        engine,
      },
      58,
    );
    expect(late?.verdict).toBe('fail');
    expect(late?.observed?.value).toBeCloseTo(45.5, 6);
  });
});

describe('a gauge out of its calibration', () => {
  const low = practised('brakes.whole', 'build-from-low');
  const pedal = (due: string | null) =>
    found(low, 'applied', {
      readings: { primary: [[0.2, 120], [40, 110], [100, 109]], secondary: [[0.2, 120], [40, 110], [100, 109]], engine: [[1, 0], [40, 0], [99, 0]] },
      marks: { recharge: 0.5, pedal: 2, 'applied-settle': 30, start: 40 },
      instruments: { engine: { fitted: false, inCalibration: due !== null } },
    }); // prettier-ignore
  it('that shows a step says that it measures nothing; one that is calibrated says nothing of the kind', () => {
    const told = (due: string | null) => pedal(due).flatMap((f) => f.reasons.map((r) => r.code));
    expect(told(null)).toContain('shownUncalibrated');
    expect(told('2027-01-01')).not.toContain('shownUncalibrated');
  });
});

describe('a seat that lost more than bubbles account for', () => {
  const before = (r: ReturnType<typeof run>, kind: string, stage: string): RunState =>
    foldAll(
      r.events.slice(
        0,
        r.events.findIndex((e) => e.kind === kind && 'stage' in e && e.stage === stage),
      ),
    );
  const leaks = run('valve.relief', 'asme', 'manifold leaks');
  it('is held again once what it sent to is mended: it is the stage to be done again, and says what is looked at first', () => {
    const between = before(leaks, 'began', 'aftercare');
    expect(sentBack(leaks.plan, between)).toMatchObject({
      stage: { id: 'seat' },
      attempt: 2,
      to: expect.stringContaining('soap manifold and fittings') as unknown,
    });
    const again: RunEvent = { id: 'again', source: 'other', n: 1, at: between.at, kind: 'began', stage: 'seat', attempt: 2, reason: 'a fitting was mended' };
    expect(may(leaks.plan, between, again)).toBeNull();
    // While it is done, and while the soap at the seat is still to come, nothing is to be done again.
    expect(sentBack(leaks.plan, fold(between, again))).toBeNull();
    expect(sentBack(leaks.plan, before(leaks, 'began', 'seat-soap'))).toBeNull();
  });
  it('is not where nothing was sent on, where the seat itself bubbles, or where it was held as often as it may be', () => {
    const sound = run('valve.relief', 'asme', 'none');
    expect(sentBack(sound.plan, before(sound, 'began', 'aftercare'))).toBeNull();
    const between = before(leaks, 'began', 'aftercare');
    const once = { ...leaks.plan, stages: leaks.plan.stages.map((s) => (s.id === 'seat' ? { ...s, attempts: 1 } : s)) };
    expect(sentBack(once, between)).toBeNull();
    const scored = run('valve.relief', 'asme', 'scored seat');
    expect(judge(scored.plan, scored.state).verdict).toBe('fail');
  });
});
