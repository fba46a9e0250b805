import { describe, expect, it } from 'vitest';
import { holdReadings, startUnmet } from '../../src/method/decay/hold';
import { procedureById, type DecayMethod, type Limit, type Procedure, type Stage } from '../../src/procedure';
import { codes, found, instrumentsFor, only, planOf, recordFor, stageOf, type Written } from '../testing/attempt';
import { brakeScript, suitScript } from '../testing/script';

/** What a hold says beside its verdict, figure by figure: a value that is wrong is as bad as a verdict that is. */

const source = { title: 'invented for this test' };
const inH2O = "[in_i'H2O]";
const limit = (of: Limit['of'], value: number, unit: string, op: Limit['op'] = '<='): Limit => ({
  id: of,
  stage: 'hold',
  of,
  op,
  value: { value, unit },
  source,
});

interface Asked {
  readonly limits?: readonly Limit[];
  readonly channels?: readonly string[];
  readonly method?: Partial<DecayMethod>;
  readonly steps?: Stage['steps'];
  readonly holdFrom?: string;
}

/** A hold of a hundred seconds from 90 to 110 Pa on one gauge; `t` in °C and `b` in Pa may be fitted beside it. */
function holding({ limits = [limit('loss', 20, 'Pa')], channels = ['p'], method = {}, steps = [], holdFrom }: Asked = {}): ReturnType<typeof planOf> {
  const figure = (value: number, unit: string) => ({ value: { value, unit }, source });
  const document: Procedure = {
    ...(procedureById('suit.inflation') as Procedure),
    id: 'test.hold',
    channels: {
      p: { role: 'suit', unit: 'Pa', title: 'Pressure' },
      q: { role: 'suit', unit: 'Pa', title: 'Second pressure' },
      t: { role: 'suit', unit: 'Cel', title: 'Temperature' },
      b: { role: 'suit', unit: 'Pa', title: 'Barometer' },
    },
    stages: [
      {
        id: 'hold',
        role: 'suit',
        title: 'Hold',
        attempts: 1,
        onFail: 'continue',
        phase: 'test',
        steps,
        method: { kind: 'decay', channels, hold: 'hold', start: { low: 'low', high: 'high' }, ...method },
      },
    ],
    ruleSets: [
      {
        id: 'quick',
        title: 'Quick',
        edition: '1',
        note: 'invented',
        order: 'free',
        skip: [],
        decision: { kind: 'simple' },
        ...(holdFrom === undefined ? {} : { holdFrom: { hold: holdFrom } }),
        parameters: { hold: figure(100, 's'), low: figure(90, 'Pa'), high: figure(110, 'Pa'), reachLow: figure(120, 'Pa'), reachHigh: figure(130, 'Pa') },
        limits,
      },
    ],
  };
  return planOf(document, 'quick', { suit: { volume: { value: 220, unit: 'L' } } });
}

const hold = (plan: ReturnType<typeof planOf>, w: Written) => found(plan, 'hold', { marks: { start: 10 }, ended: 300, ...w });
const reason = (f: { readonly reasons: readonly { readonly code: string; readonly values: object }[] }, code: string) =>
  f.reasons.find((r) => r.code === code)?.values;

describe('what is no hold', () => {
  it('begun outside its window', () => {
    const f = only(hold(holding(), { readings: { p: [[9, 89.9]] } })); // prettier-ignore
    expect([f.verdict, ...codes(f)]).toEqual(['void', 'startOutside']);
    expect(codes(only(hold(holding(), { readings: { p: [[9, 90], [110, 90]] } })))).not.toContain('startOutside'); // prettier-ignore
    expect(codes(only(hold(holding(), { readings: { p: [[9, 110.1], [110, 90]] } })))).toContain('startOutside'); // prettier-ignore
  });

  it('a channel that was never read, and its name', () => {
    const plan = holding({ channels: ['p', 'q'], limits: [{ ...limit('loss', 20, 'Pa'), channel: 'p' }] });
    const f = only(hold(plan, { readings: { p: [[9, 100], [110, 99]] } })); // prettier-ignore
    expect([f.verdict, f.reasons]).toEqual(['void', [{ code: 'noReading', values: { channel: 'q' } }]]);
    // Where nobody asks for what was there at the start, the channel that was read is still judged.
    const record = recordFor(plan, 'hold', { readings: { p: [[9, 100], [110, 99]] }, marks: { start: 10 } }); // prettier-ignore
    const method = stageOf(plan, 'hold').method as DecayMethod;
    expect(holdReadings(plan, stageOf(plan, 'hold'), method, record, 'q')).toEqual({ code: 'noReading', values: { channel: 'q' } });
  });

  it('one that only a recorded channel leaves its window in, is one: its window is that of what a limit looks at', () => {
    const plan = holding({ channels: ['p', 'q'], limits: [{ ...limit('loss', 20, 'Pa'), channel: 'p' }] });
    const stage = stageOf(plan, 'hold');
    const record = recordFor(plan, 'hold', { readings: { p: [[9, 100]], q: [[9, 50]] } }); // prettier-ignore
    const at = (of: typeof plan) => ({ plan: of, stage: stageOf(of, 'hold'), method: stage.method as DecayMethod, record, instruments: instrumentsFor(of) });
    expect(startUnmet(at(plan), 10_000)).toBeNull();
    const both = holding({ channels: ['p', 'q'] });
    expect(startUnmet(at(both), 10_000)?.code).toBe('startOutside');
  });

  it('a start that stood there before the last step of it was done', () => {
    const plan = holding({ steps: [{ id: 'let-down', text: 'Let down', kind: 'act' }] });
    const at = (step: number) => only(hold(plan, { readings: { p: [[5, 100], [110, 99]] }, marks: { 'let-down': step, start: 10 } })); // prettier-ignore
    expect(at(6).reasons).toEqual([{ code: 'noReading', values: { channel: 'p' } }]);
    expect(at(5).verdict).toBe('pass');
    expect(at(4).verdict).toBe('pass');
  });

  it('a clock that stood still between two typed readings, with what it lost; not one before or after them', () => {
    const typed = (typed: boolean, at: number) =>
      only(hold(holding(), { typed, readings: { p: [[9, 100], [110, 99]] }, gaps: [{ at: at * 1000, lostMs: 31_500 }] as never })); // prettier-ignore
    expect(typed(true, 50)).toMatchObject({ verdict: 'void', reasons: [{ code: 'clockGap', values: { lost: { value: 31.5, unit: 's' } } }] });
    expect([typed(true, 10), typed(true, 110.001), typed(false, 50)].map((f) => f.verdict)).toEqual(['pass', 'pass', 'pass']);
    expect([typed(true, 10.001), typed(true, 110)].map((f) => f.verdict)).toEqual(['void', 'void']);
  });

  it('readings off the scale of the gauge, with what was read', () => {
    const gauge = { low: { value: 0, unit: 'Pa' }, high: { value: 105, unit: 'Pa' } };
    const at = (start: number, end: number) => only(hold(holding(), { readings: { p: [[9, start], [110, end]] }, instruments: { p: gauge } })); // prettier-ignore
    expect(at(106, 100)).toMatchObject({ verdict: 'void', reasons: [{ code: 'outOfRange', values: { value: { value: 106, unit: 'Pa' } } }] });
    expect(at(100, -1).reasons).toEqual([{ code: 'outOfRange', values: { value: { value: -1, unit: 'Pa' } } }]);
    expect([at(105, 100), at(100, 100)].map((f) => f.verdict)).toEqual(['pass', 'pass']);
  });
});

describe('what is said of a hold', () => {
  it('a window that was never reached, with the best that was', () => {
    const plan = holding({ steps: [{ id: 'fill', text: 'Fill', kind: 'reach', channel: 'p', low: 'reachLow', high: 'reachHigh', orFails: true }] });
    const w = { undone: ['fill'], marks: {}, readings: { p: [[1, 80], [2, 117.5], [3, 60]] } } as const; // prettier-ignore
    expect(only(found(plan, 'hold', { ...w, ended: 9 }))).toMatchObject({
      verdict: 'fail',
      channel: 'p',
      reasons: [{ code: 'neverReached', values: { best: { value: 117.5, unit: 'Pa' }, low: { value: 120, unit: 'Pa' } } }],
    });
    expect(found(plan, 'hold', { ...w, ended: null }).map((f) => f.verdict)).not.toContain('fail');
    expect(found(plan, 'hold', { ...w, readings: {}, ended: 9 }).map((f) => f.verdict)).not.toContain('fail');
  });

  it('read late: by how much', () => {
    const f = only(hold(holding(), { readings: { p: [[9, 100], [125, 85]] } })); // prettier-ignore
    expect(f.verdict).toBe('pass');
    expect(reason(f, 'readLate')).toEqual({ late: { value: 15, unit: 's' } });
  });

  it('read late: a loss a minute has its own minutes and needs no second look, nor may it be tried again', () => {
    const late = (lost: number) => only(hold(holding({ limits: [limit('lossPerMinute', 6, 'Pa')] }), { readings: { p: [[9, 100], [130, 100 - lost]] } })).verdict; // prettier-ignore
    // Two minutes: 12 Pa lost is 6 a minute.
    expect([late(12), late(12.1)]).toEqual(['pass', 'fail']);
  });

  it.each([
    ['<', 23.9, 'undecided'],
    ['<', 24, 'fail'],
    ['<=', 24, 'undecided'],
    ['<=', 24.1, 'fail'],
  ] as const)('read late, a loss %s 20 Pa that was %d after 120 s: %s', (op, lost, verdict) =>
    expect(only(hold(holding({ limits: [limit('loss', 20, 'Pa', op)] }), { readings: { p: [[9, 100], [130, 100 - lost]] } })).verdict).toBe(verdict)); // prettier-ignore

  it.each([
    ['>', 76.1, 'undecided'],
    ['>', 76, 'fail'],
    ['>=', 76, 'undecided'],
    ['>=', 75.9, 'fail'],
  ] as const)('read late, an end %s 80 Pa that was %d after 120 s: %s', (op, end, verdict) =>
    expect(only(hold(holding({ limits: [limit('end', 80, 'Pa', op)] }), { readings: { p: [[9, 100], [130, end]] } })).verdict).toBe(verdict)); // prettier-ignore

  it('a disturbance, in its words, from the start to the end reading and not beside them', () => {
    const seen = (s: number) => {
      const plan = holding();
      const w = { readings: { p: [[9, 100], [110, 99]] }, marks: { start: 10 } } as const; // prettier-ignore
      const s1 = suitScript({
        ruleSet: 'in-h2o-4', unit: inH2O, fill: 5.5, start: 4, end: 3.6, settle: 60, hold: 240,
        during: [[s, { kind: 'disturbed', note: 'a dog' }]],
      }); // prettier-ignore
      expect(only(found(plan, 'hold', w)).verdict).toBe('pass');
      return s1.result.findings.find((f) => f.stage === 'inflate')?.reasons.filter((r) => r.code === 'disturbed');
    };
    const dog = [{ code: 'disturbed', values: { note: 'a dog' } }];
    expect([seen(0), seen(30)]).toEqual([dog, dog]);
    expect([seen(-0.5), seen(240.5)]).toEqual([[], []]);
  });

  it('nothing to set it against: it is only written down, with what was lost', () => {
    const f = only(hold(holding({ limits: [] }), { readings: { p: [[9, 100], [110, 97.5]] } })); // prettier-ignore
    const pa = (value: number) => ({ value, unit: 'Pa' });
    expect(f).toMatchObject({ verdict: 'pass', reasons: [{ code: 'recorded', values: { start: pa(100), end: pa(97.5), loss: pa(2.5) } }] });
  });

  it('a rise, by how much: within the gauge’s error it is none', () => {
    const at = (end: number) => only(hold(holding(), { readings: { p: [[9, 100], [110, end]] } })); // prettier-ignore
    expect(reason(at(104), 'rose')).toEqual({ rise: { value: 4, unit: 'Pa' } });
    expect([at(104).verdict, at(100).verdict]).toEqual(['undecided', 'pass']);
    expect(codes(at(100))).not.toContain('rose');
  });

  it('a hold that is not over and has not been ended is undecided; ended too soon it is no test', () => {
    const w = { readings: { p: [[9, 100], [60, 99]] } } as const; // prettier-ignore
    expect(only(hold(holding(), { ...w, ended: null }))).toMatchObject({ verdict: 'undecided' });
    expect(codes(only(hold(holding(), { ...w, ended: null })))).toContain('unfinished');
    expect(only(hold(holding(), { ...w, ended: 61 })).verdict).toBe('void');
    expect(codes(only(hold(holding(), { ...w, ended: 61 })))).toContain('holdShort');
  });

  it('a hold that was hopeless when it was left at half: what it would have ended at', () => {
    const list = (seconds: number): readonly (readonly [number, number])[] => Array.from({ length: seconds + 1 }, (_, s) => [10 + s, 100 * Math.exp(-s / 300)]);
    const gauge = { p: { resolution: { value: 0.01, unit: 'Pa' } } };
    const at = (seconds: number) => only(hold(holding(), { readings: { p: list(seconds) }, ended: 10.5 + seconds, instruments: gauge }));
    // After 50 s 15.4 of 20 Pa are lost: nothing yet, but 100·e^(−1/3) is what is coming.
    expect(at(50).verdict).toBe('fail');
    const values = reason(at(50), 'endedHopeless') as { readonly expected?: { readonly value: number; readonly unit: string } };
    expect(values.expected?.unit).toBe('Pa');
    expect(values.expected?.value).toBeCloseTo(100 * Math.exp(-1 / 3), 3);
    // Half of it is the least that may be called hopeless.
    expect(at(49).verdict).toBe('void');
  });

  it('the first drop wants a reading before the step it is counted from', () => {
    const s = brakeScript({ ruleSet: 'bus-b', applied: [125, 115, 114, 125, 110, 109] });
    expect(s.result.findings.find((f) => f.limit?.of === 'firstDrop')?.reasons[0]).toMatchObject({
      code: 'firstDrop',
      values: { start: { value: 125 }, end: { value: 115 }, loss: { value: 10 } },
    });
    const plan = holding({ limits: [limit('firstDrop', 15, 'Pa')], method: { firstDropAfter: 'pedal' }, steps: [{ id: 'pedal', text: 'Pedal', kind: 'act' }] });
    const f = only(hold(plan, { readings: { p: [[9, 100], [110, 99]] }, marks: { pedal: 8, start: 10 } })); // prettier-ignore
    expect(f).toMatchObject({ verdict: 'void', reasons: [{ code: 'noReading', values: { channel: 'p' } }] });
  });

  it('what the eye can count: a change either way, and graduations', () => {
    const used = (of: 'change' | 'graduations', value: number, unit: string, end: number) => {
      const f = only(hold(holding({ limits: [limit(of, value, unit)] }), { readings: { p: [[9, 100], [110, end]] }, instruments: { p: { resolution: { value: 2, unit: 'Pa' }, accuracy: { value: 4, unit: 'Pa' } } } })); // prettier-ignore
      return [f.observed, f.allowancePercent];
    };
    expect(used('change', 8, 'Pa', 98)).toEqual([{ value: 2, unit: 'Pa' }, 25]);
    expect(used('change', 8, 'Pa', 102)).toEqual([{ value: 2, unit: 'Pa' }, 25]);
    expect(used('graduations', 2, '1', 98)).toEqual([{ value: 1, unit: '1' }, 50]);
    expect(used('graduations', 2, '1', 102)).toEqual([{ value: 1, unit: '1' }, 50]);
    // A start of 90 of which 90 must be left permits nothing: there is no share to show.
    expect(only(hold(holding({ limits: [limit('end', 100, 'Pa', '>=')] }), { readings: { p: [[9, 100], [110, 100]] } })).allowancePercent).toBeNull(); // prettier-ignore
  });

  it('a typed time is uncertain at either end of it, and a streamed one is not', () => {
    const u = (typed: boolean) => only(hold(holding(), { typed, typedTimingMs: 3000, readings: { p: [[10, 100], [110, 90]] } })).confidence?.u.value ?? Number.NaN; // prettier-ignore
    expect(Math.sqrt(u(true) ** 2 - u(false) ** 2)).toBeCloseTo((10 * Math.SQRT2 * 3) / 100, 6);
    const record = recordFor(holding(), 'hold', { readings: {}, marks: {} });
    expect(record.typedTimingMs).toBe(0);
  });
});

describe('a hold of gas', () => {
  const gas = { volume: 'suit.volume', temperature: 't', barometer: 'b' } as never;
  const corrected = (more: Partial<Limit> = {}): Limit => ({ ...limit('loss', 20, 'Pa'), ...more });
  const with_ = (readings: Written['readings'], more: Partial<Limit> = {}, facts: object = gas) =>
    only(hold(holding({ limits: [corrected(more)], method: { gas: facts } }), { readings: readings ?? {} }));
  const p = [[9, 100], [110, 98]] as const; // prettier-ignore

  it('says the loss with the drift off only where both ends were measured', () => {
    expect(codes(with_({ p, t: [[9, 20], [109, 20]] }))).toContain('correctedLoss'); // prettier-ignore
    expect(codes(with_({ p, t: [[20, 20]] }))).not.toContain('correctedLoss'); // prettier-ignore
    expect(codes(with_({ p }))).toContain('driftEqual');
    expect(codes(with_({ p, b: [[9, 101_300], [109, 101_300]] }))).toContain('correctedLoss'); // prettier-ignore
  });

  it('takes the barometer off where only it was measured, to the pascal', () => {
    // The air outside rose by 1 Pa: the gauge fell by that much without a leak.
    const f = with_({ p, b: [[9, 101_300], [109, 101_301]] }); // prettier-ignore
    expect((reason(f, 'correctedLoss') as { loss: { value: number } }).loss.value).toBeCloseTo(1, 3);
  });

  it('a limit of the corrected loss has no figure where nothing was measured, and names what is missing', () => {
    expect(with_({ p }, { corrected: true })).toMatchObject({ verdict: 'void', reasons: [{ code: 'noReading', values: { channel: 't' } }] });
    const without = with_({ p }, { corrected: true }, { volume: 'suit.volume' });
    expect(without.reasons).toEqual([{ code: 'noReading', values: { channel: 'temperature' } }]);
  });

  it('says what it costs in litres a day, the hours until half of it is gone, and as one hole', () => {
    const f = with_({ p });
    // 220 L · (2 Pa ÷ 101 325 Pa) in 100 s, as air at the room’s state: 3.75 L a day.
    const costs = reason(f, 'costs') as { readonly perDay: { value: number; unit: string }; readonly half: { value: number; unit: string } };
    expect(costs.perDay.unit).toBe('L');
    expect(costs.perDay.value).toBeGreaterThan(3.5);
    expect(costs.perDay.value).toBeLessThan(4);
    // 100·ln 2 ÷ ln(100/98) = 3431 s.
    expect(costs.half).toEqual({ value: 57.2, unit: 'min' });
    expect((reason(with_({ p: [[9, 100], [110, 99.5]] }), 'costs') as typeof costs).half).toEqual({ value: 3.84, unit: 'h' }); // prettier-ignore
    expect((reason(f, 'asHole') as { diameter: { unit: string } }).diameter.unit).toBe('mm');
    expect(codes(with_({ p: [[9, 100], [110, 100]] }))).not.toContain('costs'); // prettier-ignore
    expect(reason(with_({ p: [[9, 100], [110, -1]] }), 'costs')).not.toHaveProperty('half'); // prettier-ignore
  });

  it('calls it drift and no leak when the warmth alone is worth more than the limit', () => {
    // 101 423 Pa at 294.15 K, taken back by 1 K: 344.8 Pa.
    const f = with_({ p, t: [[9, 20], [109, 21]] }); // prettier-ignore
    expect(f.verdict).toBe('undecided');
    const drift = reason(f, 'driftOnly') as { readonly drift: { value: number; unit: string }; readonly corrected: { value: number } };
    expect(drift.drift.value).toBeCloseTo(-344.8, 1);
    expect(drift.corrected.value).toBeCloseTo(346.8, 1);
    const nothingSpoiled = with_({ p, t: [[9, 20], [109, 20]] }); // prettier-ignore
    expect(codes(nothingSpoiled)).not.toContain('driftOnly');
  });
});
