import { describe, expect, it } from 'vitest';
import { judgeStage, ReadingList, repeatabilityOf, type Reading } from '../../src/method';
import { procedureById, type Limit, type Procedure, type RuleSet } from '../../src/procedure';
import { chanceOf } from '../../src/practice';
import { codes, fittedFor, found, instrumentsFor, only, planOf, recordFor, stageOf, type Written, signalled } from '../testing/attempt';

const q = (value: number, unit: string) => ({ value, unit });
const vehicle = { units: q(1, '1'), reservoir: q(45, 'L'), axles: q(1, '1'), ...signalled, school: 'general' };
const brakes = planOf('brakes.whole', 'single', { vehicle });
const silo = planOf('store.half-life', 'new', { store: { volume: q(100, 'm3') } });
const circle = planOf('anaes.circle', 'human', { circuit: {} });
const vent = planOf('valve.vent', 'in-order', { valve: {} });

/** Noise of a gauge, the same each time. */
function noise(seed: number, size: number): () => number {
  const chance = chanceOf(seed);
  return () => size * (chance() + chance() + chance() + chance() - 2) * Math.sqrt(3);
}

describe('a time between two pressures is known as far as somebody watched', () => {
  const rise = (...readings: readonly (readonly [number, number])[]): Written => ({ typed: true, readings: { primary: readings }, marks: { passed: 300 } });
  const built = (w: Written) => only(found(brakes, 'build-up', w));
  it('two typed readings far apart pass nothing and fail nothing', () => {
    const f = built(rise([1, 80], [201, 105]));
    expect([f.verdict, codes(f).includes('crossedBetween')]).toEqual(['undecided', true]);
    expect(f.reasons.find((r) => r.code === 'crossedBetween')?.values).toEqual({ shortest: q(0, 's'), longest: q(200, 's') });
  });
  it('readings on the figures themselves are as good as a tap', () => {
    expect(built(rise([1, 85], [25, 100]))).toMatchObject({ verdict: 'pass', observed: q(24, 's') });
    expect(built(rise([1, 80], [10, 85], [60, 100]))).toMatchObject({ verdict: 'fail', observed: q(50, 's') });
  });
  it('what passes, or fails, whenever it crossed within its gaps is judged', () => {
    const quick = built(rise([1, 80], [10, 86], [20, 99], [30, 101]));
    expect([quick.verdict, codes(quick).includes('crossedBetween')]).toEqual(['pass', true]);
    expect(built(rise([1, 80], [10, 86], [100, 99], [110, 101])).verdict).toBe('fail');
  });
  it('a first reading beyond the first figure did not see it crossed', () => expect(codes(built(rise([1, 86], [25, 100])))).toEqual(['notCrossed']));
  it('nor does a stream with a hole in it, where a cable was out', () => {
    const w: Written = { readings: { primary: [...Array.from({ length: 10 }, (_, i) => [1 + i, 75 + i] as const), [200, 101], [201, 102]] }, marks: { passed: 210 } }; // prettier-ignore
    expect(built(w).verdict).toBe('undecided');
  });
  it('streamed through noise, it is where the line through the samples goes through, as sure as they scatter', () => {
    const jitter = noise(9, 0.8);
    // 15 psi in 30 s exactly, read twice a second.
    const streamed = (scatter: () => number): Written => ({ readings: { primary: Array.from({ length: 100 }, (_, i) => [1 + i / 2, 80 + i / 4 + scatter()] as const) }, marks: { passed: 300 } }); // prettier-ignore
    const still = built(streamed(() => 0));
    expect(still.observed?.value).toBeCloseTo(30, 9);
    const noisy = built(streamed(jitter));
    const u = noisy.confidence?.u.value ?? Number.NaN;
    // A line through 21 samples that scatter by 0.8 psi is good to 0.8 ÷ √21 ÷ 0.5 psi/s at either end: 0.49 s for the two.
    expect(u).toBeGreaterThan(0.35);
    expect(u).toBeLessThan(0.65);
    expect(Math.abs((noisy.observed?.value ?? 0) - 30)).toBeLessThan(2 * u);
    // One wild sample, five seconds early, is no crossing.
    const wild = streamed(() => 0);
    const primary = (wild.readings?.['primary'] ?? []).map(([s, p]) => [s, s === 36 ? 100.2 : p] as const);
    expect(Math.abs((built({ ...wild, readings: { primary } }).observed?.value ?? 0) - 30)).toBeLessThan(5);
  });
  it('of a half-life too: a reading at the time itself proves it', () => {
    const marks = { fill: 0.5, shut: 1, settle: 100, trim: 199, start: 200 };
    const half = (...more: readonly (readonly [number, number])[]) =>
      only(found(silo, 'half', { typed: true, readings: { store: [[0.4, 260], [199, 250], ...more] }, marks })); // prettier-ignore
    expect(half([420, 160], [600, 120]).verdict).toBe('undecided');
    expect(half([505, 140])).toMatchObject({ verdict: 'pass' });
    expect(half([420, 160], [505, 128], [600, 120]).verdict).toBe('pass');
    expect(half([300, 180], [400, 120]).verdict).toBe('fail');
  });
});

describe('a half-life that is not reached in its time', () => {
  const marks = { fill: 0.5, shut: 1, settle: 100, trim: 199, start: 200 };
  const stands = (at: number, accuracy: number, guarded = false) => {
    const base = procedureById('store.half-life') as Procedure;
    const plan = planOf(
      { ...base, ruleSets: base.ruleSets.map((r) => (guarded ? { ...r, decision: { kind: 'guarded' as const, confidence: 0.95 } } : r)) },
      'new',
      { store: { volume: q(100, 'm3') } },
    );
    const instruments = { store: { accuracy: q(accuracy, 'Pa'), correlation: 0 } };
    return only(found(plan, 'half', { typed: true, readings: { store: [[0.4, 260], [199, 250], [505, at]] }, marks, instruments })); // prettier-ignore
  };
  it('is as sure as the gauge can tell the reading from half', () => {
    expect(stands(140, 1).confidence?.conforms).toBeGreaterThan(0.99);
    // u = 10/√3 · √1.25 = 6.45 Pa: 3 Pa above half is 0.465 u.
    expect(stands(128, 10).confidence?.u.value).toBeCloseTo(6.455, 2);
    expect(stands(128, 10).confidence?.conforms).toBeCloseTo(0.679, 2);
    expect(codes(stands(128, 10))).toContain('closeCall');
  });
  it('is undecided in the guard band, and passes outside it', () => {
    expect([stands(128, 10, true).verdict, stands(140, 5, true).verdict]).toEqual(['undecided', 'pass']);
  });
  it('a first noisy dip is no crossing; the middle of the noise is', () => {
    const jitter = noise(3, 2);
    const trace = (until: number) =>
      Array.from({ length: (until - 200) * 4 }, (_, i) => [200 + i / 4, 250 * Math.exp((-Math.LN2 * i) / 4 / 400) + jitter()] as const);
    const early = only(found(silo, 'half', { readings: { store: [[0.4, 260], [199, 250], ...trace(480)] }, marks, ended: null })); // prettier-ignore
    expect(early.verdict).toBe('undecided');
    const done = only(found(silo, 'half', { readings: { store: [[0.4, 260], [199, 250], ...trace(640)] }, marks })); // prettier-ignore
    expect(done.verdict).toBe('pass');
    // 400 s, as far as a start and a crossing that scatter by 2 Pa can tell: 0.22 Pa go in a second.
    const u = (done.confidence?.u.value ?? 0) * 60;
    expect(u).toBeGreaterThan(9);
    expect(u).toBeLessThan(12);
    expect(Math.abs((done.observed?.value ?? 0) * 60 - 400)).toBeLessThan(2 * u);
  });
});

describe('a needle that creeps under a make-up flow is part of the leak', () => {
  const marks = { 'fill-again': 0.5, still: 1, start: 10 };
  const made = (pressures: readonly (readonly [number, number])[], flow: number, more: Partial<Written> = {}, plan = circle) =>
    only(found(plan, 'make-up', { typed: true, readings: { pressure: [[0.4, 30], ...pressures], flow: [[9, flow], [20, flow]] }, marks, ...more })); // prettier-ignore
  it('190 mL/min with a needle that falls two centimetres in ten seconds is no 150', () => {
    const f = made([[9.9, 31], [20, 29]], 120); // prettier-ignore
    // 2 cmH2O in 10.1 s × 25 mL/cmH2O = 297 mL/min on top of 120.
    expect(f.observed?.value).toBeCloseTo(417, 0);
    expect([f.verdict, codes(f).includes('creeps')]).toEqual(['fail', true]);
  });
  it('one that stands adds nothing but what its gauge could not have shown', () => {
    const f = made([[9.9, 30], [20, 30]], 120, { instruments: { pressure: { resolution: q(1, 'cm[H2O]') } } }); // prettier-ignore
    expect([f.verdict, f.observed?.value, codes(f).includes('creeps')]).toEqual(['pass', 120, false]);
    // 1/√12 · √2 cmH2O in 10.1 s, times 25 mL/cmH2O: 60.6 mL/min.
    expect(f.confidence?.u.value).toBeCloseTo(60.6, 0);
    expect(made([[9.9, 30], [20, 30]], 20, { instruments: { pressure: { resolution: q(2, 'cm[H2O]') } } }).verdict).toBe('undecided'); // prettier-ignore
  });
  it('one that rises has more flow than it needs: too much is then not proved', () => {
    expect(made([[9.9, 29], [20, 31]], 200)).toMatchObject({ verdict: 'undecided', observed: q(200, 'mL/min') }); // prettier-ignore
    expect(made([[9.9, 29], [20, 31]], 600).verdict).toBe('fail'); // prettier-ignore
    expect(made([[9.9, 29], [20, 31]], 120).verdict).toBe('pass'); // prettier-ignore
  });
  it('under suction it is the suction that sinks', () => {
    const drawn = (from: number, to: number) =>
      only(found(vent, 'leak-minus', { typed: true, readings: { pressure: [[0.4, -4], [9.9, from], [20, to]], flow: [[9, 0.1], [20, 0.1]] }, marks: { 'leak-minus-set': 0.5, start: 10 } })); // prettier-ignore
    expect([drawn(-4, -4).verdict, codes(drawn(-4, -4)).includes('creeps')]).toEqual(['pass', false]);
    expect([drawn(-4.05, -3.97).verdict, codes(drawn(-4.05, -3.97)).includes('creeps')]).toEqual(['undecided', true]);
    expect(drawn(-3.97, -4.05).verdict).toBe('pass');
  });
  it('where nothing says how much it gives way, nobody can tell', () => {
    const base = procedureById('anaes.circle') as Procedure;
    const bare: Procedure = {
      ...base,
      stages: base.stages.map((s) => {
        if (s.method.kind !== 'makeUpFlow') return s;
        const { kind, pressure, flow, band, hold } = s.method;
        return { ...s, method: { kind, pressure, flow, band, hold } };
      }),
    };
    const unknown = planOf(bare, 'human', { circuit: {} });
    expect(made([[9.9, 31], [20, 29]], 120, {}, unknown).verdict).toBe('undecided'); // prettier-ignore
    expect(made([[9.9, 29], [20, 31]], 120, {}, unknown).verdict).toBe('pass'); // prettier-ignore
    expect(made([[9.9, 30], [20, 30]], 120, {}, unknown).verdict).toBe('pass'); // prettier-ignore
  });
});

describe('an event is one only where its readings show it', () => {
  const cracks = (which: 'plus' | 'minus', readings: readonly (readonly [number, number])[], typed = false) =>
    found(vent, `crack-${which}`, { typed, readings: { pressure: readings, flow: [[0.4, which === 'plus' ? 120 : 200]] }, marks: { [`cracks-${which}`]: 12 } });
  it('a highest that has not come down again is none', () => {
    expect(cracks('plus', [[10, 1.5], [11, 1.9], [12, 2]]).map((f) => [f.verdict, codes(f)])).toEqual([['void', ['notTurned']]]); // prettier-ignore
    expect(cracks('plus', [[10, 3], [11, 3.4], [12, 2]]).every((f) => f.verdict === 'pass')).toBe(true); // prettier-ignore
  });
  it('nor is a suction on the pressure side, and the other way round', () => {
    expect(cracks('plus', [[10, -6], [11, -3.4], [12, -4]]).flatMap(codes)).toEqual(['notTurned']); // prettier-ignore
    expect(cracks('plus', [[10, -3]], true).flatMap(codes)).toEqual(['notTurned']); // prettier-ignore
    expect(cracks('minus', [[10, 3], [11, 7], [12, 5]]).flatMap(codes)).toEqual(['notTurned']); // prettier-ignore
  });
  it('where a gauge is read by eye, the furthest that was read stands', () =>
    expect(cracks('plus', [[12.5, 3.4]], true).every((f) => f.verdict === 'pass')).toBe(true)); // prettier-ignore
  it('but not what was typed more than a minute before or after it', () => {
    expect(cracks('plus', [[72, 3.4]], true).every((f) => f.verdict === 'pass')).toBe(true); // prettier-ignore
    expect(cracks('plus', [[72.001, 3.4]], true).some((f) => f.verdict === 'pass')).toBe(false); // prettier-ignore
  });
});

describe('what is left, once the test is over', () => {
  const released = stageOf(circle, 'aftercare');
  const items = released.method.kind === 'check' ? released.method.items : [];
  const answered = (left: number, highest: number) =>
    only(
      found(circle, 'aftercare', {
        typed: true,
        readings: { pressure: [[0, highest], [0.001, left]] }, // prettier-ignore
        answers: Object.fromEntries(items.map((i) => [i.id, 'yes' as const])),
      }),
    );
  it('is read off the gauge, even one that never showed what the test wanted', () => {
    expect(items.some((i) => i.shown && 'after' in i.shown)).toBe(true);
    expect([answered(0, 30).verdict, codes(answered(0, 30))]).toEqual(['pass', ['answeredAll']]);
    // A bag with a hole came to 12 cmH2O and no further: nothing is left, and that is said, not measured.
    expect([answered(0, 12).verdict, codes(answered(0, 12))]).toEqual(['pass', ['answeredAll', 'notMeasured']]);
    // Twelve are still on it: no yes takes them off.
    expect(answered(12, 12).verdict).toBe('void');
    expect(codes(answered(12, 12))).toContain('shownOtherwise');
  });
});

describe('lifts', () => {
  const base = procedureById('valve.relief') as Procedure;
  const rules = base.ruleSets[0] as RuleSet;
  const more: readonly Limit[] = [{ id: 'spread', stage: 'crack', of: 'spread', op: '<=', value: q(1, '[psi]'), source: { title: 'x' } }];
  const valve = planOf({ ...base, ruleSets: [{ ...rules, limits: [...rules.limits, ...more] }] }, 'asme', { valve: { set: q(100, '[psi]') } });
  const marks = Object.fromEntries([1, 2, 3].flatMap((k) => [[`lift-${k}`, 10 * k], [`shut-${k}`, 10 * k + 5]])); // prettier-ignore
  const typed = (lifts: readonly (readonly [number, number])[]): Written => ({
    typed: true,
    readings: { pressure: lifts.flatMap(([c, s], i) => [[10 * i + 11, c] as const, [10 * i + 12, s] as const]) },
    marks,
  });
  it('a valve cannot shut above where it opened', () => {
    const findings = found(valve, 'crack', typed([[93, 124], [100, 93], [100, 93]])); // prettier-ignore
    expect(findings[0]).toMatchObject({ verdict: 'void' });
    expect(findings.map((f) => codes(f)[0])).toContain('reseatAbove');
    expect(findings.some((f) => f.verdict === 'fail')).toBe(false);
  });
  it('of two readings so near to one another neither shows where it opened, and one alone could be either', () => {
    const near = found(valve, 'crack', typed([[98.03, 97.99], [98, 97.2], [98, 90]])); // prettier-ignore
    expect(near.map((f) => codes(f)[0])).toEqual(['reseatAbove', 'reseatAbove', ...near.slice(2).map(() => 'lift')]);
    const alone = found(valve, 'crack', { typed: true, readings: { pressure: [[11, 98]] }, marks });
    expect(alone.map((f) => codes(f)[0])).toEqual(['reseatMissing', 'liftNotFound', 'liftNotFound']);
    expect(alone.every((f) => f.verdict === 'void')).toBe(true);
  });
  it('what was typed in bar is compared in bar', () => {
    const record = recordFor(valve, 'crack', typed([[100, 93], [100, 93], [100, 93]])); // prettier-ignore
    const bar = (r: Reading): Reading => (r.at > 25_000 ? { ...r, value: Number((r.value * 0.0689476).toFixed(3)), unit: 'bar' } : r);
    const mixed = { ...record, readings: { pressure: ReadingList.of([...(record.readings['pressure'] ?? [])].map(bar)) } };
    const findings = judgeStage(valve, stageOf(valve, 'crack'), mixed, instrumentsFor(valve));
    expect(findings.map((f) => f.verdict)).not.toContain('fail');
    expect(only(findings, 'spread').observed?.value).toBeLessThan(0.02);
  });
});

describe('what scatters', () => {
  const list = (values: readonly number[], typed = false): ReadingList =>
    ReadingList.of(values.map((value, i): Reading => ({ at: 100 * i, value, unit: 'mbar', typed, event: 'e' })));
  it('is the standard deviation of single readings, without the loss', () => {
    const jitter = noise(1, 0.5);
    const noisy = Array.from({ length: 4000 }, (_, i) => 50 - 0.01 * i + jitter());
    expect(repeatabilityOf(list(noisy), 'mbar')).toBeGreaterThan(0.48);
    expect(repeatabilityOf(list(noisy), 'mbar')).toBeLessThan(0.52);
    expect(repeatabilityOf(list(noisy), 'Pa')).toBeCloseTo(100 * repeatabilityOf(list(noisy), 'mbar'), 9);
    expect(repeatabilityOf(list(Array.from({ length: 100 }, (_, i) => 50 - 0.25 * i)), 'mbar')).toBeLessThan(1e-6);
  });
  it('is nothing of what is typed, or of too little', () => {
    expect(repeatabilityOf(list([1, 2, 1, 2, 1, 2, 1, 2, 1, 2, 1], true), 'mbar')).toBe(0);
    expect(repeatabilityOf(list([1, 2, 1, 2, 1, 2, 1, 2, 1]), 'mbar')).toBe(0);
    expect(repeatabilityOf(list([1, 2, 1, 2, 1, 2, 1, 2, 1, 2]), 'mbar')).toBeGreaterThan(0.6);
  });
});

describe('off the end of the scale', () => {
  const marks = { fill: 0.5, shut: 1, settle: 100, trim: 199, start: 200 };
  const w = (last: number): Written => ({ typed: true, readings: { store: [[0.4, 260], [199, 250], [300, 240], [505, last]] }, marks }); // prettier-ignore
  it('nothing passes; what fails without it goes on failing', () => {
    const scale = (high: number): Written['instruments'] => ({ store: { high: q(high, 'Pa'), low: q(0, 'Pa') } });
    expect(only(found(silo, 'half', { ...w(200), instruments: scale(300) })).verdict).toBe('pass');
    const off = only(found(silo, 'half', { ...w(200), instruments: scale(220) }));
    expect([off.verdict, codes(off).includes('offScale')]).toEqual(['undecided', true]);
    expect(only(found(silo, 'half', { typed: true, readings: { store: [[0.4, 260], [199, 250], [204, 100]] }, marks, instruments: scale(220) })).verdict).toBe('fail'); // prettier-ignore
  });
});

describe('two events of one governor', () => {
  const judged = (stage: string, mark: string, value: number, before: Readonly<Record<string, readonly [number, number]>>) => {
    const earlier = Object.fromEntries(Object.entries(before).map(([m, [s]]) => [m, s * 1000]));
    const seen = stage === 'cut-in' ? [[105, value] as const, [120, value + 2] as const] : [[105, value] as const, [119, value] as const];
    const primary = [...Object.values(before), [100.2, 88] as const, ...seen];
    const steps = Object.fromEntries(stageOf(brakes, stage).steps.map((s) => [s.id, 101]));
    const record = { ...recordFor(brakes, stage, { readings: { primary }, marks: { ...steps, [mark]: 120 } }), earlier, beganAt: 100_000 };
    return judgeStage(brakes, stageOf(brakes, stage), record, fittedFor(brakes, { readings: { primary } })).map((f) => [f.verdict, f.reasons[0]?.code]); // prettier-ignore
  };
  it('stops above where it loads again, or one of the two was read wrong; whichever is read first', () => {
    expect(judged('cut-in', 'loads', 105, { unloads: [50, 130] })).toEqual([['pass', 'event']]); // prettier-ignore
    expect(judged('cut-in', 'loads', 130, { unloads: [50, 130] })).toEqual([['void', 'notApart']]); // prettier-ignore
    expect(judged('cut-in', 'loads', 135, { unloads: [50, 130] })).toEqual([['void', 'notApart']]); // prettier-ignore
    expect(judged('cut-out', 'unloads', 125, { loads: [50, 105] }).map(([v]) => v)).toEqual(['pass', 'pass']); // prettier-ignore
    expect(judged('cut-out', 'unloads', 125, { loads: [50, 126] })).toEqual([['void', 'notApart']]); // prettier-ignore
    // Where the other was never seen, or nobody read it, there is nothing to hold it against.
    expect(judged('cut-in', 'loads', 135, {})).toEqual([['pass', 'event']]);
  });
});

describe('a needle that stops, and one that turns', () => {
  const marks = { bled: 1, 'engine-cut-out': 2, 'engine-cut-in': 1, ease: 2, 'supply-charge': 1, 'supply-off': 2 };
  const judged = (stage: string, mark: string, at: number, readings: readonly (readonly [number, number])[], typed = false, plan = brakes) => {
    const own = Object.fromEntries(Object.entries(marks).filter(([id]) => stageOf(plan, stage).steps.some((s) => s.id === id)));
    return found(plan, stage, { typed, readings: { primary: [[0.5, 88], ...readings] }, marks: { ...own, [mark]: at } }).map((f) => [f.verdict, f.reasons[0]?.code, f.observed?.value]); // prettier-ignore
  };
  const rises = (from: number, to: number, perS: number, most: number) =>
    Array.from({ length: 2 * (to - from) + 1 }, (_, i) => [from + i / 2, Math.min(most, 88 + (i * perS) / 2)] as const);

  it('stops rising where it stood for ten seconds within one psi, and nobody is early', () => {
    // At half a psi a second it is at 130 after 84 s.
    const climb = rises(3, 200, 0.5, 130);
    expect(judged('cut-out', 'unloads', 80, climb)).toEqual([['void', 'notStill', undefined]]);
    // Two psi of the ten seconds before it are left of the climb at 93 s, one at 95.
    expect(judged('cut-out', 'unloads', 94.5, climb)).toEqual([['void', 'notStill', undefined]]);
    expect(judged('cut-out', 'unloads', 95, climb)).toEqual([['pass', 'event', 130], ['pass', 'event', 130]]); // prettier-ignore
  });
  it('is the highest that it stood at, though it sinks while it stands', () => {
    const sinks = [...rises(3, 108, 0.5, 140.5), ...Array.from({ length: 41 }, (_, i) => [108.5 + i / 2, 140.5 - i / 45] as const)]; // prettier-ignore
    expect(judged('cut-out', 'unloads', 128, sinks)[1]).toEqual(['fail', 'event', 140.5]);
  });
  it('by eye it is read twice, ten seconds apart', () => {
    expect(judged('cut-out', 'unloads', 60, [[59, 130]], true)).toEqual([['void', 'stillUnread', undefined]]); // prettier-ignore
    expect(judged('cut-out', 'unloads', 60, [[50.5, 130], [59, 130]], true)).toEqual([['void', 'stillUnread', undefined]]); // prettier-ignore
    expect(judged('cut-out', 'unloads', 60, [[50, 130], [59, 130]], true)[0]).toEqual(['pass', 'event', 130]); // prettier-ignore
    expect(judged('cut-out', 'unloads', 60, [[50, 128], [59, 130]], true)).toEqual([['void', 'notStill', undefined]]); // prettier-ignore
    // What was read before its watching began is nothing of it.
    expect(judged('cut-out', 'unloads', 11.5, [[1.4, 130], [11, 130]], true)).toEqual([['void', 'stillUnread', undefined]]); // prettier-ignore
  });
  it('turns at the lowest, once it has risen by one psi; by eye it is read at both', () => {
    const fall = [[3, 130], [20, 110], [30, 104], [31, 103], [33, 103.9], [34, 104]] as const; // prettier-ignore
    expect(judged('cut-in', 'loads', 33, fall)).toEqual([['void', 'notTurned', undefined]]);
    expect(judged('cut-in', 'loads', 34, fall)).toEqual([['pass', 'event', 103]]);
    expect(judged('cut-in', 'loads', 34, [[31, 103]], true)).toEqual([['void', 'notTurned', undefined]]); // prettier-ignore
    expect(judged('cut-in', 'loads', 34, [[31, 99.5], [34, 101]], true)).toEqual([['fail', 'event', 99.5]]); // prettier-ignore
  });
});
