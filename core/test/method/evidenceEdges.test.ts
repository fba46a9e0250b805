import { describe, expect, it } from 'vitest';
import { awaited, neverMeans, neverUnmet, NEVER_COMES, setUpAsked, type Awaited } from '../../src/method/evidence/never';
import { crossing, goneThrough, readingAt, readingAtEvent, repeatabilityOf } from '../../src/method/evidence/readings';
import { isShown, leftShown, shownUnmet } from '../../src/method/evidence/shown';
import { lastStepAt, stayUnmet, stepUnmet, stepsUnmet, waiting, waitingSince, windowUnmet } from '../../src/method/evidence/steps';
import { askedUnmet, usableInstrument } from '../../src/method/evidence/attempted';
import { judgeStage, ReadingList, type Attempted, type Reading, type StageRecord, type Task } from '../../src/method';
import { procedureById, type CheckItem, type Procedure, type Stage, type Step } from '../../src/procedure';
import { found, instrumentsFor, planOf, recordFor, stageOf, type Written } from '../testing/attempt';

/** How far a reading goes as evidence: each figure, and one step to each side of it. */

const pa = (value: number) => ({ value, unit: 'Pa' });
const without = <T extends object>(of: T, name: string): T => Object.fromEntries(Object.entries(of).filter(([k]) => k !== name)) as T;
const source = { title: 'invented for this test' };
const figure = (value: number, unit: string) => ({ value: { value, unit }, source });
const items: readonly CheckItem[] = [
  { id: 'zero', text: 'Falls to zero', shown: { channel: 'p', high: 'low', after: 'high' } },
  { id: 'full', text: 'Is full', shown: { channel: 'p', low: 'low', from: 'high' } },
  { id: 'same', text: 'The gauges agree', shown: { agree: ['p', 'q'], within: 'within' } },
  { id: 'seen', text: 'Looks well' },
];
const keep = { channel: 'p', low: 'low', high: 'high', topUps: 2 } as const;
const settle: Extract<Step, { kind: 'wait' }> = { id: 'settle', text: 'Let it settle', kind: 'wait', s: 'wait', keep };

function planned(steps: Stage['steps'] = [], setUp?: readonly CheckItem[]): ReturnType<typeof planOf> {
  const document: Procedure = {
    ...(procedureById('cyl.water-jacket') as Procedure),
    id: 'test.evidence',
    roles: (procedureById('suit.inflation') as Procedure).roles,
    ...(setUp ? { setUp } : {}),
    channels: { p: { role: 'suit', unit: 'Pa', title: 'Pressure' }, q: { role: 'suit', unit: 'Pa', title: 'Second' } },
    stages: [
      {
        id: 'hold', role: 'suit', title: 'Hold', attempts: 1, onFail: 'continue', phase: 'test', steps,
        method: { kind: 'decay', channels: ['p'], hold: 'wait', start: { low: 'low', high: 'high' } },
      },
    ],
    ruleSets: [
      {
        id: 'quick', title: 'Quick', edition: '1', note: 'invented', order: 'free', skip: [], decision: { kind: 'simple' },
        parameters: { wait: figure(400, 's'), low: figure(90, 'Pa'), high: figure(110, 'Pa'), within: figure(5, 'Pa') },
        limits: [{ id: 'loss', stage: 'hold', of: 'loss', op: '<=', value: pa(20), source }],
      },
    ],
  }; // prettier-ignore
  return planOf(document, 'quick', { suit: {} });
}
const plan = planned();
const record = (w: Written, of = plan): StageRecord => recordFor(of, 'hold', { ended: null, ...w });
const at = (w: Written, of = plan): Attempted => {
  const stage = stageOf(of, 'hold');
  return { plan: of, stage, method: stage.method, record: record(w, of), instruments: instrumentsFor(of, w.instruments) };
};
const mixed = (...readings: readonly (readonly [number, number, boolean, string?])[]): StageRecord => ({
  ...record({}),
  readings: { p: ReadingList.of(readings.map(([s, value, typed, unit = 'Pa'], i): Reading => ({ at: s * 1000, value, unit, typed, event: `e${i}` }))) },
});

describe('the reading that stands for a moment', () => {
  it('is the newest, and a minute old at the most', () => {
    const r = record({ readings: { p: [[1, 5], [2, 7]] } }); // prettier-ignore
    expect(readingAt(r, 'p', 2000)?.value).toBe(7);
    expect(readingAt(r, 'p', 1999)?.value).toBe(5);
    expect(readingAt(r, 'p', 62_000)?.value).toBe(7);
    expect(readingAt(r, 'p', 62_001)).toBeUndefined();
    expect(readingAt(r, 'p', 999)).toBeUndefined();
  });

  it('is, when something happened, the instrument’s nearest within two seconds, and the earlier of two', () => {
    const of = (...s: readonly number[]) => readingAtEvent(mixed(...s.map((x) => [x, x, false] as const)), 'p', 10_000)?.value;
    expect([of(8), of(12), of(7.999), of(12.001)]).toEqual([8, 12, undefined, undefined]);
    expect([of(9, 11), of(9, 10.5), of(9.6, 10.5)]).toEqual([9, 10.5, 9.6]);
  });

  it('or what was typed within a minute after it, else the last within five seconds before', () => {
    const of = (...s: readonly number[]) => readingAtEvent(mixed(...s.map((x) => [x, x, true] as const)), 'p', 10_000)?.value;
    expect([of(5), of(4.999), of(70), of(70.001)]).toEqual([5, undefined, 70, undefined]);
    expect([of(6, 9, 30, 40), of(6, 9), of(9, 10, 11)]).toEqual([30, 9, 10]);
    // What streams is nearer than what anybody typed.
    expect(readingAtEvent(mixed([10, 1, true], [11, 2, false]), 'p', 10_000)?.value).toBe(2);
    // A sample out of reach is not made one by standing beside typed readings.
    expect(readingAtEvent(mixed([7, 1, false], [40, 3, true]), 'p', 10_000)?.value).toBe(3);
    expect(readingAtEvent(mixed([13, 1, false]), 'p', 10_000)).toBeUndefined();
  });

  it('is believed of a fitted gauge, or of one in calibration', () => {
    const gauge = (fitted: boolean, inCalibration: boolean) => 'code' in usableInstrument(at({ instruments: { p: { fitted, inCalibration } } }), 'p');
    expect([gauge(false, true), gauge(true, false), gauge(true, true), gauge(false, false)]).toEqual([false, false, false, true]);
    expect(usableInstrument(at({ instruments: { p: { fitted: false, inCalibration: false } } }), 'p')).toEqual({ code: 'calibrationOut', values: {} });
  });
});

describe('when a pressure was crossed', () => {
  const cross = (readings: readonly (readonly [number, number])[], value = 100, rising = true, from = 0, typed = false) =>
    crossing(record({ typed, readings: { p: readings } }), 'p', value, 'Pa', rising, from);
  it('straight between the readings around it, with its slope and how far they lie apart', () => {
    expect(cross([[1, 90], [5, 110]])).toEqual({ at: 3000, slope: 20 / 4000, apart: 4000, typed: false, earliest: 3000, latest: 3000 }); // prettier-ignore
    expect(cross([[1, 110], [5, 90]], 100, false)).toMatchObject({ at: 3000, slope: -20 / 4000 }); // prettier-ignore
    expect(cross([[1, 90], [5, 110]], 100, true, 0, true)?.typed).toBe(true); // prettier-ignore
  });
  it('five seconds apart a line may be drawn, further apart it was somewhere between', () => {
    expect(cross([[1, 90], [6, 110]])).toMatchObject({ earliest: 3500, latest: 3500 }); // prettier-ignore
    expect(cross([[1, 90], [6.001, 110]])).toMatchObject({ earliest: 1000, latest: 6001 }); // prettier-ignore
    // A reading on the figure was read when it was there.
    expect(cross([[1, 90], [60, 100]])).toMatchObject({ at: 60_000, earliest: 60_000, latest: 60_000 }); // prettier-ignore
  });
  it('never, where it stays on one side, or was only seen before it was looked for', () => {
    expect(cross([[1, 90], [5, 99.9]])).toBeNull(); // prettier-ignore
    expect(cross([[1, 90], [5, 100]])?.at).toBe(5000); // prettier-ignore
    expect(cross([[1, 90], [5, 110], [6, 90]], 100, true, 5500)).toBeNull(); // prettier-ignore
  });
  it('is through once no reading has been back for three seconds, in the middle of its noise', () => {
    const through = (readings: readonly (readonly [number, number])[], rising = true) =>
      goneThrough(record({ readings: { p: readings } }), 'p', 100, 'Pa', rising, 0); // prettier-ignore
    expect(through([[1, 99], [2, 101], [5, 102]])).not.toBeNull(); // prettier-ignore
    expect(through([[1, 99], [2, 101], [4, 102]])).toBeNull(); // prettier-ignore
    // First beyond at 1.5 s, back at 3 s for the last time.
    expect(through([[1, 99], [2, 101], [3, 99.9], [4, 101], [6.1, 103]])).toMatchObject({ at: 2250, slope: 0, apart: 1500 }); // prettier-ignore
    expect(through([[1, 101], [2, 99], [3, 100.1], [4, 99], [6.1, 97]], false)).toMatchObject({ at: 2250, slope: 0 }); // prettier-ignore
    expect(through([[1, 90], [2, 99]])).toBeNull(); // prettier-ignore
    // What is typed is taken as it is: nobody types on for three seconds.
    expect(goneThrough(record({ typed: true, readings: { p: [[1, 99], [2, 101]] } }), 'p', 100, 'Pa', true, 0)?.at).toBe(1500); // prettier-ignore
  });
});

describe('the scatter of what streams', () => {
  const list = (n: number, f: (i: number) => Partial<Reading>): ReadingList =>
    ReadingList.of(Array.from({ length: n }, (_, i): Reading => ({ at: 100 * i, value: i % 2, unit: 'Pa', typed: false, event: 'e', ...f(i) })));
  it('is the root of the mean square of the neighbours’ differences, about their mean', () => {
    // 0, 1, 0, 1 …: nine differences of ±1 whose sum is 1: √((9 − 1/9) ÷ 16).
    expect(repeatabilityOf(list(10, () => ({})), 'Pa')).toBeCloseTo(Math.sqrt((9 - 1 / 9) / 16), 12); // prettier-ignore
  });
  it('leaves out what was typed between, and what came in another unit', () => {
    const plain = repeatabilityOf(list(10, () => ({})), 'Pa'); // prettier-ignore
    expect(repeatabilityOf(list(11, (i) => (i === 10 ? { typed: true, value: 50 } : {})), 'Pa')).toBe(plain); // prettier-ignore
    expect(repeatabilityOf(list(11, (i) => (i === 10 ? { unit: 'mbar', value: 50 } : {})), 'Pa')).toBe(plain); // prettier-ignore
  });
});

describe('the steps of a stage', () => {
  it('a window that is not kept, with what stands there', () => {
    const stands = (value: number) => windowUnmet('notReached', record({ readings: { p: [[1, value]] } }), 'p', pa(90), pa(110), 2000); // prettier-ignore
    expect([stands(90), stands(110)]).toEqual([null, null]);
    expect(stands(89.9)).toEqual({ code: 'notReached', values: { value: pa(89.9), low: pa(90), high: pa(110) } });
    expect(stands(110.1)).toEqual({ code: 'notReached', values: { value: pa(110.1), low: pa(90), high: pa(110) } });
    expect(windowUnmet('startOutside', record({}), 'p', pa(90), pa(110), 2000)).toEqual({ code: 'noReading', values: { channel: 'p' } });
  });

  it('one that was left out, by its words; all of them done', () => {
    const steps: Stage['steps'] = [
      { id: 'a', text: 'First', kind: 'act' },
      { id: 'b', text: 'Second', kind: 'act' },
    ];
    const of = planned(steps);
    expect(stepsUnmet(at({ undone: ['b'] }, of), 1e6)).toEqual({ code: 'stepSkipped', values: { step: 'Second' } });
    expect(stepsUnmet(at({}, of), 1e6)).toBeNull();
  });

  it('the last of them, apart from one that brings a pressure into its window', () => {
    const steps: Stage['steps'] = [
      { id: 'a', text: 'First', kind: 'act' },
      { id: 'r', text: 'Fill', kind: 'reach', channel: 'p', low: 'low', high: 'high' },
    ];
    const of = planned(steps);
    const stage = stageOf(of, 'hold');
    expect(lastStepAt(stage, record({ marks: { a: 4, r: 9 } }, of))).toBe(4000);
    expect(lastStepAt(stage, record({ undone: ['a'], marks: { r: 9 } }, of))).toBe(Number.NEGATIVE_INFINITY);
    expect([waitingSince(stage, steps[0] as Step, record({}, of)), waitingSince(stage, steps[1] as Step, record({ marks: { a: 4 } }, of))]).toEqual([0, 4000]);
    expect(waitingSince(stage, steps[1] as Step, record({ undone: ['a'] }, of))).toBe(0);
  });
});

describe('a settling that is watched', () => {
  const plain: Step = { id: 'settle', text: 'Wait', kind: 'wait', s: 'wait' };
  const of = planned([settle]);
  const stage = stageOf(of, 'hold');
  const every = (from: number, to: number, value: number, step = 60) =>
    Array.from({ length: Math.floor((to - from) / step) + 1 }, (_, i) => [from + i * step, value] as const);
  const stands = (readings: readonly (readonly [number, number])[], s: number, typed = true) =>
    waiting(of, stage, settle, record({ typed, readings: { p: readings }, undone: ['settle'] }, of), s * 1000);

  it('waits its time and not a millisecond less', () => {
    const unmet = (s: number) => stepUnmet(at({}, of), plain, s * 1000);
    expect(unmet(400)).toBeNull();
    expect(unmet(399.999)).toEqual({ code: 'waitShort', values: { waited: { value: 399.999, unit: 's' }, wanted: { value: 400, unit: 's' } } });
  });

  it('counts from its beginning while it stands inside, the ends of its window with it', () => {
    for (const value of [90, 100, 110]) expect(stands(every(0, 300, value), 310)).toEqual({ since: 0, strayed: null, spoilt: null });
    for (const value of [89.9, 110.1])
      expect(stands(every(0, 300, value), 310)).toEqual({
        since: 310_000,
        strayed: { code: 'leftWindow', values: { value: pa(value), low: pa(90), high: pa(110) } },
        spoilt: null,
      });
  });

  it('counts anew from the reading that was inside again, and is spoilt by leaving once too often', () => {
    const left = (times: number) => Array.from({ length: times }, (_, i) => [[20 + 20 * i, 80], [30 + 20 * i, 100]] as const).flat(); // prettier-ignore
    expect(stands([[10, 100], ...left(1)], 35)).toMatchObject({ since: 30_000, strayed: null, spoilt: null }); // prettier-ignore
    expect(stands([[10, 100], ...left(2)], 60).spoilt).toBeNull(); // prettier-ignore
    expect(stands([[10, 100], ...left(3)], 80).spoilt).toEqual({ code: 'keptLeaving', values: { times: '3', most: '2' } }); // prettier-ignore
    // Outside twice running is left once.
    expect(stands([[10, 100], [20, 80], [21, 79], [22, 80], [30, 100], [31, 80], [32, 100]], 40).spoilt).toBeNull(); // prettier-ignore
    expect(stands([[10, 100], [20, 80], [21, 79.5]], 22).strayed?.values).toMatchObject({ value: pa(79.5) }); // prettier-ignore
  });

  it('what nobody looked at for a quarter of it, or a minute, did not settle', () => {
    // A quarter of 400 s.
    expect(stands([[50, 100], [150, 100]], 160).since).toBe(0); // prettier-ignore
    expect(stands([[50, 100], [150.001, 100]], 160).since).toBe(150_001); // prettier-ignore
    expect(stands([[50, 100]], 150).since).toBe(0); // prettier-ignore
    expect(stands([[50, 100]], 150.001).since).toBe(150_001); // prettier-ignore
    // What streams is watched by itself: its gap is found where it ends.
    expect(stands([[50, 100], [170, 100]], 171, false).since).toBe(0); // prettier-ignore
  });
});

describe('an answer that a gauge shows', () => {
  const shown = (id: string, w: Written, s = 10, fitted: readonly string[] = ['p', 'q']) => {
    const item = items.find((i) => i.id === id) as CheckItem;
    const instruments = Object.fromEntries(Object.entries(instrumentsFor(plan)).filter(([c]) => fitted.includes(c)));
    return shownUnmet({ ...at(w), instruments }, item, s * 1000);
  };
  it('is read only where every gauge of it is fitted', () => {
    const of = (id: string, ...fitted: readonly string[]) => isShown(items.find((i) => i.id === id) as CheckItem, Object.fromEntries(fitted.map((c) => [c, instrumentsFor(plan)[c]]))); // prettier-ignore
    expect([of('seen', 'p', 'q'), of('zero'), of('zero', 'p'), of('same', 'p'), of('same', 'p', 'q')]).toEqual([false, false, true, false, true]);
    expect(shown('zero', {}, 10, [])).toBeNull();
    expect(shown('seen', {})).toBeNull();
  });
  it('is no answer unread, and says which gauge', () => {
    expect(shown('zero', {})).toEqual({ code: 'noReading', values: { channel: 'p' } });
    expect(shown('same', { readings: { p: [[9, 100]] } })).toEqual({ code: 'noReading', values: { channel: 'q' } }); // prettier-ignore
    expect(shown('same', { readings: { q: [[9, 100]] } })).toEqual({ code: 'noReading', values: { channel: 'p' } }); // prettier-ignore
  });
  it('of two that agree: within five, whichever is the higher', () => {
    const differ = (p: number, q: number) => shown('same', { readings: { p: [[9, p]], q: [[9, q]] } }); // prettier-ignore
    expect([differ(100, 105), differ(105, 100), differ(100, 100)]).toEqual([null, null, null]);
    expect(differ(100, 105.1)).toEqual({ code: 'gaugesDiffer', values: { item: 'The gauges agree', difference: pa(5.1), limit: pa(5) } });
    expect(differ(105.1, 100)?.values).toMatchObject({ difference: pa(5.1) });
  });
  it('what shows otherwise says what it shows and what it should', () => {
    expect(shown('zero', { readings: { p: [[1, 120], [9, 90.5]] } })).toEqual({ code: 'shownOtherwise', values: { item: 'Falls to zero', value: pa(90.5), high: pa(90) } }); // prettier-ignore
    expect(shown('full', { readings: { p: [[1, 120], [9, 89.5]] } })).toEqual({ code: 'shownOtherwise', values: { item: 'Is full', value: pa(89.5), low: pa(90) } }); // prettier-ignore
    expect(shown('zero', { readings: { p: [[1, 120], [9, 90]] } })).toBeNull(); // prettier-ignore
    expect(shown('full', { readings: { p: [[1, 110], [9, 90]] } })).toBeNull(); // prettier-ignore
  });
  it('counts only on a gauge that showed enough before, by that moment', () => {
    const never = (id: string, text: string) => [id, { code: 'neverShown', values: { item: text, least: pa(110) } }] as const;
    for (const [id, reason] of [never('zero', 'Falls to zero')]) {
      expect(shown(id, { readings: { p: [[1, 109.9], [9, 0]] } })).toEqual(reason); // prettier-ignore
      expect(shown(id, { readings: { p: [[1, 110], [9, 0]] } })).toBeNull(); // prettier-ignore
      expect(shown(id, { readings: { p: [[1, 80], [9, 0], [11, 120]] } })).toEqual(reason); // prettier-ignore
    }
    const [id, reason] = never('full', 'Is full');
    expect(shown(id, { readings: { p: [[1, 109], [9, 100]] } })).toEqual(reason); // prettier-ignore
    // From what stood in this attempt alone, or since the run was opened.
    const base = record({ readings: { p: [[9, 0]] } }); // prettier-ignore
    const opened = { ...base, sinceOpened: record({ readings: { p: [[1, 120]] } }).readings }; // prettier-ignore
    const zero = items[0] as CheckItem;
    expect([shownUnmet({ ...at({}), record: base }, zero, 9000)?.code, shownUnmet({ ...at({}), record: opened }, zero, 9000)]).toEqual(['neverShown', null]);
    const full = items[1] as CheckItem;
    const before = { ...record({ readings: { p: [[9, 100]] } }), sinceOpened: opened.sinceOpened }; // prettier-ignore
    expect(shownUnmet({ ...at({}), record: before }, full, 9000)?.code).toBe('neverShown');
  });
});

describe('what never comes', () => {
  const reach: Step = { id: 'fill', text: 'Fill', kind: 'reach', channel: 'p', low: 'low', high: 'high' };
  const act: Step = { id: 'act', text: 'Do it', kind: 'act' };
  const plainWait: Step = { id: 'wait', text: 'Wait', kind: 'wait', s: 'wait' };
  const waitsFor = (step: Step, task: Task = { kind: 'end' }) => awaited(at({ undone: [step.id] }, planned([step])), task);
  const start: Task = { kind: 'start', low: pa(1), high: pa(2), on: ['q'], unmet: () => null };
  const opens: Task = { kind: 'mark', mark: 'opens', text: 'It opens', on: ['p'], unmet: () => null };

  it('is a window, a settling, a start, or something that happens; never what a person does', () => {
    expect(waitsFor(reach)).toEqual({ channels: ['p'], low: pa(90), high: pa(110) });
    expect(waitsFor(settle)).toEqual({ channels: ['p'], low: pa(90), high: pa(110), restless: true });
    expect([waitsFor(act, start), waitsFor(plainWait, opens)]).toEqual([null, null]);
    expect(awaited(at({}), start)).toEqual({ channels: ['q'], low: pa(1), high: pa(2) });
    expect(awaited(at({}), opens)).toEqual({ channels: ['p'], event: 'It opens' });
    expect(awaited(at({}), { kind: 'mark', mark: 'opens', text: 'It opens', on: [], unmet: () => null })).toBeNull();
    expect(awaited(at({}), { kind: 'end' })).toBeNull();
    expect(awaited(at({}), { kind: 'hold', since: 0, until: 1 })).toBeNull();
  });

  const window: Awaited = { channels: ['p'], low: pa(90), high: pa(110) };
  it('is not said of a gauge that nobody read, or that stands where it should', () => {
    const unmet = (w: Written, wanted: Awaited = window) => neverUnmet(at(w), wanted, 10_000);
    expect(unmet({})).toEqual({ code: 'noReading', values: { channel: 'p' } });
    expect(unmet({ readings: { p: [[11, 50]] } })).toEqual({ code: 'noReading', values: { channel: 'p' } }); // prettier-ignore
    for (const value of [90, 110]) expect(unmet({ readings: { p: [[1, value]] } })).toEqual({ code: 'standsThere', values: { value: pa(value), low: pa(90), high: pa(110) } }); // prettier-ignore
    for (const value of [89.9, 110.1]) expect(unmet({ readings: { p: [[1, value]] } })).toBeNull(); // prettier-ignore
    expect(unmet({ readings: { p: [[1, 100]] } }, { ...window, restless: true })).toBeNull(); // prettier-ignore
    expect(unmet({ readings: { p: [[1, 100]] } }, { channels: ['p'], event: 'It opens' })).toBeNull(); // prettier-ignore
  });
  it('of two gauges, one that is not fitted need not be read', () => {
    const both: Awaited = { ...window, channels: ['p', 'q'] };
    const w: Written = { readings: { p: [[1, 50]] } }; // prettier-ignore
    expect(neverUnmet(at(w), both, 10_000)).toEqual({ code: 'noReading', values: { channel: 'q' } });
    const { p } = instrumentsFor(plan);
    expect(neverUnmet({ ...at(w), instruments: { p } }, both, 10_000)).toBeNull();
    expect(neverUnmet({ ...at({}), instruments: {} }, window, 10_000)?.code).toBe('noReading');
  });

  const usual = planned([reach]);
  const said = (answers: Written['answers'], readings: Written['readings'], ended: number | null = 300, step: Step = reach, task: Task = { kind: 'end' }) => {
    const of = planned([step]);
    return neverMeans(at({ answers, readings: readings ?? {}, ended, undone: [step.id], marks: { [NEVER_COMES]: 5 } }, of), task);
  };
  const yes = Object.fromEntries(setUpAsked(usual).map((i) => [i.id, 'yes' as const]));
  it('asks for supply and set-up, by the procedure’s own list where it has one', () => {
    expect(setUpAsked(usual).map((i) => i.id)).toEqual(['never-supply', 'never-set-up']);
    const own = planned([reach], [{ id: 'selector', text: 'The selector stands right' }]);
    expect(setUpAsked(own).map((i) => i.id)).toEqual(['never-supply', 'selector']);
  });
  it('is a leak only where both are in order', () => {
    const p = [[1, 20], [2, 60], [3, 40]] as const; // prettier-ignore
    expect(said(yes, { p })).toEqual({ channel: 'p', verdict: 'fail', reasons: [{ code: 'neverReached', values: { best: pa(60), low: pa(90) } }] });
    const open = said({ 'never-supply': 'yes' }, { p }, null);
    expect(open).toEqual({ channel: null, verdict: 'undecided', reasons: [{ code: 'unfinished', values: {} }] });
    // Ended with a question open, or with a no: nobody can tell.
    const left: readonly NonNullable<Written['answers']>[] = [{ 'never-supply': 'yes' }, { 'never-supply': 'yes', 'never-set-up': 'no' }];
    for (const answers of left)
      expect(said(answers, { p })).toEqual({
        channel: null,
        verdict: 'undecided',
        reasons: [{ code: 'setUpWrong', values: { item: setUpAsked(usual)[1]?.text } }],
      });
  });
  it('is no test where nobody read the gauge', () =>
    expect(said(yes, {})).toEqual({ channel: null, verdict: 'void', reasons: [{ code: 'noReading', values: { channel: 'p' } }] }));
  it('says how near it came from above or below; above its window it is no leak', () => {
    expect(said(yes, { p: [[1, 130], [2, 115]] })).toMatchObject({ verdict: 'undecided', reasons: [{ code: 'leftWindow', values: { value: pa(115), low: pa(90), high: pa(110) } }] }); // prettier-ignore
    expect(said(yes, { p: [[1, 88], [2, 115]] })).toMatchObject({ verdict: 'fail', reasons: [{ values: { best: pa(88) } }] }); // prettier-ignore
  });
  it('of a settling says where it strayed furthest once it had been there', () => {
    const strayed = said(yes, { p: [[1, 20], [2, 100], [3, 80], [4, 70], [5, 85]] }, 300, settle); // prettier-ignore
    expect(strayed).toEqual({ channel: 'p', verdict: 'fail', reasons: [{ code: 'neverReached', values: { best: pa(70), low: pa(90) } }] });
    expect(said(yes, { p: [[1, 20], [2, 90], [3, 84]] }, 300, settle).reasons[0]?.values).toMatchObject({ best: pa(84) }); // prettier-ignore
  });
  it('of something that should have happened says what stood there last', () => {
    const came = (readings: Written['readings']) => neverMeans(at({ answers: yes, readings: readings ?? {}, ended: 300 }), opens);
    expect(came({ p: [[1, 20], [2, 60]] })).toEqual({ channel: 'p', verdict: 'fail', reasons: [{ code: 'neverCame', values: { event: 'It opens', best: pa(60) } }] }); // prettier-ignore
    expect(came({})).toMatchObject({ verdict: 'void' });
  });
});

describe('a step that a gauge shows', () => {
  const off: Step = { id: 'off', text: 'Engine off', kind: 'act', shown: { channel: 'q', high: 'low' }, stays: true };
  const once: Step = { id: 'once', text: 'Valve shut', kind: 'act', shown: { channel: 'q', high: 'low' } };
  const of = planned([off]);
  const reads = (...q: readonly (readonly [number, number])[]): Written => ({ readings: { p: [[9, 100]], q } });
  const unmet = (w: Written, s: number, step = off) => stepUnmet(at({ ...w, undone: ['off'] }, of), step, s * 1000);

  it('is done once its gauge shows it, and takes a word where none is fitted', () => {
    expect(unmet(reads([1, 90]), 2)).toBeNull(); // prettier-ignore
    expect(unmet(reads([1, 90.1]), 2)).toEqual({ code: 'shownOtherwise', values: { item: 'Engine off', value: pa(90.1), high: pa(90) } }); // prettier-ignore
    expect(unmet(reads(), 2)).toEqual({ code: 'noReading', values: { channel: 'q' } });
    const fitted = without(instrumentsFor(of), 'q');
    expect(stepUnmet({ ...at(reads([1, 700]), of), instruments: fitted }, off, 2000)).toBeNull(); // prettier-ignore
    // Documents of the first language take a word for it.
    const first = without<Procedure>(of.procedure, 'language');
    expect(stepUnmet({ ...at(reads([1, 700]), of), plan: { ...of, procedure: first } }, off, 2000)).toBeNull(); // prettier-ignore
  });

  it('has to stay so until the stage has measured, where it says so: by every reading after it, to the moment itself', () => {
    const left = (s: number, ...q: readonly (readonly [number, number])[]) => stayUnmet(at({ ...reads(...q), marks: { off: 5 } }, of), s * 1000);
    expect(left(60, [4, 0], [30, 90])).toBeNull(); // prettier-ignore
    expect(left(60, [4, 0], [30, 700], [40, 0])).toEqual({ code: 'shownOtherwise', values: { item: 'Engine off', value: pa(700), high: pa(90) } }); // prettier-ignore
    expect([left(30, [4, 0], [30, 700])?.code, left(29.999, [4, 0], [30, 700])]).toEqual(['shownOtherwise', null]); // prettier-ignore
    // What stood there as it was marked was looked at then; a step that was never marked has nothing to keep.
    expect(left(60, [5, 700])).toBeNull(); // prettier-ignore
    expect(stayUnmet(at({ ...reads([30, 700]), undone: ['off'] }, of), 60_000)).toBeNull(); // prettier-ignore
    const loose = planned([once]);
    expect(stayUnmet(at({ ...reads([30, 700]), marks: { once: 5 } }, loose), 60_000)).toBeNull(); // prettier-ignore
    expect(leftShown(at(reads([1, 0], [30, 700]), of), { text: 'x', shown: { agree: ['p', 'q'], within: 'within' } }, 0, 1e6)).toBeNull(); // prettier-ignore
  });

  it('an engine that runs again in the hold makes a pass no test, and a failure none the better', () => {
    const hold = (end: number, ...q: readonly (readonly [number, number])[]) =>
      judgeStage(of, stageOf(of, 'hold'), record({ readings: { p: [[9, 100], [410, end]], q: [[4, 0], ...q, [400, 0]].sort((a, b) => a[0] - b[0]) as never }, marks: { off: 5, start: 10 }, ended: 420 }, of), instrumentsFor(of))[0]; // prettier-ignore
    expect(hold(99, [200, 0])?.verdict).toBe('pass'); // prettier-ignore
    const again = hold(99, [200, 700]); // prettier-ignore
    expect([again?.verdict, again?.reasons.at(-1)?.code]).toEqual(['void', 'shownOtherwise']);
    expect(hold(70, [200, 700])?.verdict).toBe('fail'); // prettier-ignore
    // The hold is over: what is started then is nobody's business.
    expect(hold(99, [411, 700])?.verdict).toBe('pass'); // prettier-ignore
  });

  it('a cable that dies after it shows nothing of what came then; what is typed was read when it was', () => {
    const left = (s: number, typed: boolean) => stayUnmet(at({ ...reads([4, 0]), typed, marks: { off: 5 } }, of), s * 1000); // prettier-ignore
    expect([left(64, false), left(64.001, false), left(500, true)]).toEqual([null, { code: 'noReading', values: { channel: 'q' } }, null]);
  });

  it('one without its gauge is said with what was found', () => {
    const fitted = without(instrumentsFor(of), 'q');
    const [f] = judgeStage(of, stageOf(of, 'hold'), record({ readings: { p: [[9, 100], [410, 99]] }, marks: { off: 5, start: 10 }, ended: 420 }, of), fitted); // prettier-ignore
    expect([f?.verdict, f?.reasons.at(-1)]).toEqual(['pass', { code: 'notMeasured', values: { items: 'Engine off' } }]);
  });
});

describe('what a rule asks of the instrument itself', () => {
  const vent = planOf('valve.vent', 'in-order', { valve: {} });
  const inH2O = (value: number) => ({ value, unit: "[in_i'H2O]" });
  const asked = (more: object, channel = 'pressure') => askedUnmet(vent, channel, { high: inH2O(20), calibratedDaysAgo: 180, ...more });

  it('is a scale of no more than twenty inches, however it is written', () => {
    expect(asked({})).toBeNull();
    expect(asked({ high: inH2O(20.1) })).toEqual({ code: 'scaleTooLong', values: { high: inH2O(20.1), most: inH2O(20) } });
    // 50 mbar are 20.07 inH2O.
    expect(asked({ high: { value: 50, unit: 'mbar' } })?.code).toBe('scaleTooLong');
    expect(asked({ high: { value: 49.8, unit: 'mbar' } })).toBeNull();
    expect(asked({ high: { value: 500, unit: 'mL/min' } }, 'flow')).toBeNull();
  });
  it('and a calibration within 180 days, of a day that is known; of a flow meter too', () => {
    expect(asked({ calibratedDaysAgo: 181 })).toEqual({
      code: 'calibratedLongAgo',
      values: { ago: { value: 181, unit: 'd' }, most: { value: 180, unit: 'd' } },
    });
    expect(asked({ calibratedDaysAgo: undefined })).toEqual({ code: 'calibratedUnknown', values: { most: { value: 180, unit: 'd' } } });
    expect(asked({ calibratedDaysAgo: 181 }, 'flow')?.code).toBe('calibratedLongAgo');
  });
  it('what is not as it asks gives no result', () => {
    const w = (instruments: Written['instruments']): Written => ({ readings: { pressure: [[10, 3], [11, 3.4], [12, 2]], flow: [[0.4, 120]] }, marks: { 'cracks-plus': 12 }, instruments }); // prettier-ignore
    const verdicts = (i: Written['instruments']) => found(vent, 'crack-plus', w(i)).map((f) => [f.verdict, f.reasons[0]?.code]);
    expect(verdicts({})).toEqual([['pass', 'event'], ['pass', 'event']]); // prettier-ignore
    expect(verdicts({ pressure: { calibratedDaysAgo: 200 } })).toEqual([['void', 'calibratedLongAgo']]);
    expect(verdicts({ pressure: { high: inH2O(40) } })).toEqual([['void', 'scaleTooLong']]);
  });
});
