import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  emptyRun,
  openAttempt,
  fold,
  foldAll,
  items,
  judge,
  may,
  next,
  refusalInWords,
  type EventBody,
  type Refusal,
  type RunEvent,
  type RunState,
} from '../../src/run';
import { brakes, manometer, planFor, suit } from '../testing/practiceRuns';
import { suitScript } from '../testing/script';

const inH2O = "[in_i'H2O]";
const done = suitScript({ ruleSet: 'in-h2o-4', unit: inH2O, fill: 5.5, start: 4, end: 3.6, settle: 60, hold: 240 });
const { plan, events } = done;
const upTo = (last: (e: RunEvent) => boolean): RunState => foldAll(events.slice(0, events.findIndex(last) + 1));
const said = (kind: EventBody['kind'], key?: string, value?: string) => (e: RunEvent) =>
  e.kind === kind && (key === undefined || (e as unknown as Record<string, unknown>)[key] === value);

/** Asks for a statement at the end of a state, counted as its source would count it. */
function ask(state: RunState, body: EventBody, seconds?: number): Refusal | null {
  const last = state.sources['hand'];
  return may(plan, state, { ...body, id: 'new', source: 'hand', n: (last?.n ?? 0) + 1, at: seconds === undefined ? state.at : seconds * 1000 });
}
const code = (refusal: Refusal | null): string => refusal?.code ?? 'allowed';

describe('fold', () => {
  it('never refuses stored history, whatever order or nonsense it holds', () => {
    const nonsense = fc.record({ id: fc.string(), source: fc.string(), n: fc.nat(), at: fc.nat() }).chain((head) =>
      fc
        .oneof(
          fc.record({ kind: fc.constant('began' as const), stage: fc.constantFrom('inflate', 'nowhere'), attempt: fc.nat() }),
          fc.record({ kind: fc.constant('ended' as const), stage: fc.constantFrom('inflate', 'nowhere'), attempt: fc.nat() }),
          fc.record({ kind: fc.constant('marked' as const), mark: fc.string() }),
          fc.record({ kind: fc.constant('answered' as const), item: fc.string(), answer: fc.constantFrom('yes' as const, 'no' as const) }),
          fc.record({
            kind: fc.constant('reading' as const),
            channel: fc.constantFrom('suit', 'other'),
            quantity: fc.record({ value: fc.integer(), unit: fc.constant('mbar') }),
          }),
          fc.record({ kind: fc.constant('withdrawn' as const), event: fc.constantFrom('hand-3', 'hand-20', 'nothing'), reason: fc.string() }),
          fc.constant({ kind: 'sealed' as const }),
        )
        .map((body) => ({ ...head, ...body })),
    );
    fc.assert(
      fc.property(fc.shuffledSubarray([...events]), fc.array(nonsense, { maxLength: 20 }), (some, more) => {
        const state = foldAll([...some, ...more]);
        expect(items(state.history)).toHaveLength(some.length + more.length);
        judge(plan, state);
        next(plan, state);
      }),
      { seed: 20261125, numRuns: 120 },
    );
  });

  it('a withdrawn statement leaves what is known as if it had not been said', () => {
    const open = upTo(said('marked', 'mark', 'connect'));
    const slip: RunEvent = { id: 'slip', source: 'hand', n: 99, at: open.at, kind: 'reading', channel: 'suit', quantity: { value: 9.9, unit: inH2O } };
    const back = fold(fold(open, slip), { id: 'undo', source: 'hand', n: 100, at: open.at, kind: 'withdrawn', event: 'slip', reason: 'misread' });
    const known = ({ opened, attempts, current, chunks, disturbances, gaps, sealed }: RunState) => ({
      opened,
      attempts,
      current,
      disturbances,
      gaps,
      sealed,
      chunks: Object.fromEntries(Object.entries(chunks).map(([c, t]) => [c, items(t)])),
    });
    expect(known(back)).toEqual(known(open));
    expect(items(back.history)).toHaveLength((open.history?.length ?? 0) + 2);
  });

  it('knows that a chunk of samples reaches to its last value: the run’s clock is never behind the gauge', () => {
    const state = fold(upTo(said('opened')), {
      id: 's',
      source: 'instrument:g',
      n: 1,
      at: 1000,
      kind: 'samples',
      channel: 'suit',
      unit: 'mbar',
      everyMs: 500,
      values: [1, 2, 3],
    });
    expect(state.at).toBe(2000);
    expect(
      code(may(plan, state, { id: 't', source: 'instrument:g', n: 2, at: 1500, kind: 'samples', channel: 'suit', unit: 'mbar', everyMs: 500, values: [4] })),
    ).toBe('source.timeBack');
  });

  it('never sets the run’s clock back, whatever time an event of another source speaks of', () => {
    const open = upTo(said('marked', 'mark', 'connect'));
    const late = fold(open, { id: 'l', source: 'server', n: 99, at: open.at - 60_000, kind: 'gap', wallMs: 5, tickMs: 0 });
    expect(open.at).toBeGreaterThan(60_000);
    expect(late.at).toBe(open.at);
    expect(code(ask(late, { kind: 'disturbed', note: 'x' }, open.at / 1000 - 1))).toBe('source.timeBack');
  });

  it.each([
    ['+13:00', '2026-11-25T18:00:00.000Z', 'void'], // seven in the morning of the 26th
    ['-10:00', '2026-11-26T05:00:00.000Z', 'pass'], // seven in the evening of the 25th
    [undefined, '2026-11-25T18:00:00.000Z', 'pass'],
  ])('counts the last day of a calibration by the station’s own day: at %s a run of %s is %s', (offset, startedAt, verdict) => {
    const gauge = { ...manometer, calibrationDue: '2026-11-25' };
    const all = events.map((e): RunEvent =>
      e.kind === 'opened' ? { ...e, startedAt, ...(offset === undefined ? {} : { offset }), instruments: { suit: gauge } } : e,
    );
    expect(judge(plan, foldAll(all)).verdict).toBe(verdict);
  });

  it('ends another stage’s attempt that a new one begins over', () => {
    const open = upTo(said('marked', 'mark', 'fill'));
    const again = fold(open, { id: 'x', source: 'hand', n: 99, at: open.at, kind: 'began', stage: 'rig-proof', attempt: 2, reason: 'doubtful kit' });
    expect(again.attempts['inflate']?.[0]).toMatchObject({ broken: true });
    expect(next(plan, again)).toMatchObject({ kind: 'act', step: { id: 'blank' } });
  });
});

describe('may', () => {
  it('allows every event of a run that was done rightly', () => {
    let state = emptyRun;
    for (const event of events) {
      expect([event.kind, may(plan, state, event)]).toEqual([event.kind, null]);
      state = fold(state, event);
    }
  });

  const cases: [string, RunState, EventBody, string, number?][] = [
    ['anything before the opening', emptyRun, { kind: 'disturbed', note: 'x' }, 'run.notOpen'],
    ['a second opening', done.state, { ...(events[0] as Extract<RunEvent, { kind: 'opened' }>) }, 'run.alreadyOpen'],
    ['anything after the seal', done.state, { kind: 'disturbed', note: 'x' }, 'run.closed'],
    ['a stage that is not next', upTo(said('opened')), { kind: 'began', stage: 'inflate', attempt: 1 }, 'stage.notNext'],
    ['a stage that is not there', upTo(said('opened')), { kind: 'began', stage: 'nowhere', attempt: 1 }, 'stage.unknown'],
    ['an attempt that skips', upTo(said('opened')), { kind: 'began', stage: 'gather', attempt: 2 }, 'attempt.wrong'],
    ['doing again without a reason', upTo(said('ended', 'stage', 'gather')), { kind: 'began', stage: 'gather', attempt: 2 }, 'stage.reasonMissing'],
    ['an answer to what is not asked', upTo(said('began', 'stage', 'gather')), { kind: 'answered', item: 'zip', answer: 'yes' }, 'item.notHere'],
    [
      'does not apply, to what always applies',
      upTo(said('began', 'stage', 'gather')),
      { kind: 'answered', item: 'serial', answer: 'notApplicable', reason: 'x' },
      'item.notOptional',
    ],
    ['ending a check with open questions', upTo(said('began', 'stage', 'gather')), { kind: 'ended', stage: 'gather', attempt: 1 }, 'check.unanswered'],
    ['ending a stage that is not under way', upTo(said('began', 'stage', 'gather')), { kind: 'ended', stage: 'look', attempt: 1 }, 'stage.notOpen'],
    ['a step out of turn', upTo(said('began', 'stage', 'inflate')), { kind: 'marked', mark: 'trim' }, 'step.notNext'],
    ['a mark outside any stage', upTo(said('ended', 'stage', 'gather')), { kind: 'marked', mark: 'fill' }, 'stage.notOpen'],
    ['a window that was not reached', upTo(said('marked', 'mark', 'connect')), { kind: 'marked', mark: 'fill' }, 'step.unmet'],
    ['a settling that was not waited out', upTo(said('marked', 'mark', 'fill')), { kind: 'marked', mark: 'settle' }, 'step.unmet', 359.9],
    [
      'a hold that is not over',
      upTo((e) => e.kind === 'marked' && e.mark === 'start' && e.at > 200_000),
      { kind: 'ended', stage: 'inflate', attempt: 1 },
      'hold.notOver',
    ],
    ['a reading of no channel', upTo(said('opened')), { kind: 'reading', channel: 'boot', quantity: { value: 1, unit: 'mbar' } }, 'channel.unknown'],
    ['a reading in litres', upTo(said('opened')), { kind: 'reading', channel: 'suit', quantity: { value: 1, unit: 'L' } }, 'reading.unitWrong'],
    [
      'a reading beyond the instrument',
      upTo(said('opened')),
      { kind: 'reading', channel: 'suit', quantity: { value: 51, unit: 'mbar' } },
      'reading.outOfRange',
    ],
    ['samples without a rhythm', upTo(said('opened')), { kind: 'samples', channel: 'suit', unit: 'mbar', everyMs: 0, values: [1] }, 'samples.malformed'],
    ['withdrawing nothing', upTo(said('opened')), { kind: 'withdrawn', event: 'nothing', reason: 'x' }, 'withdraw.unknown'],
    ['withdrawing what no person said', upTo(said('began', 'stage', 'gather')), { kind: 'withdrawn', event: 'hand-0', reason: 'x' }, 'withdraw.notStatement'],
    ['withdrawing from a judged stage', upTo(said('began', 'stage', 'look')), { kind: 'withdrawn', event: 'hand-2', reason: 'x' }, 'withdraw.judged'],
    ['sealing what is unfinished', upTo(said('ended', 'stage', 'inflate')), { kind: 'sealed' }, 'seal.unfinished'],
  ];
  it.each(cases)('refuses %s', (_what, state, body, wanted, seconds) => {
    const refusal = ask(state, body, seconds);
    expect(code(refusal)).toBe(wanted);
    const words = refusal ? refusalInWords(refusal) : '';
    expect(words).not.toMatch(/[{}]/);
    expect(words.length).toBeGreaterThan(10);
  });

  it('takes no step from under what stands on it: a start that was read before the last trim is no start', () => {
    const state = upTo(said('marked', 'mark', 'start'));
    const marks = openAttempt(state)?.marks ?? [];
    const refused = marks.map((m) => code(ask(state, { kind: 'withdrawn', event: m.event, reason: 'x' })));
    expect(refused).toEqual([...marks.slice(1).map(() => 'withdraw.stoodOn'), 'allowed']);
  });

  it('allows the settling when it has been waited out, to the millisecond', () =>
    expect(ask(upTo(said('marked', 'mark', 'fill')), { kind: 'marked', mark: 'settle' }, 360)).toBeNull());

  it('refuses a source whose count skips or whose clock goes back', () => {
    const state = upTo(said('opened'));
    const event = (n: number, at: number): RunEvent => ({ id: 'x', source: 'hand', n, at, kind: 'disturbed', note: 'x' });
    expect(code(may(plan, { ...state, sources: { hand: { n: 1, at: 500 } } }, event(2, 499)))).toBe('source.timeBack');
    expect([1, 3].map((n) => code(may(plan, state, event(n, 1000))))).toEqual(['source.countWrong', 'source.countWrong']);
  });

  it('refuses to open without the instrument that a channel needs, or on another procedure or rule set', () => {
    const opened = events[0] as Extract<RunEvent, { kind: 'opened' }>;
    expect(code(may(plan, emptyRun, { ...opened, instruments: {} }))).toBe('run.instrumentMissing');
    expect(code(may(plan, emptyRun, { ...opened, procedure: 'other' }))).toBe('run.digestDiffers');
    expect(code(may(plan, emptyRun, { ...opened, ruleSet: 'mbar-16.5' }))).toBe('run.ruleSetDiffers');
  });

  it('does not let a failed item be tried until it passes: its retest is another run', () => {
    const failed = suitScript({ ruleSet: 'in-h2o-4', unit: inH2O, fill: 5.5, start: 4, end: 3, settle: 60, hold: 240 });
    const ended = failed.events.findIndex(said('ended', 'stage', 'inflate'));
    expect(code(ask(foldAll(failed.events.slice(0, ended + 1)), { kind: 'began', stage: 'inflate', attempt: 2, reason: 'again' }))).toBe('stage.failed');
  });

  it('lets a void attempt be tried again, but not for ever', () => {
    let state = upTo(said('began', 'stage', 'inflate'));
    for (const attempt of [2, 3]) {
      expect(ask(state, { kind: 'began', stage: 'inflate', attempt, reason: 'kinked hose' })).toBeNull();
      state = fold(state, {
        id: `b${attempt}`,
        source: 'hand',
        n: (state.sources['hand']?.n ?? 0) + 1,
        at: state.at,
        kind: 'began',
        stage: 'inflate',
        attempt,
        reason: 'kinked hose',
      });
    }
    expect(code(ask(state, { kind: 'began', stage: 'inflate', attempt: 4, reason: 'kinked hose' }))).toBe('attempt.tooMany');
  });

  it('holds the item back until every line of the aftercare is done', () => {
    const last = events.findIndex(said('answered', 'item', 'stored'));
    const withNo = events
      .slice(0, last + 2)
      .map((e): RunEvent => (e.kind === 'answered' && e.item === 'plugs-out' ? { ...e, answer: 'no', reason: 'one missing' } : e));
    const state = foldAll(withNo);
    expect(code(ask(state, { kind: 'sealed' }))).toBe('seal.aftercare');
    expect(ask(state, { kind: 'began', stage: 'aftercare', attempt: 2, reason: 'found the plug' })).toBeNull();
    expect(judge(plan, state)).toMatchObject({ verdict: 'void', blocks: false });
  });

  it('lets an open attempt be left for a new one, with the reason, and keeps what was said in it: a no blocks the item all the same', () => {
    const looking = upTo(said('began', 'stage', 'look'));
    const no = fold(looking, { id: 'no', source: 'hand', n: 99, at: looking.at, kind: 'answered', item: 'sound', answer: 'no', reason: 'cut boot' });
    expect(code(ask(no, { kind: 'began', stage: 'look', attempt: 2 }))).toBe('stage.reasonMissing');
    expect(ask(no, { kind: 'began', stage: 'look', attempt: 2, reason: 'looked at the wrong one' })).toBeNull();
    const again = fold(no, {
      id: 'again',
      source: 'hand',
      n: 100,
      at: looking.at,
      kind: 'began',
      stage: 'look',
      attempt: 2,
      reason: 'looked at the wrong one',
    });
    expect(
      judge(plan, again)
        .earlier.filter((f) => f.verdict === 'fail')
        .map((f) => f.stage),
    ).toEqual(['look']);
    expect(judge(plan, again).blocks).toBe(true);
  });
});

describe('judge', () => {
  it('an automatic no ends the test, blocks the item, and leaves only the aftercare', () => {
    const looking = upTo(said('began', 'stage', 'look'));
    const no = fold(looking, { id: 'no', source: 'hand', n: 99, at: looking.at, kind: 'answered', item: 'sound', answer: 'no', reason: 'cut boot' });
    const ended = fold(no, { id: 'end', source: 'hand', n: 100, at: looking.at, kind: 'ended', stage: 'look', attempt: 1 });
    expect(next(plan, ended)).toMatchObject({ kind: 'begin', stage: { id: 'aftercare' } });
    expect(judge(plan, ended)).toMatchObject({ verdict: 'fail', blocks: true });
    expect(judge(plan, ended).findings.map((f) => f.stage)).toEqual(['gather', 'look', 'aftercare']);
  });

  it('a serial that does not match voids the test and says nothing of the item', () => {
    const state = upTo(said('began', 'stage', 'gather'));
    const no = foldAll([{ id: 'no', source: 'hand', n: 9, at: 3000, kind: 'answered', item: 'serial', answer: 'no', reason: 'other suit' }, { id: 'end', source: 'hand', n: 10, at: 3000, kind: 'ended', stage: 'gather', attempt: 1 }] as RunEvent[], state); // prettier-ignore
    expect(judge(plan, no)).toMatchObject({ verdict: 'void', blocks: false });
  });

  it('an unfinished run is undecided', () => expect(judge(plan, upTo(said('marked', 'mark', 'fill'))).verdict).toBe('undecided'));

  it('is monotone: losing more never helps (losses ≥ 0)', () => {
    const rank = { pass: 0, undecided: 1, fail: 2, void: 3 } as const;
    const verdictAt = (end: number) =>
      judge(plan, suitScript({ ruleSet: 'in-h2o-4', unit: inH2O, fill: 5.5, start: 4, end, settle: 60, hold: 240 }).state).verdict;
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 400 }), fc.integer({ min: 0, max: 400 }), (a, b) => {
        const [more, less] = [Math.max(a, b), Math.min(a, b)];
        expect(rank[verdictAt((400 - more) / 100)]).toBeGreaterThanOrEqual(rank[verdictAt((400 - less) / 100)]);
      }),
      { seed: 20261125, numRuns: 60 },
    );
  });

  it('adding uncertainty never turns a fail into a pass', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 250, max: 400 }),
        fc.integer({ min: 0, max: 300 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (end, accuracy, correlation) => {
          const with_ = (a: number) => suitScript({ ruleSet: 'in-h2o-4', unit: inH2O, fill: 5.5, start: 4, end: end / 100, settle: 60, hold: 240, instrument: { id: 'g', fitted: false, low: { value: 0, unit: inH2O }, high: { value: 20, unit: inH2O }, resolution: { value: 0.01, unit: inH2O }, accuracy: { value: a, unit: inH2O }, correlation, calibrationDue: '2027-01-01' } }).result.verdict; // prettier-ignore
          if (with_(0) === 'fail') expect(with_(accuracy / 100)).not.toBe('pass');
        },
      ),
      { seed: 20261125, numRuns: 80 },
    );
  });

  it('finds the same from streamed and from typed readings of one rig', () => {
    for (const [fault, verdict] of [
      ['none', 'pass'],
      ['zip end', 'fail'],
    ] as const) {
      // prettier-ignore
      expect(judge(plan, suit('in-h2o-4', fault, { readings: 'typed' }).state).verdict).toBe(verdict);
    }
    const both = brakes('fire-apparatus', 'second circuit chamber');
    expect(judge(both.plan, both.state).findings.find((f) => f.channel === 'secondary')?.verdict).toBe('fail');
    expect(planFor('brakes.applied-loss', 'bus-b', { vehicle: {} }).stages.map((s) => s.id)).not.toContain('static');
  });
});
