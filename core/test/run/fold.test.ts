import { describe, expect, it } from 'vitest';
import { corrected, emptyRun, fold, foldAll, items, judge, recordOf, type EventBody, type Plan, type RunEvent, type RunState } from '../../src';
import { exampleOf } from '../../src/practice';

let n = 0;
const said = (at: number, body: EventBody): RunEvent => ({ id: `e${String(++n)}`, source: 'hand', n, at, ...body });
const began = (at: number, stage = 'hold', attempt = 1, reason?: string): RunEvent =>
  said(at, { kind: 'began', stage, attempt, ...(reason ? { reason } : {}) });
const samples = (at: number): RunEvent => said(at, { kind: 'samples', channel: 'suit', unit: 'mbar', everyMs: 100, values: [1, 2] });
const only = (state: RunState, stage = 'hold') => state.attempts[stage] ?? [];

describe('what each event leaves behind', () => {
  it('a beginning and an end keep their reasons, and an end ends its own attempt alone', () => {
    const open = foldAll([began(0, 'hold', 1, 'again')]);
    expect(only(open)).toMatchObject([{ attempt: 1, beginReason: 'again', endReason: null, endedAt: null, broken: false }]);
    expect(only(fold(open, said(5, { kind: 'ended', stage: 'hold', attempt: 2 })))[0]?.endedAt).toBeNull();
    expect(only(fold(open, said(5, { kind: 'ended', stage: 'look', attempt: 1 })))[0]?.endedAt).toBeNull();
    expect(only(fold(open, said(5, { kind: 'ended', stage: 'hold', attempt: 1 })))[0]).toMatchObject({ endedAt: 5, endReason: null, broken: false });
    expect(only(fold(open, said(5, { kind: 'ended', stage: 'hold', attempt: 1, reason: 'rain' })))[0]).toMatchObject({ endedAt: 5, endReason: 'rain' });
  });

  it('a second attempt stands behind the first, and only it is written to', () => {
    const state = foldAll([
      began(0),
      said(5, { kind: 'ended', stage: 'hold', attempt: 1 }),
      began(9, 'hold', 2, 'again'),
      said(10, { kind: 'marked', mark: 'fill' }),
    ]);
    expect(only(state).map((a) => [a.attempt, a.endedAt, a.marks.length])).toEqual([
      [1, 5, 0],
      [2, null, 1],
    ]);
  });

  it('a place keeps when it was looked at first, and what it was found to be last', () => {
    const state = foldAll([began(0), said(3, { kind: 'spotted', spot: 'valve', grade: 'none' }), said(8, { kind: 'spotted', spot: 'valve', grade: 'stream' })]);
    expect(only(state)[0]?.spots['valve']).toMatchObject({ firstAt: 3, grade: 'stream' });
  });

  it('a note is kept in its order, a seal seals, an abandonment has its reason, and each changes nothing else', () => {
    const noted = foldAll([said(0, { kind: 'amended', note: 'one' }), said(1, { kind: 'amended', note: 'two' })]);
    expect(noted.notes.map((e) => e.note)).toEqual(['one', 'two']);
    expect(noted.sealed).toBe(false);
    const sealed = foldAll([said(0, { kind: 'sealed' })]);
    expect([sealed.sealed, sealed.abandoned]).toEqual([true, null]);
    const abandoned = foldAll([said(0, { kind: 'abandoned', reason: 'rain' })]);
    expect([abandoned.sealed, abandoned.abandoned]).toEqual([false, 'rain']);
  });

  it('what the server found, and what is taken back, say nothing of their own', () => {
    const recorded = foldAll([said(0, { kind: 'recorded', record: 'GR-1', verdict: 'pass', blocks: false, counts: true, item: 'x', tag: 'x', findings: '', edition: '1', methods: [] })]); // prettier-ignore
    expect({ ...recorded, history: null, sources: {} }).toEqual(emptyRun);
  });

  it('the history has everything but samples, which are not kept twice', () => {
    const state = foldAll([began(0), samples(5), said(9, { kind: 'marked', mark: 'fill' })]);
    expect(items(state.history).map((e) => e.kind)).toEqual(['began', 'marked']);
    expect(state.chunks['suit']?.item).toMatchObject({ at: 5, typed: false, values: [1, 2] });
  });

  it('a reading taken back is gone from its channel, and the channel with its last one; samples stay', () => {
    const typed = said(4, { kind: 'reading', channel: 'flow', quantity: { value: 3, unit: 'mL/min' } });
    const state = foldAll([began(0), samples(1), typed, said(5, { kind: 'withdrawn', event: typed.id, reason: 'slip' })]);
    expect(Object.keys(state.chunks)).toEqual(['suit']);
    expect(state.chunks['suit']?.length).toBe(1);
    // The same chunks, not a copy of them: a long run is not walked for a slip.
    const before = foldAll([began(0), samples(1)]);
    const after = fold(before, said(9, { kind: 'withdrawn', event: 'nothing', reason: 'slip' }));
    expect(after.chunks['suit']).toBe(before.chunks['suit']);
  });
});

describe('what an attempt claims', () => {
  it('disturbances and gaps from its first to its last millisecond, and what a gap lost either way', () => {
    const gap = (at: number, wallMs: number, tickMs: number): RunEvent => said(at, { kind: 'gap', wallMs, tickMs });
    const touched = (at: number): RunEvent => said(at, { kind: 'disturbed', note: String(at) });
    const state = foldAll([
      touched(99), began(100), touched(100), gap(150, 700, 0), gap(160, 0, 300), touched(200), said(200, { kind: 'ended', stage: 'hold', attempt: 1 }), touched(201), gap(201, 9, 0),
    ]); // prettier-ignore
    const attempt = only(state)[0];
    if (!attempt) throw new Error('unreachable: it was begun');
    const record = recordOf(state, attempt);
    expect(record.disturbances.map((d) => d.note)).toEqual(['100', '200']);
    expect(record.gaps).toEqual([
      { at: 150, lostMs: 700 },
      { at: 160, lostMs: 300 },
    ]);
  });
});

describe('what was marked before an attempt', () => {
  it('is known by the last time that it was, in whatever stage; what comes with it or later is its own', () => {
    const marked = (at: number, mark: string): RunEvent => said(at, { kind: 'marked', mark });
    const end = (at: number, attempt = 1): RunEvent => said(at, { kind: 'ended', stage: 'hold', attempt });
    const again: RunEvent = said(50, { kind: 'began', stage: 'hold', attempt: 2, reason: 'done again' });
    const state = foldAll([began(0), marked(10, 'unloads'), marked(20, 'loads'), end(30), again, marked(50, 'loads'), marked(60, 'unloads')]);
    const [first, second] = only(state);
    if (!first || !second) throw new Error('unreachable: both were begun');
    expect([recordOf(state, first).earlier, recordOf(state, second).earlier]).toEqual([{}, { unloads: 10, loads: 20 }]);
  });
});

describe('the verdict of a run', () => {
  it('says whether it was simulated, by the clock that it was opened with', () => {
    const { plan, events } = exampleOf('suit.inflation', 'inflate');
    expect(judge(plan, foldAll(events)).simulated).toBe(true);
    const live = events.map((e): RunEvent => (e.kind === 'opened' ? { ...e, clock: 'live' } : e));
    expect(judge(plan, foldAll(live)).simulated).toBe(false);
    expect(judge(plan, emptyRun).simulated).toBe(false);
  });

  it('lacks what was not begun: each such stage is unfinished, with nothing to show for it', () => {
    const { plan } = exampleOf('suit.inflation', 'inflate');
    const { verdict, findings, earlier } = judge(plan, emptyRun);
    expect(verdict).toBe('undecided');
    expect(earlier).toEqual([]);
    expect(findings.map((f) => [f.stage, f.engine, f.verdict, f.reasons, f.evidence])).toEqual(
      // What hangs on a failure is not lacking where nothing has failed.
      plan.stages.filter((s) => !s.seeks).map((s) => [s.id, 'run/1', 'undecided', [{ code: 'unfinished', values: {} }], []]),
    );
  });

  it('is void where a strict order was not kept, and names the step; to the millisecond', () => {
    const { plan } = exampleOf('suit.inflation', 'inflate');
    const ids = plan.stages.slice(0, 2).map((s) => s.id);
    const [first = '', second = ''] = ids;
    // The rules of this procedure are loose: the ordered ones are said in addition.
    const ordered = (strict: boolean, order: readonly string[] | 'free'): Plan => ({
      ...plan,
      ruleSet: { ...plan.ruleSet, order, ...(strict ? { strict } : {}) },
    });
    expect(plan.ruleSet.strict).toBeUndefined();
    const done = (at: number, stage: string): RunEvent[] => [began(at, stage), said(at + 10, { kind: 'ended', stage, attempt: 1 })];
    const out = (state: RunState, p = ordered(true, ids)) => judge(p, state).findings.filter((f) => f.reasons.some((r) => r.code === 'outOfOrder'));
    expect(out(foldAll([...done(0, first), ...done(10, second)]))).toEqual([]);
    const turned = foldAll([...done(0, second), ...done(10, first)]);
    expect(out(turned)).toMatchObject([{ stage: second, verdict: 'void', reasons: [{ values: { step: plan.stages[1]?.title } }] }]);
    expect(out(turned, ordered(false, ids))).toEqual([]);
    expect(out(turned, ordered(true, 'free'))).toEqual([]);
    expect(out(foldAll(done(0, second)))).toEqual([]);
    // A stage that was begun and not ended holds up none before it ended.
    expect(out(foldAll([...done(0, first), began(5, second)]))).toMatchObject([{ stage: second }]);
  });
});

describe('a history less the error of an instrument', () => {
  const points = [{ nominal: { value: 16, unit: 'mbar' }, asFound: { value: 16.1, unit: 'mbar' }, asLeft: { value: 16, unit: 'mbar' } }];
  it('changes the readings and samples of its channels, and nothing else', () => {
    const events = [samples(0), said(1, { kind: 'reading', channel: 'suit', quantity: { value: 16.5, unit: 'mbar' } }), said(2, { kind: 'reading', channel: 'flow', quantity: { value: 16.5, unit: 'mbar' } }), said(3, { kind: 'marked', mark: 'fill' })]; // prettier-ignore
    const [first, second, third, fourth] = corrected(events, new Set(['suit']), points);
    expect(first).toMatchObject({ kind: 'samples', values: [0.9, 1.9] });
    expect(second).toEqual({ ...events[1], quantity: { value: 16.4, unit: 'mbar' } });
    expect([third, fourth]).toEqual(events.slice(2));
  });
});
