import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { practiceRun } from '../../src/practice';
import { convert, sameDimension, units } from '../../src/quantity';
import { emptyRun, fold, foldAll, items, judge, may, merged, next, type EventBody, type RunEvent } from '../../src/run';
import { conformance, guarded } from '../../src/uncertainty';
import { found, only, planOf } from '../testing/attempt';

/** A seed is printed by fast-check with every counter-example. */
const few = { numRuns: 60 };

const sample = practiceRun('suit.inflation', 'mbar-16.5', 'suit', 'none');
const surveyed = practiceRun('ba.soap-survey', 'general', 'breathing-set', 'line joint');
const history: readonly RunEvent[] = sample.events;

describe('units', () => {
  it('convert there and back', () =>
    fc.assert(
      fc.property(fc.constantFrom(...units), fc.constantFrom(...units), fc.double({ min: 1e-6, max: 1e6, noNaN: true }), (a, b, raw) => {
        fc.pre(sameDimension(a.code, b.code) && a.dimension !== 'temperature');
        const value = Number(raw.toPrecision(9));
        const back = convert(convert({ value, unit: a.code }, b.code), a.code).value;
        expect(Math.abs(back - value)).toBeLessThanOrEqual(Math.abs(value) * 1e-10);
      }),
    ));
});

describe('verdicts', () => {
  const plan = planOf('ba.high-pressure', 'bar-10', { set: { filling: { value: 300, unit: 'bar' } } });
  const rank = { pass: 0, undecided: 1, fail: 2, void: 3 };
  const loses = (loss: number) =>
    only(found(plan, 'hold', { readings: { line: [[0.4, 300], [99, 300], [160, 300 - loss]] }, marks: { pressurise: 0.5, shut: 1, settle: 60, start: 100 } })); // prettier-ignore
  it('are monotone in the loss', () =>
    fc.assert(
      fc.property(fc.double({ min: 0, max: 60, noNaN: true }), fc.double({ min: 0, max: 60, noNaN: true }), (a, b) => {
        const [less, more] = [Math.min(a, b), Math.max(a, b)].map((v) => Number(v.toFixed(3)));
        expect(rank[loses(less ?? 0).verdict]).toBeLessThanOrEqual(rank[loses(more ?? 0).verdict]);
      }),
    ));
  it('of the guarded rule never turn from fail to pass by more uncertainty', () =>
    fc.assert(
      fc.property(
        fc.double({ min: -5, max: 5, noNaN: true }),
        fc.double({ min: 0.001, max: 3, noNaN: true }),
        fc.double({ min: 0, max: 3, noNaN: true }),
        (margin, u, more) => {
          if (guarded(margin, u, 0.95) === 'fail') expect(guarded(margin, u + more, 0.95)).not.toBe('pass');
          if (margin < 0) expect(conformance(margin, u)).toBeLessThanOrEqual(0.5);
        },
      ),
    ));
});

describe('a history', () => {
  it('is judged the same however its samples were cut up', () => {
    const wanted = judge(sample.plan, sample.state);
    const without = (f: (typeof wanted.findings)[number]) => ({ ...f, evidence: [] });
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1, maxLength: 20 }), (cuts) => {
        let turn = 0;
        const cut = history.flatMap((e): RunEvent[] => {
          if (e.kind !== 'samples' || e.values.length < 2) return [e];
          const parts: RunEvent[] = [];
          for (let at = 0; at < e.values.length;) {
            const size = cuts[turn++ % cuts.length] ?? 1;
            parts.push({ ...e, id: `${e.id}.${at}`, at: e.at + at * e.everyMs, values: e.values.slice(at, at + size) });
            at += size;
          }
          return parts;
        });
        const got = judge(sample.plan, foldAll(cut, emptyRun));
        expect(got.findings.map(without)).toEqual(wanted.findings.map(without));
      }),
      { numRuns: 15 },
    );
  });

  it('is judged the same when its sources interleave otherwise, and when its chunks are put together', () => {
    const wanted = judge(sample.plan, sample.state).findings.map((f) => [f.stage, f.verdict, f.observed]);
    const hand = history.filter((e) => e.kind !== 'samples');
    const logger = history.filter((e) => e.kind === 'samples');
    fc.assert(
      fc.property(fc.array(fc.boolean(), { minLength: 50, maxLength: 400 }), (coin) => {
        const [a, b] = [[...hand], [...logger]];
        const mixed: RunEvent[] = [];
        for (let i = 0; a.length > 0 || b.length > 0; i++) {
          const from = (coin[i % coin.length] ? a : b).length > 0 ? (coin[i % coin.length] ? a : b) : coin[i % coin.length] ? b : a;
          const e = from.shift();
          if (e) mixed.push(e);
        }
        expect(judge(sample.plan, foldAll(mixed, emptyRun)).findings.map((f) => [f.stage, f.verdict, f.observed])).toEqual(wanted);
      }),
      { numRuns: 15 },
    );
    const together = merged(history);
    expect(together.length).toBeLessThan(history.length);
    expect(judge(sample.plan, foldAll(together, emptyRun)).findings.map((f) => [f.stage, f.verdict, f.observed])).toEqual(wanted);
  });

  it('puts chunks together up to twenty thousand values, and no further: no event grows past what is taken in', () => {
    const chunk = (at: number, values: number, n: number): RunEvent => ({ id: `c${String(n)}`, source: 'instrument:g', n, at, kind: 'samples', channel: 'suit', unit: 'mbar', everyMs: 5, values: new Array<number>(values).fill(1) }); // prettier-ignore
    const sizes = (...chunks: readonly RunEvent[]): readonly number[] => merged(chunks).map((e) => (e.kind === 'samples' ? e.values.length : 0));
    expect(sizes(chunk(0, 15_000, 1), chunk(75_000, 5_000, 2))).toEqual([20_000]);
    expect(sizes(chunk(0, 15_000, 1), chunk(75_000, 5_001, 2))).toEqual([15_000, 5_001]);
    // What does not go on exactly where the one before ended is another chunk.
    expect(sizes(chunk(0, 10, 1), chunk(51, 10, 2))).toEqual([10, 10]);
  });

  const anyEvent: fc.Arbitrary<EventBody> = fc.oneof(
    fc.record({
      kind: fc.constant('began' as const),
      stage: fc.constantFrom('gather', 'look', 'inflate', 'nowhere', '__proto__'),
      attempt: fc.integer({ min: 1, max: 4 }),
    }),
    fc.record({ kind: fc.constant('ended' as const), stage: fc.constantFrom('gather', 'inflate', 'nowhere'), attempt: fc.integer({ min: 1, max: 4 }) }),
    fc.record({ kind: fc.constant('marked' as const), mark: fc.constantFrom('start', 'fill', 'nothing') }),
    fc.record({
      kind: fc.constant('answered' as const),
      item: fc.constantFrom('serial', 'nothing'),
      answer: fc.constantFrom('yes' as const, 'no' as const, 'notApplicable' as const),
    }),
    fc.record({
      kind: fc.constant('spotted' as const),
      spot: fc.constantFrom('regulator', 'nothing'),
      grade: fc.constantFrom('none' as const, 'grows' as const),
    }),
    fc.record({
      kind: fc.constant('reading' as const),
      channel: fc.constantFrom('suit', 'nothing'),
      quantity: fc.record({ value: fc.double({ noNaN: true, min: -1e9, max: 1e9 }), unit: fc.constantFrom('mbar', 'Pa') }),
    }),
    fc.record({ kind: fc.constant('withdrawn' as const), event: fc.constantFrom('e1', 'e2', 'e5'), reason: fc.constant('so') }),
    fc.constantFrom<EventBody>(
      { kind: 'sealed' },
      { kind: 'abandoned', reason: 'so' },
      { kind: 'disturbed', note: 'so' },
      { kind: 'gap', wallMs: 5000, tickMs: 0 },
    ),
  );

  it('of any events at all is folded, asked and judged without a throw', () =>
    fc.assert(
      fc.property(fc.array(fc.tuple(anyEvent, fc.integer({ min: 0, max: 900_000 })), { maxLength: 40 }), (bodies) => {
        const opening = history[0];
        if (!opening) throw new Error('no opening');
        let state = fold(emptyRun, opening);
        bodies.forEach(([body, at], i) => {
          const e: RunEvent = { id: `e${i}`, source: 'hand', n: i + 2, at, ...body };
          expect(() => may(sample.plan, state, e)).not.toThrow();
          state = fold(state, e);
        });
        expect(() => judge(sample.plan, state)).not.toThrow();
        expect(() => next(sample.plan, state)).not.toThrow();
        expect(items(state.history)).toHaveLength(bodies.length + 1);
      }),
      few,
    ));

  it('without a withdrawn event is as if it had not been', () => {
    const people = history.map((e, i) => ({ e, i })).filter(({ e }) => e.kind === 'answered' || e.kind === 'marked');
    fc.assert(
      fc.property(fc.constantFrom(...people), ({ e, i }) => {
        const before = history.slice(0, i + 1);
        const withdrawal: RunEvent = { id: 'w', source: 'other', n: 1, at: e.at, kind: 'withdrawn', event: e.id, reason: 'mistyped' };
        const { attempts, chunks, current } = foldAll([...before, withdrawal], emptyRun);
        const never = foldAll(before.slice(0, -1), emptyRun);
        expect({ attempts, current }).toEqual({ attempts: never.attempts, current: never.current });
        expect(Object.keys(chunks)).toEqual(Object.keys(never.chunks));
      }),
      few,
    );
  });
});

describe('what may come next', () => {
  it('refuses every place but the next of a route, and takes a worse grade of one already seen', () => {
    const until = surveyed.events.findIndex((e) => e.kind === 'spotted');
    const state = foldAll(surveyed.events.slice(0, until), emptyRun);
    const n = (state.sources['hand']?.n ?? 0) + 1;
    const spot = (id: string): RunEvent => ({ id: 'x', source: 'hand', n, at: state.at, kind: 'spotted', spot: id, grade: 'stream' });
    expect(next(surveyed.plan, state)).toMatchObject({ kind: 'spot', spot: { id: 'regulator' } });
    expect(may(surveyed.plan, state, spot('manifold'))?.code).toBe('spot.notNext');
    expect(may(surveyed.plan, state, spot('regulator'))).toBeNull();
    const seen = fold(state, spot('regulator'));
    expect(may(surveyed.plan, seen, { ...spot('regulator'), n: n + 1, grade: 'grows' } as RunEvent)).toBeNull();
    expect(fold(seen, { ...spot('regulator'), n: n + 1, grade: 'grows' } as RunEvent).attempts['soap']?.[0]?.spots['regulator']?.grade).toBe('grows');
    expect(
      may(sample.plan, foldAll(history.slice(0, 3), emptyRun), {
        ...spot('regulator'),
        n: 2 + (foldAll(history.slice(0, 3), emptyRun).sources['hand']?.n ?? 0) - 1,
      })?.code,
    ).toBe('item.notHere');
    expect(may(surveyed.plan, seen, { id: 'y', source: 'hand', n: n + 1, at: state.at, kind: 'ended', stage: 'soap', attempt: 1 })?.code).toBe(
      'check.unanswered',
    );
  });

  it('allows what comes next at every turn of a run, and refuses everything that does not', () => {
    const marks = [...new Set(history.flatMap((e) => (e.kind === 'marked' ? [e.mark] : [])))];
    const stages = sample.plan.stages.map((x) => x.id);
    const turns = history.map((e, i) => ({ e, i })).filter(({ e }) => e.source === 'hand' && e.kind !== 'opened');
    fc.assert(
      fc.property(fc.constantFrom(...turns), fc.constantFrom(...marks), fc.constantFrom(...stages), ({ e, i }, mark, stage) => {
        const state = foldAll(history.slice(0, i), emptyRun);
        expect(may(sample.plan, state, e)).toBeNull();
        const asked = next(sample.plan, state);
        const wrong = (body: EventBody): RunEvent => ({ id: 'x', source: e.source, n: e.n, at: e.at, ...body });
        if (!(asked.kind === 'start' && mark === 'start') && !('step' in asked && asked.step.id === mark))
          expect(may(sample.plan, state, wrong({ kind: 'marked', mark }))).not.toBeNull();
        if (!(asked.kind === 'begin' && asked.stage.id === stage)) expect(may(sample.plan, state, wrong({ kind: 'began', stage, attempt: 1 }))).not.toBeNull();
        if (asked.kind !== 'seal') expect(may(sample.plan, state, wrong({ kind: 'sealed' }))).not.toBeNull();
        expect(may(sample.plan, state, { ...e, n: e.n + 1 })?.code).toBe('source.countWrong');
      }),
      few,
    );
  });

  it('a series out of its order is void, whatever it found', () => {
    const { plan, events } = practiceRun('valve.vent', 'in-order', 'vent-stand', 'none');
    expect(judge(plan, foldAll(events, emptyRun)).verdict).toBe('pass');
    // Stages 2 and 3 told in each other's place, as a file could tell them.
    const swap: Readonly<Record<string, string>> = { 'crack-plus': 'leak-minus', 'leak-minus': 'crack-plus' };
    const told = events.map((e) => ((e.kind === 'began' || e.kind === 'ended') && swap[e.stage] ? { ...e, stage: swap[e.stage] ?? e.stage } : e));
    const result = judge(plan, foldAll(told, emptyRun));
    expect(result.verdict).toBe('void');
    expect(result.findings.flatMap((f) => f.reasons.map((r) => r.code))).toContain('outOfOrder');
  });

  it('a spoilt lift is withdrawn and done again alone', () => {
    const { plan, events } = practiceRun('valve.relief', 'asme', 'relief-bench', 'none');
    const at = events.findIndex((e) => e.kind === 'marked' && e.mark === 'shut-2');
    const spoilt = events[at];
    const state = foldAll(events.slice(0, at + 1), emptyRun);
    const n = (state.sources['hand']?.n ?? 0) + 1;
    const withdrawal: RunEvent = { id: 'w', source: 'hand', n, at: state.at, kind: 'withdrawn', event: spoilt?.id ?? '', reason: 'the hose slipped' };
    expect(may(plan, state, withdrawal)).toBeNull();
    expect(next(plan, fold(state, withdrawal))).toMatchObject({ kind: 'act', step: { id: 'shut-2' } });
  });
});
