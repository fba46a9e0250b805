import { stepUnmet } from '../../src/method/evidence/steps';
import { describe, expect, it } from 'vitest';
import type { Quantity } from '../../src/quantity';
import { makePlan, procedureById, type Attributes, type Lists, type Procedure, type Verdict } from '../../src/procedure';
import { axlesOf, codes, found, instrumentsFor, only, planOf, recordFor, signalled, type Written } from '../testing/attempt';

/** Published check values, each with its boundary and one step to either side. Values from memory; the sources stand with the limits themselves. */

const q = (value: number, unit: string) => ({ value, unit });
const inch = "[in_i'H2O]";
/** A pressure that falls straight from one figure to another over a hold that starts at 100 s. */
const fell = (channel: string, from: number, to: number, seconds: number): Written => ({
  readings: { [channel]: [[0, from], [99, from], [100, from], [100 + seconds, to]] }, // prettier-ignore
  marks: { start: 100 },
});
/** As `fell`, for a stage whose steps must stand in windows and be waited for. */
function steps(w: Written, marks: Readonly<Record<string, number>>, readings: Written['readings'] = {}): Written {
  const channel = Object.keys(w.readings ?? {})[0] ?? '';
  return {
    ...w,
    marks: { ...w.marks, ...marks },
    readings: { [channel]: [...(readings[channel] ?? []), ...(w.readings?.[channel] ?? []).filter(([s]) => s >= 99)] },
  };
}

describe('suits (EN 464 with EN 943-1; ASTM F1052; 29 CFR 1910.120 App. A)', () => {
  const suit = (ruleSet: string) =>
    planOf('suit.inflation', ruleSet, { suit: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } });
  it.each<[string, string, number, number, number, Verdict, number]>([
    ['mbar-16.5', 'mbar', 16.5, 14, 360, 'pass', 83],
    ['mbar-16.5', 'mbar', 16.5, 13.5, 360, 'pass', 100],
    ['mbar-16.5', 'mbar', 16.5, 13.49, 360, 'fail', 100],
    ['in-h2o-4', inch, 4, 3.2, 240, 'pass', 100],
    ['in-h2o-4', inch, 4, 3.1, 240, 'fail', 113],
    ['in-h2o-2', inch, 2, 1.6, 180, 'pass', 100],
    ['in-h2o-2', inch, 2, 1.59, 180, 'fail', 103],
    ['mm-h2o-100', 'mm[H2O]', 100, 80, 240, 'pass', 100],
    ['mm-h2o-100', 'mm[H2O]', 100, 79.9, 240, 'fail', 101],
  ])('%s: %s from %f to %f', (ruleSet, unit, from, to, seconds, verdict, used) => {
    const plan = suit(ruleSet);
    const one = (id: string) => plan.figures[id]?.value ?? 0;
    const hold = 2000;
    const read = (s: number, value: number) => [s, Number((value * (plan.procedure.channels['suit']?.unit === unit ? 1 : 1)).toPrecision(12))] as const;
    // The channel is declared in Pa; the gauge shows the school's unit.
    const pascals = { mbar: 100, [inch]: 249.08891, 'mm[H2O]': 9.80665 }[unit] ?? 1;
    const pa = (s: number, value: number) => read(s, value * pascals);
    const filled = (one('fillLow') + one('fillHigh')) / 2;
    const kept = plan.figures['letDownLow'] ? (one('letDownLow') + one('letDownHigh')) / 2 : filled;
    // Looked at every fifty seconds while it settles.
    const watched = Array.from({ length: 24 }, (_, k) => pa(0.6 + 50 * k, kept));
    const f = only(
      found(plan, 'inflate', {
        readings: {
          suit: [pa(0.4, filled), ...watched, pa(1199, kept), pa(1399, from), pa(hold - 1, from), pa(hold, from), pa(hold + seconds, to)],
        },
        marks: { connect: 0, fill: 0.5, 'let-down': 0.7, settle: 1200, 'full-look': 1200, trim: 1400, start: hold },
      }),
    );
    expect([f.verdict, f.allowancePercent]).toEqual([verdict, used]);
  });
});

describe('breathing apparatus', () => {
  const face = planOf('ba.facepiece', 'mbar-10', { face: {} });
  it.each<[number, Verdict]>([
    [-9.2, 'pass'],
    [-9, 'pass'],
    [-8.9, 'fail'],
    [-11, 'undecided'],
    [-11.1, 'fail'],
  ])('a face-piece at −10 mbar that ends at %f (EN 136, from memory): either way counts', (end, verdict) => {
    const f = only(found(face, 'suction', steps(fell('suction', -10, end, 60), { join: 0, draw: 1, settle: 40, trim: 60 }, { suction: [[0.5, -10], [59, -10]] }))); // prettier-ignore
    expect(f.verdict).toBe(verdict);
    // Suction that grows is drift: never tight, and never silent.
    expect(codes(f).includes('rose')).toBe(end < -10);
  });

  const set = { filling: q(300, 'bar'), alarmLamp: true, display: false, halfWarning: false };
  const check = (ruleSet: string) => planOf('ba.user-check', ruleSet, { set });
  const at = (plan: ReturnType<typeof check>, stage: string, channel: string, mark: string, value: number) =>
    only(found(plan, stage, { readings: { [channel]: [[10, value]] }, marks: { [mark]: 10 } })); // prettier-ignore
  it.each<[string, number, Verdict]>([
    ['quarter', 270, 'fail'],
    ['quarter', 271, 'pass'],
    ['bar-55', 270, 'pass'],
    ['bar-55', 269, 'fail'],
  ])('%s: contents of %d bar (at 90 % is recharge in one school, ready in the other; SCBA-E1)', (ruleSet, bar, verdict) =>
    expect(at(check(ruleSet), 'contents', 'cylinder', 'contents-read', bar).verdict).toBe(verdict),
  );
  /** Two seconds at each quarter on the way down, the pressures computed from the filling. */
  const bledTo = (bar: number, from: Written['readings'] = { remote: [[0.5, 225], [3, 225], [3.5, 150], [6, 150], [6.5, 75], [9, 75], [25, bar], [30, bar]] }): Written => ({
    readings: from,
    marks: { 'three-quarters': 1, 'stop-three': 3, half: 4, 'stop-half': 6, 'quarter-before': 7, 'stop-before': 9, bleed: 9.5, 'alarm-starts': 30 },
  }); // prettier-ignore
  it('a stop at each quarter is made, where the quarter is, and takes two seconds; five where a display is fitted', () => {
    const plan = check('bar-55');
    const past = { remote: [[0.5, 225], [3, 225], [3.5, 190], [6, 190], [6.5, 75], [9, 75], [25, 55], [30, 55]] } as const; // prettier-ignore
    expect(found(plan, 'alarm', bledTo(55, past)).map((f) => f.verdict)).not.toContain('pass');
    const hurried = bledTo(55);
    const marks = { ...hurried.marks, half: 3.2, 'stop-half': 4.5 };
    expect(found(plan, 'alarm', { ...hurried, marks }).map((f) => f.verdict)).not.toContain('pass');
    const shown = planOf('ba.user-check', 'bar-55', { set: { ...set, display: true } });
    expect(found(shown, 'alarm', bledTo(55)).map((f) => f.verdict)).not.toContain('pass');
  });
  it.each<[number, Verdict]>([
    [30, 'pass'],
    [30.1, 'fail'],
  ])('an alarm that is silent at %f bar: it goes on until nearly empty, and where it stops is read', (bar, verdict) => {
    const f = only(found(check('quarter'), 'alarm-goes-on', { readings: { remote: [[1, 70], [10, bar]] }, marks: { 'bleed-out': 2, 'alarm-stops': 10 } })); // prettier-ignore
    expect(f.verdict).toBe(verdict);
  });
  it('each signal that is fitted is asked about, and none that is not; what nobody knows of is asked before the run', () => {
    const items = (more: object): readonly string[] => {
      const method = planOf('ba.user-check', 'quarter', { set: { ...set, ...more } }).stages.find((s) => s.id === 'signals')?.method;
      return method?.kind === 'check' ? method.items.map((i) => i.id) : [];
    };
    expect(items({})).toEqual(['sounds', 'alarm-lamp']);
    expect(items({ alarmLamp: false, display: true, halfWarning: true, halfPattern: 'blinks' })).toEqual(['sounds', 'display', 'half-blinks']);
    expect(items({ halfWarning: true, halfPattern: 'steady' })).toContain('half-steady');
    expect(() => planOf('ba.user-check', 'quarter', { set: { filling: q(300, 'bar') } })).toThrow('set.alarmLamp');
    const none = { lowAirLamp: false, lowAirBuzzer: false, secondLamp: false, lowAirMessage: false, ebs: false };
    const vehicle = { units: q(1, '1'), school: 'general', ...none };
    expect(planOf('brakes.whole', 'single', { vehicle }).stages.some((s) => s.id === 'signals')).toBe(false);
  });
  it.each<[number, Verdict, Verdict]>([
    [55, 'pass', 'pass'],
    [50, 'pass', 'pass'],
    [60, 'pass', 'pass'],
    [49.9, 'fail', 'pass'],
    [60.1, 'pass', 'fail'],
  ])('the 55 bar alarm at %f bar (EN 137, SCBA-E2)', (bar, low, high) => {
    const findings = found(check('bar-55'), 'alarm', bledTo(bar));
    expect([only(findings, 'bar-55.alarm.low').verdict, only(findings, 'bar-55.alarm.high').verdict]).toEqual([low, high]);
  });
  it.each<[number, number, Verdict]>([
    [300, 295, 'pass'],
    [300, 294, 'fail'],
  ])('a dial of 10 bar graduations from %d to %d in 30 s: more than half a graduation is seen', (from, to, verdict) => {
    const w = steps(fell('remote', from, to, 30), { 'first-breath-off': 0, shut: 1, 'line-settle': 40 });
    const f = only(found(check('quarter'), 'look-leak', { ...w, instruments: { remote: { fitted: true, resolution: q(10, 'bar'), accuracy: q(6, 'bar') } } }));
    expect(f.verdict).toBe(verdict);
  });
  it('a needle that trembles on a mark stands on it: what streams is looked at for five seconds, to either end', () => {
    const dial = { remote: { fitted: true, resolution: q(10, 'bar'), accuracy: q(6, 'bar') } };
    const look = (start: readonly number[], end: readonly number[], typed = false) => {
      const remote = [...start.map((v, i) => [40 + (i + 1) * (5 / start.length), v] as const), ...end.map((v, i) => [70 + (i + 1) * (5 / end.length), v] as const)]; // prettier-ignore
      return only(found(check('quarter'), 'look-leak', { typed, readings: { remote: [[39, 320], ...remote] }, marks: { 'first-breath-off': 0, shut: 1, 'line-settle': 40, start: 45 }, ended: 76, instruments: dial })); // prettier-ignore
    };
    // The clock is over at 75 s with the sample there: by itself it is a whole step below the one at 45 s.
    const trembling = look([290, 300, 290, 300], [300, 290, 300, 290]);
    expect([trembling.verdict, trembling.observed?.value]).toEqual(['pass', 0]);
    const fallen = look([290, 300, 290, 300], [290, 290, 290, 280]);
    expect([fallen.verdict, fallen.observed?.value]).toEqual(['fail', 0.75]);
    // What is read by eye was looked at by whoever wrote it down.
    expect(look([300, 300], [300, 290], true).verdict).toBe('fail');
  });
  const high = planOf('ba.high-pressure', 'bar-10', { set: { ...set, trappedVolume: q(30, 'mL') } });
  it.each<[number, Verdict]>([
    [290, 'pass'],
    [289.9, 'fail'],
  ])('the high-pressure minute from 300 to %f bar (FwDV 7 and maker practice)', (end, verdict) => {
    const f = only(found(high, 'hold', steps(fell('line', 300, end, 60), { pressurise: 1, shut: 2, settle: 60 }, { line: [[0.5, 300]] }))); // prettier-ignore
    expect(f.verdict).toBe(verdict);
    expect(codes(f)).toEqual(expect.arrayContaining(['asFlow', 'asHole', 'costs']));
  });
});

describe('cylinders (49 CFR 180.205; CGA C-1; special permits)', () => {
  const facts = {
    testPressure: q(300, 'bar'),
    workingPressure: q(200, 'bar'),
    certificateExpansion: q(132.5, 'mL'),
    rejectionMarked: false,
    material: 'steel',
    rejectionElastic: q(64, 'mL'),
    mostExpansion: q(160, 'mL'),
    waterMass: q(113.8, 'kg'),
  };
  const jacket = (ruleSet: string, more = {}) => planOf('cyl.water-jacket', ruleSet, { cylinder: { ...facts, ...more } });
  const expanded = (total: number, permanent: number, bar = 305, more: Written = {}): Written => ({
    readings: {
      pressure: [[0.9, 0], [5, 200], [10, bar], [40, bar], [70, bar], [72, bar], [100, 0]],
      water: [[0.9, 0], [5, total * 0.6], [10, total], [40, total], [70, total], [72, total], [100, permanent]],
      ...more.readings,
    }, // prettier-ignore
    marks: { zeroed: 1, 'working-read': 6, start: 11, 'total-read': 73, 'permanent-read': 101, ...more.marks },
    ...(more.instruments ? { instruments: more.instruments } : {}),
    ...(more.attempt === undefined ? {} : { attempt: more.attempt }),
  });
  it.each<[string, number, number, string, Verdict]>([
    ['us-metal', 150, 9.5, 'us-metal.percent', 'pass'],
    ['composite', 150, 9.5, 'composite.percent', 'fail'],
    ['us-metal', 150, 15, 'us-metal.percent', 'pass'],
    ['us-metal', 150, 15.1, 'us-metal.percent', 'fail'],
    ['us-metal', 168.4, 4.7, 'us-metal.percent', 'pass'],
    ['us-metal', 192.6, 17.9, 'us-metal.percent', 'pass'],
    ['us-metal', 192.6, 19.4, 'us-metal.percent', 'fail'],
    ['composite', 65, 1, 'composite.elastic', 'pass'],
    ['maker', 160, 5, 'maker.total', 'pass'],
    ['maker', 160.1, 5, 'maker.total', 'fail'],
  ])('%s: total %f, permanent %f', (ruleSet, total, permanent, limit, verdict) => {
    const f = only(found(jacket(ruleSet), 'expand', expanded(total, permanent)), limit);
    expect(f.verdict).toBe(verdict);
    expect(codes(f).includes('condemned')).toBe(verdict === 'fail');
  });
  it('works out the share and the elastic expansion (CYL-E1, CYL-E3)', () => {
    expect(only(found(jacket('us-metal'), 'expand', expanded(150, 9.5))).observed?.value).toBeCloseTo(6.33333333, 8);
    expect(only(found(jacket('us-metal', { rejectionMarked: true }), 'expand', expanded(65, 1)), 'us-metal.elastic').verdict).toBe('pass');
    expect(
      only(found(jacket('us-metal', { rejectionMarked: true, rejectionElastic: q(63.9, 'mL') }), 'expand', expanded(65, 1)), 'us-metal.elastic'),
    ).toMatchObject({
      verdict: 'fail',
    });
    expect(found(jacket('us-metal'), 'expand', expanded(65, 1)).map((f) => f.limit?.id)).not.toContain('us-metal.elastic');
    expect(only(found(jacket('composite', { rejectionElastic: q(63.9, 'mL') }), 'expand', expanded(65, 1)), 'composite.elastic').verdict).toBe('fail');
  });
  it.each<[number, number, string, Verdict]>([
    [133.6, 0, 'us-metal.calibrated', 'pass'],
    [134, 0, 'us-metal.calibrated', 'void'],
    [132.5, 0.2, 'us-metal.calibrated-zero', 'void'],
  ])('the calibrated cylinder reads %f mL and %f after (CYL-E5): off its certificate says nothing of the item', (total, after, limit, verdict) =>
    expect(only(found(jacket('us-metal'), 'calibrate', expanded(total, after, 300)), limit).verdict).toBe(verdict),
  );
  // u(%PE) = (100/TE) * sqrt(1 + (PE/TE)^2) * u_b for one scale read twice (JCGM 100, propagation). The scale's error here is all rectangular.
  it.each([
    [168.4, 4.7, 0.3, 0.1782166],
    [192.6, 17.9, 0.5, 0.2607242],
    [192.6, 19.4, 0.5, 0.260919],
  ])('total %f and permanent %f, each to %f mL: the share is known to %f', (total, permanent, u, expected) => {
    const water = { accuracy: q(u * Math.sqrt(3), 'mL'), resolution: q(1e-9, 'mL') };
    const f = only(found(jacket('us-metal'), 'expand', { ...expanded(total, permanent), instruments: { water } }), 'us-metal.percent');
    expect(f.confidence?.u.value).toBeCloseTo(expected, 6);
  });
  it('the expansion at the working pressure is told where the school reads it, and only there', () => {
    const told = (ruleSet: string): unknown => only(found(jacket(ruleSet), 'expand', expanded(150, 5)), `${ruleSet}.percent`).reasons[0]?.values;
    expect(told('maker')).toMatchObject({ working: q(90, 'mL') });
    expect(told('us-metal')).not.toHaveProperty('working');
    const unread = only(found(jacket('maker'), 'expand', expanded(150, 5, 305, { readings: { pressure: [[0.9, 0], [5, 120], [10, 305], [40, 305], [70, 305], [72, 305], [100, 0]] } }))); // prettier-ignore
    expect(unread.verdict).toBe('void');
    expect(codes(unread)).toContain('notReached');
  });
  describe('weighed on a balance', () => {
    const balance = { low: q(0, 'g'), high: q(1000, 'g'), resolution: q(0.1, 'g'), accuracy: q(0.05, 'g') };
    const grams = (total: number, stays: number) => [[0.9, 0], [5, total / 2], [10, total], [40, total], [70, total], [72, total], [100, stays]] as const; // prettier-ignore
    const warm = (celsius: number) => [[0.9, celsius], [5, celsius], [72, celsius], [100, celsius]] as const; // prettier-ignore
    const weighed = (total: number, stays: number, celsius: number, more: Written = {}): Written => {
      const { pressure = [] } = expanded(0, 0, 305).readings ?? {};
      return { ...expanded(0, 0, 305), readings: { pressure, scale: grams(total, stays), temperature: warm(celsius), ...more.readings }, instruments: { scale: balance } }; // prettier-ignore
    };
    const alone = jacket('us-metal');
    it('is a volume by the density of water at its temperature, in air', () => {
      const f = found(alone, 'expand', weighed(150, 9.5, 20)).filter((x) => x.channel === 'scale');
      // 150 g at 20 °C are 150.43 mL: ISO 4787, 1.0029 mL each gram.
      expect(only(f, 'us-metal.percent').reasons[0]?.values).toMatchObject({
        total: { value: expect.closeTo(150.428, 3) as unknown, unit: 'mL' },
        weighed: q(150, 'g'),
      });
      expect(only(f, 'us-metal.percent').observed?.value).toBeCloseTo(6.33333, 4);
    });
    it('says nothing without a thermometer, or of ice', () => {
      for (const [temperature, code] of [
        [[], 'noReading'],
        [warm(-4), 'notWater'],
      ] as const) {
        const f = found(alone, 'expand', weighed(150, 9.5, 20, { readings: { temperature } })).filter((x) => x.channel === 'scale');
        expect(f.map((x) => x.verdict)).not.toContain('pass');
        expect(f.flatMap(codes)).toContain(code);
      }
    });
    it('where burette and balance both stand each is zeroed and each is judged', () => {
      const both = (scale: number, zero = 0): Written =>
        expanded(150, 9.5, 305, { readings: { scale: [[0.9, zero], ...grams(scale, 9.5).slice(1)], temperature: warm(20) }, instruments: { scale: balance } }); // prettier-ignore
      expect(found(alone, 'expand', both(150)).filter((f) => f.limit?.id === 'us-metal.percent').map((f) => [f.channel, f.verdict])).toEqual([['water', 'pass'], ['scale', 'pass']]); // prettier-ignore
      // The balance shows that more stayed than a tenth.
      expect(found(alone, 'expand', both(80)).find((f) => f.channel === 'scale' && f.limit?.id === 'us-metal.percent')?.verdict).toBe('fail');
      expect(found(alone, 'expand', both(150, 3)).flatMap(codes)).toContain('notZeroed');
    });
  });
  it('a repeat after the equipment failed needs the lesser of 10 % and 100 psi more', () => {
    const plan = jacket('us-metal');
    expect(plan.figures['repeatLow']?.value).toBeCloseTo(300 + 6.894757293168, 9);
    expect(only(found(plan, 'expand', expanded(150, 9.5, 305, { attempt: 2 }))).verdict).toBe('void');
    expect(only(found(plan, 'expand', expanded(150, 9.5, 308, { attempt: 2 }))).verdict).toBe('pass');
  });
  it.each([
    [
      'pressure that sinks in the hold',
      {
        pressure: [
          [0.9, 0],
          [10, 305],
          [40, 299],
          [70, 305],
          [72, 305],
          [100, 0],
        ],
      },
      'notReached',
    ],
    [
      'a scale that was not zeroed',
      {
        water: [
          [0.9, 0.5],
          [10, 150],
          [70, 150],
          [72, 150],
          [100, 9],
        ],
      },
      'notZeroed',
    ],
    [
      'pressure still on',
      {
        pressure: [
          [0.9, 0],
          [10, 305],
          [40, 305],
          [70, 305],
          [72, 305],
          [100, 20],
        ],
      },
      'notReached',
    ],
  ] as const)('%s is no test', (_, readings, code) => {
    const f = only(found(jacket('us-metal'), 'expand', expanded(150, 9.5, 305, { readings })));
    expect(f.verdict).toBe('void');
    expect(codes(f)).toContain(code);
  });
  it('a total read too soon, or marks out of their order, are no test', () => {
    const plan = jacket('us-metal');
    const soon = { ...expanded(150, 9.5), marks: { zeroed: 1, start: 50, 'total-read': 73, 'permanent-read': 101 } };
    expect(codes(only(found(plan, 'expand', soon)))).toEqual(['waitShort']);
    const order = { ...expanded(150, 9.5), marks: { zeroed: 1, start: 11, 'total-read': 73, 'permanent-read': 0.95 } };
    expect(codes(only(found(plan, 'expand', order)))).toContain('outOfOrder');
    const { start, ...without } = { zeroed: 1, start: 11 };
    expect(start).toBe(11);
    expect(only(found(plan, 'expand', { ...expanded(150, 9.5), marks: without, ended: null })).verdict).toBe('undecided');
  });

  const direct = (bar: number, ruleSet = 'steel', kg = 113.8) =>
    planOf('cyl.direct-expansion', ruleSet, { cylinder: { ...facts, testPressure: q(bar, 'bar'), waterMass: q(kg, 'kg') } });
  const forced = (into: number, left: number, bar: number, celsius: number): Written =>
    expanded(into, left, bar, { readings: { temperature: [[70, celsius], [100, celsius]] } }); // prettier-ignore
  it.each([
    [232, 15, 113.8, 1745, 3, 0.5761635],
    [300, 20, 49.91, 868, 6, 3.156006],
    [300, 20, 12, 300, 1.5, 1.10461],
    [300, 20, 12, 300, 9, 6.62764],
  ])('direct: at %d bar and %d °C, %f kg, %f mL in, %f left: water’s own compression taken off', (bar, celsius, kg, into, left, percent) => {
    const f = only(found(direct(bar, 'steel', kg), 'expand', forced(into, left, bar, celsius)));
    expect(Math.abs((f.observed?.value ?? 0) / percent - 1)).toBeLessThan(5e-6);
    expect(f.verdict).toBe(percent <= 5 ? 'pass' : 'fail');
    expect(only(found(direct(bar, 'ten', kg), 'expand', forced(into, left, bar, celsius))).verdict).toBe('pass');
  });
  it('direct: water out of the table, none of its temperature, or less than the water gives cannot be judged', () => {
    expect(codes(only(found(direct(300), 'expand', forced(1745, 3, 300, 30))))).toContain('outOfTable');
    expect(codes(only(found(direct(300), 'expand', expanded(1745, 3, 300))))).toContain('noReading');
    expect(codes(only(found(direct(300), 'expand', forced(100, 3, 300, 20))))).toContain('noExpansion');
  });
});

describe('tanks', () => {
  const cargo = (gallons: number, ruleSet = 'annual') => planOf('tank.cargo', ruleSet, { tank: { capacity: q(gallons, '[gal_us]') } });
  const held = (to: number): Written => steps(fell('tank', 18, to, 300), { fill: 1, settle: 130, trim: 140 }, { tank: [[0.5, 18], [139, 18]] }); // prettier-ignore
  const later = (w: Written): Written => ({ ...w, readings: { tank: [[0.5, 18], [139, 18], [199, 18], [200, 18], [500, (w.readings?.['tank'] ?? []).at(-1)?.[1] ?? 0]] }, marks: { ...w.marks, start: 200 } }); // prettier-ignore
  it.each<[number, string, number, Verdict]>([
    [9000, 'annual', 17.1, 'pass'],
    [9000, 'annual', 17, 'pass'],
    [9000, 'annual', 16.9, 'fail'],
    [9000, 'any-time', 16.9, 'pass'],
    [2499, 'annual', 16.5, 'pass'],
    [1499, 'annual', 16, 'pass'],
    [999, 'annual', 15.5, 'pass'],
    [999, 'annual', 15.4, 'fail'],
    [2500, 'any-time', 15.4, 'fail'],
  ])('a compartment of %d gal, %s, ends at %f inH2O (40 CFR 63.425, TANK-E1)', (gallons, ruleSet, to, verdict) =>
    expect(only(found(cargo(gallons, ruleSet), 'pressure', later(held(to)))).verdict).toBe(verdict),
  );

  // 5678 L are 1499.97 gal, 3785 L 999.9: told in litres, a capacity is in the band whose litres it has.
  it.each([
    [9464, 'L', 1],
    [9463, 'L', 1.5],
    [5678, 'L', 1.5],
    [5677, 'L', 2],
    [3785, 'L', 2],
    [3784, 'L', 2.5],
    [1499.97, '[gal_us]', 2],
    [5.678, 'm3', 2], // printed in neither: it is what it is in gallons
  ])('%d %s may lose %f inH2O (40 CFR 63.425, table 2, as it is printed)', (value, unit, most) => {
    const plan = planOf('tank.cargo', 'annual', { tank: { capacity: q(value, unit) } });
    expect(plan.limits.find((l) => l.of === 'loss')?.resolved.value).toBe(most);
  });

  it.each<[string, number, number, Verdict]>([
    ['under its pressure', 16, 4, 'pass'],
    ['under its pressure, passing', 16, 5.1, 'fail'],
    ['let down', 12.9, 0, 'void'],
    ['under suction', -6, -5.5, 'void'],
  ])('the inside vapour valve is tried with the tank %s', (_what, tank, header, verdict) => {
    const w: Written = { readings: { tank: [[0.4, tank]], header: [[1.4, 0], [310, header]] }, marks: { 'header-tank': 0.5, 'valve-shut': 1, 'header-down': 1.5, 'header-wait': 305, 'header-read': 310 } }; // prettier-ignore
    expect(found(cargo(9000), 'header', w)[0]?.verdict).toBe(verdict);
  });

  const store = { ullage: q(10_000, '[gal_us]'), capacity: q(20_000, '[gal_us]') };
  const two = (ruleSet: string, more = {}, nozzles = 6) =>
    planOf(
      'tank.vapour-2',
      ruleSet,
      { tank: { ...waited, tanks: q(1, '1'), nozzles: q(nozzles, '1'), latitude: q(69.6, '1'), longitude: q(18.9, '1') } },
      undefined,
      {
        tanks: [{ ...store, ...more }],
      },
    );
  const table: readonly (readonly [number, readonly number[]])[] = [
    [500, [0.437, 0.4101, 0.3849, 0.361, 0.3386, 0.7345, 0.6907, 0.6494, 0.6104, 0.5736]],
    [1000, [0.9349, 0.9057, 0.8773, 0.8497, 0.8229, 1.212, 1.1753, 1.1396, 1.1049, 1.0711]],
    [5000, [1.7178, 1.7069, 1.6961, 1.6853, 1.6745, 1.8094, 1.7983, 1.7872, 1.7762, 1.7652]],
    [25_000, [1.9401, 1.9376, 1.9352, 1.9327, 1.9302, 1.9603, 1.9579, 1.9555, 1.9531, 1.9507]],
  ];
  it.each(table.flatMap(([gallons, row]) => row.map((want, i) => [gallons, i < 5 ? 'balance' : 'assist', [6, 12, 18, 24, 30][i % 5] ?? 0, want] as const)))(
    'what must be left of 2 inH2O over %d gal, %s, %d nozzles (CARB TP-201.3)',
    (gallons, ruleSet, nozzles, want) => {
      const plan = two(ruleSet, { ullage: q(gallons, '[gal_us]'), capacity: q(Math.min(gallons * 4, 2000), '[gal_us]') }, nozzles);
      expect(plan.limits.find((l) => l.stage === 'pressure.1')?.resolved.value).toBeCloseTo(want, 4);
    },
  );
  it.each<[number, Verdict]>([
    [1.86, 'pass'],
    [1.85, 'fail'],
  ])('10 000 gal, balance, six nozzles: %f left (VR-E1; the equation decides, and not its printed decimals)', (left, verdict) => {
    const w: Written = { readings: { tank: [[0.2, 0], [59, 2.1], [159, 2.01], [160, 2], [460, left]] }, marks: { nitrogen: 60, settle: 121, trim: 159.5, start: 160 } }; // prettier-ignore
    expect(only(found(two('balance'), 'pressure.1', w)).verdict).toBe(verdict);
  });

  const waited = { sinceDelivery: q(9, 'h'), sinceLiquidTest: q(25, 'h'), sinceFuelling: q(31, 'min') };
  const ten = (ruleSet: string, more = {}) =>
    planOf(
      'tank.vapour-10',
      ruleSet,
      { tank: { ...waited, tanks: q(1, '1'), authority: 'coast', nitrogenBy: 'coupler', tieTest: false, ...more } },
      undefined,
      {
        tanks: [store],
      },
      { times: { kind: 'vapour-times', id: 'coast', edition: '1', title: 'Times', source: { title: 'Coast' }, from: '2020-01-01', lines: [{ upTo: q(30_000, '[gal_us]'), gives: { hold: q(5, 'min'), permittedLoss: q(0.1, inch) } }] } }, // prettier-ignore
    );
  it.each<[number, number, Verdict]>([
    [10.04, 9.9, 'pass'],
    [10.04, 9.89, 'fail'],
    [10, 9.85, 'fail'],
    [10, 9.86, 'pass'],
  ])('from %f to %f, rounded half up to 0.1 after the subtraction', (from, to, verdict) => {
    const w: Written = { readings: { tank: [[0.2, 0], [299, 11], [999, from], [1000, from], [1300, to]] }, marks: { nitrogen: 300, settle: 901, trim: 999.5, start: 1000 } }; // prettier-ignore
    expect(only(found(ten('in-use'), 'pressure.1', w)).verdict).toBe(verdict);
  });
  it.each<[number, readonly (readonly [number, number])[], string | undefined]>([
    // 10 000 gal are 1337 ft³: 10.95 of 407 inH2O are 36 ft³, 431 s at 5 ft³/min. Half of that is surely too fast.
    [215, [[215, 11]], 'filledTooFast'],
    [217, [[217, 11]], undefined],
    // The assembly, blanked still and at its pressure from its own proof, is no tank that was filled.
    [
      600,
      [
        [1, 5],
        [599, 11],
      ],
      'heldBefore',
    ],
    [
      600,
      [
        [1, 1.1],
        [599, 11],
      ],
      'heldBefore',
    ],
    [
      600,
      [
        [1, 1],
        [599, 11],
      ],
      undefined,
    ],
    [
      2,
      [
        [1, 11],
        [2, 11],
      ],
      'heldBefore',
    ],
  ])('what stands at eleven inches after %d s (%j) is the assembly alone: %s', (after, tank, code) => {
    const plan = ten('in-use');
    const stage = plan.stages.find((x) => x.id === 'pressure.1');
    const step = stage?.steps.find((x) => x.id === 'nitrogen');
    if (!stage || !step) throw new Error('no step');
    const record = recordFor(plan, 'pressure.1', { readings: { tank }, undone: ['nitrogen', 'settle', 'trim'], ended: null });
    expect(stepUnmet({ plan, stage, method: stage.method, record, instruments: instrumentsFor(plan) }, step, after * 1000)?.code).toBe(code);
  });
  it.each<[string, number, string | undefined]>([
    ['two seconds, however long nobody touched it', 2, 'filledTooFast'],
    ['170 s', 170, 'filledTooFast'],
    // Eight tenths of 215 s.
    ['174 s', 175, undefined],
  ])('a rise that was watched is timed by itself: from nothing to eleven inches in %s', (_what, seconds, code) => {
    const plan = ten('in-use');
    const stage = plan.stages.find((x) => x.id === 'pressure.1');
    const step = stage?.steps.find((x) => x.id === 'nitrogen');
    if (!stage || !step) throw new Error('no step');
    // Nothing for three minutes, then up, then it stands for three minutes more; a tenth and nine tenths of it are what is timed.
    const tank = Array.from({ length: 1200 }, (_, k) => [k / 2, 11 * Math.min(1, Math.max(0, (k / 2 - 180) / (seconds / 0.8)))] as const);
    const record = recordFor(plan, 'pressure.1', { readings: { tank }, undone: ['nitrogen', 'settle', 'trim'], ended: null });
    expect(stepUnmet({ plan, stage, method: stage.method, record, instruments: instrumentsFor(plan) }, step, 599_000)?.code).toBe(code);
  });
  it('eleven inches that are never reached are a leak', () => {
    const never: Written = { readings: { tank: [[10, 6], [600, 8.2]] }, undone: ['nitrogen', 'settle', 'trim'] }; // prettier-ignore
    const f = only(found(ten('in-use'), 'pressure.1', never));
    expect([f.verdict, codes(f)]).toEqual(['fail', ['neverReached']]);
    expect(only(found(ten('in-use'), 'pressure.1', { ...never, ended: null })).verdict).toBe('undecided');
    expect(only(found(ten('in-use'), 'pressure.1', { ...never, readings: {} })).verdict).toBe('void');
  });

  const silo = (ruleSet: string) => planOf('store.half-life', ruleSet, { store: { volume: q(100, 'm3') } });
  /** An exponential of a given half-life from 250 Pa. */
  const decays = (halfS: number, until: number): Written => ({
    readings: {
      store: [
        [0.4, 260],
        ...Array.from({ length: Math.floor(until / 5) + 1 }, (_, i) => [200 + 5 * i, Number((250 * 2 ** (-(5 * i) / halfS)).toFixed(3))] as const),
      ],
    },
    marks: { fill: 0.5, shut: 1, settle: 100, trim: 200, start: 200 },
  });
  it.each<[string, number, Verdict]>([
    ['new', 301, 'pass'],
    ['new', 299, 'fail'],
    ['older', 181, 'pass'],
    ['older', 179, 'fail'],
  ])('a store, %s, of half-life %d s (AS 2628)', (ruleSet, half, verdict) =>
    expect(only(found(silo(ruleSet), 'half', decays(half, 400))).verdict).toBe(verdict),
  );
  it('is measured to the second between readings, with a fit beside it', () => {
    const f = only(found(silo('new'), 'half', decays(372, 500)));
    expect(f.observed?.value).toBeCloseTo(6.2, 3);
    expect(f.allowancePercent).toBe(81);
    expect(codes(f)).toEqual(expect.arrayContaining(['halfLife', 'halfLifeFit', 'driftEqual']));
  });
  it('is long enough when the time is over above half; broken off before it is nothing, unless hopeless', () => {
    expect(codes(only(found(silo('new'), 'half', decays(900, 300))))).toContain('halfLifeOver');
    expect(only(found(silo('new'), 'half', decays(900, 200))).verdict).toBe('void');
    expect(only(found(silo('new'), 'half', { ...decays(900, 200), ended: null })).verdict).toBe('undecided');
    const hopeless = only(found(silo('new'), 'half', decays(100, 80)));
    expect([hopeless.verdict, codes(hopeless).includes('endedHopeless')]).toEqual(['fail', true]);
  });
  it('a store that rises is not sealed, it is warming', () => {
    const rising: Written = { ...decays(900, 300), readings: { store: [[0.4, 260], ...Array.from({ length: 61 }, (_, i) => [200 + 5 * i, 250 + i * 0.4] as const)] } }; // prettier-ignore
    const f = only(found(silo('new'), 'half', rising));
    expect([f.verdict, codes(f).includes('rose')]).toEqual(['undecided', true]);
  });
  it('typed over a gap of the clock, before its start, or out of its window, is no test', () => {
    expect(only(found(silo('new'), 'half', { ...decays(372, 500), typed: true, gaps: [{ at: 300_000, lostMs: 4000 }] })).verdict).toBe('void');
    expect(only(found(silo('new'), 'half', { readings: {}, marks: {} })).verdict).toBe('void');
    const high: Written = { ...decays(372, 500), readings: { store: [[0.4, 260], [200, 270], [600, 100]] } }; // prettier-ignore
    expect(codes(only(found(silo('new'), 'half', high)))).toEqual(['notReached']);
    expect(codes(only(found(silo('new'), 'half', { ...decays(372, 500), instruments: { store: { inCalibration: false } } })))).toEqual(['calibrationOut']);
  });
});

describe('anaesthetic circuits (ISO 80601-2-13; textbooks)', () => {
  const circle = (ruleSet: string) => planOf('anaes.circle', ruleSet, { circuit: { volume: q(6, 'L') } });
  const made = (flow: number, pressure = 30, more: Written = {}): Written => ({
    readings: { pressure: [[0.4, 30], [9, pressure], [15, pressure], [20, pressure]], flow: [[9, flow], [15, flow], [20, flow]] },
    marks: { 'fill-again': 0.5, still: 1, start: 10 },
    ...more,
  }); // prettier-ignore
  it.each<[string, number, Verdict, number]>([
    ['human', 120, 'pass', 80],
    ['human', 150, 'pass', 100],
    ['human', 151, 'fail', 101],
    ['human', 180, 'fail', 120],
    ['small-animal', 180, 'pass', 90],
    ['small-animal', 0, 'pass', 0],
  ])('%s: %d mL/min holds it still (ANA-E1)', (ruleSet, flow, verdict, used) => {
    const f = only(found(circle(ruleSet), 'make-up', made(flow)));
    expect([f.verdict, f.allowancePercent]).toEqual([verdict, used]);
  });
  it('a pressure that left its band, a hold that was short, and no flow read are no test', () => {
    const plan = circle('human');
    expect(codes(only(found(plan, 'make-up', { ...made(100), readings: { pressure: [[0.4, 30], [9, 30], [15, 26], [20, 30]], flow: [[20, 100]] } })))).toEqual(['bandLeft']); // prettier-ignore
    expect(only(found(plan, 'make-up', { ...made(100), marks: { start: 12 } })).verdict).toBe('void');
    expect(only(found(plan, 'make-up', { ...made(100), readings: { pressure: [[0.4, 30], [9, 30], [20, 30]] } })).verdict).toBe('void'); // prettier-ignore
    expect(only(found(plan, 'make-up', { readings: {}, ended: null })).verdict).toBe('undecided');
    expect(only(found(plan, 'make-up', { ...made(100), typed: true, gaps: [{ at: 15_000, lostMs: 3000 }] })).verdict).toBe('void');
    expect(only(found(plan, 'make-up', { ...made(100), instruments: { flow: { inCalibration: false } } })).verdict).toBe('void');
  });
  it('a flow meter too coarse for the limit cannot pass it', () => {
    const f = only(found(circle('human'), 'make-up', made(10, 30, { instruments: { flow: { accuracy: q(200, 'mL/min') } } })));
    expect([f.verdict, codes(f).includes('tooCoarse')]).toEqual(['undecided', true]);
  });
});

describe('air brakes (model manual; 49 CFR 393; provincial manuals)', () => {
  const vehicle = { units: q(1, '1'), reservoir: q(45, 'L'), axles: q(2, '1'), ...signalled, school: 'general' };
  const unitAxles = (units: number): Lists => ({ axles: Array.from({ length: units + 1 }, (_, k) => ({ unit: String(Math.max(1, k)), chamber: '30' })) });
  const whole = (ruleSet: string, more: { readonly units?: Quantity; readonly school?: string } = {}) =>
    planOf('brakes.whole', ruleSet, { vehicle: { ...vehicle, ...more } }, undefined, unitAxles(more.units?.value ?? 1));
  const at = (stage: string, mark: string, value: number, ruleSet: string, more = {}): Verdict => {
    // It comes there, and ten seconds later it still stands, or has turned.
    const primary = [...(stage === 'cut-out' ? [[0.2, 88] as const] : []), [10, value] as const, [20, mark === 'loads' ? value + 2 : value] as const];
    const findings = found(whole(ruleSet, more), stage, { readings: { primary, secondary: [[20, value]] }, marks: { [mark]: 20 } });
    return findings.every((f) => f.verdict === 'pass') ? 'pass' : 'fail';
  };
  it.each<[string, string, number, string, object, Verdict]>([
    ['warning', 'warns', 55, 'single', {}, 'pass'],
    ['warning', 'warns', 54.9, 'single', {}, 'fail'],
    ['warning', 'warns', 59.9, 'single', { school: 'stricter' }, 'fail'],
    ['warning', 'warns', 75.1, 'combination', {}, 'fail'],
    ['warning', 'warns', 59.9, 'build-from-low', {}, 'fail'],
    ['pop-out', 'pops', 20, 'single', {}, 'pass'],
    ['pop-out', 'pops', 45, 'single', {}, 'pass'],
    ['pop-out', 'pops', 45.1, 'single', {}, 'fail'],
    ['pop-out', 'pops', 40.1, 'bus-a', {}, 'fail'],
    ['pop-out', 'pops', 70, 'build-from-low', {}, 'pass'],
    ['cut-out', 'unloads', 140, 'single', {}, 'pass'],
    ['cut-out', 'unloads', 119.9, 'single', {}, 'fail'],
    ['cut-in', 'loads', 99.9, 'single', {}, 'fail'],
    ['cut-in', 'loads', 80, 'build-from-low', {}, 'pass'],
    ['supply-line', 'supply-closes', 19.9, 'build-from-low', {}, 'fail'],
  ])('%s at %s %f psi, %s', (stage, mark, value, ruleSet, more, verdict) => expect(at(stage, mark, value, ruleSet, more)).toBe(verdict));

  it('a warning that had not come by its least pressure has failed; one that nobody watched is no test', () => {
    const plan = whole('single');
    const silent: Written = { readings: { primary: [[1, 100], [20, 60], [40, 50]], secondary: [[1, 100], [40, 50]] } }; // prettier-ignore
    expect(found(plan, 'warning', silent).map((f) => [f.verdict, codes(f)])).toEqual([['fail', ['eventOverdue']]]);
    expect(found(plan, 'warning', { readings: { primary: [[1, 100], [20, 60]] } }).map((f) => f.verdict)).toEqual(['void']); // prettier-ignore
    expect(found(plan, 'warning', { ended: null }).map((f) => f.verdict)).toEqual(['undecided']);
  });

  it.each<[string, string, number, Verdict]>([
    ['single', 'build-up', 45, 'pass'],
    ['single', 'build-up', 45.1, 'fail'],
    ['bus-b', 'build-up', 45, 'fail'],
    ['bus-b', 'build-up', 44.9, 'pass'],
  ])('%s: 85 to 100 psi in %s %f s', (ruleSet, stage, seconds, verdict) => {
    // Readings every four seconds lie on a straight rise: both crossings fall between them.
    const rate = 15 / seconds;
    const readings = Array.from({ length: 28 }, (_, i) => [1 + 4 * i, 80 + rate * 4 * i] as const);
    const f = only(found(whole(ruleSet), stage, { readings: { primary: readings, engine: [[0.2, 1100], [60, 1120]] }, marks: { passed: 112 } })); // prettier-ignore
    expect(f.verdict).toBe(verdict);
    expect(f.observed?.value).toBeCloseTo(seconds, 6);
    expect(codes(f)).toContain('engineSpeed');
  });
  it('a rise that was not seen from its beginning, or never ended, is no test', () => {
    const plan = whole('single');
    expect(codes(only(found(plan, 'build-up', { readings: { primary: [[1, 90], [20, 101]] }, marks: { passed: 21 } })))).toEqual(['notCrossed']); // prettier-ignore
    expect(only(found(plan, 'build-up', { readings: { primary: [[1, 80], [20, 90]] } })).verdict).toBe('void'); // prettier-ignore
    expect(only(found(plan, 'build-up', { readings: { primary: [[1, 80]] }, ended: null })).verdict).toBe('undecided'); // prettier-ignore
    const gap: Written = { readings: { primary: [[1, 80], [40, 101]] }, marks: { passed: 41 }, typed: true, gaps: [{ at: 35_000, lostMs: 2000 }] }; // prettier-ignore
    expect(codes(only(found(plan, 'build-up', gap)))).toEqual(['clockGap']);
  });
  it('90 psi from 50 in under three minutes', () => {
    const rises = (s: number): Written => ({ readings: { primary: [[0.2, 30], [1, 50 - 1], [1 + s / 40, 50], [1 + s / 40 + s, 90], [2 + 2 * s, 91]] }, marks: { passed: 3 + 2 * s } }); // prettier-ignore
    expect(only(found(whole('build-from-low'), 'build-low', rises(179.9))).verdict).toBe('pass');
    expect(only(found(whole('build-from-low'), 'build-low', rises(180))).verdict).toBe('fail');
  });

  const strokes = (left: number, right: number): Written => ({
    readings: { primary: [[0.2, 105]], strokeLeft: [[12, left]], strokeRight: [[13, right]] },
  }); // prettier-ignore
  const twoAxles = planOf('brakes.whole', 'build-from-low', { vehicle: { ...vehicle } }, undefined, axlesOf('20', '30'));
  it.each<[number, number, Verdict, Verdict, Verdict]>([
    [1.875, 1.875, 'pass', 'pass', 'pass'],
    [2, 1.875, 'pass', 'pass', 'pass'],
    [2.0625, 1.875, 'fail', 'pass', 'pass'],
    [1.875, 1.625, 'pass', 'pass', 'pass'],
    [1.875, 1.5625, 'pass', 'pass', 'fail'],
    [2.125, 2.125, 'fail', 'fail', 'pass'],
  ])('type 30: %f and %f in (AIR-E8; this school takes its table as the most there may be, as a row of data)', (left, right, l, r, apart) => {
    const findings = found(twoAxles, 'stroke.2', strokes(left, right));
    expect([
      only(findings, 'strokeLeft').verdict,
      only(findings, 'strokeRight').verdict,
      findings.find((f) => codes(f).includes('strokeDifference'))?.verdict,
    ]).toEqual([l, r, apart]);
    // The chamber of the axle decides: what is short enough for a type 30 is too long for a type 20.
    expect(only(found(twoAxles, 'stroke.1', strokes(left, right)), 'strokeLeft').verdict).toBe('fail');
  });
  it('a chamber that was not measured, measured under too little air, or with a rule nobody has, is no test', () => {
    expect(found(twoAxles, 'stroke.2', { readings: { primary: [[0.2, 105]], strokeLeft: [[10, 1.5]] } }).filter((f) => f.verdict === 'void')).toHaveLength(1); // prettier-ignore
    const low = { ...strokes(1.5, 1.5), readings: { ...strokes(1.5, 1.5).readings, primary: [[0.2, 82]] as const } };
    expect(found(twoAxles, 'stroke.2', low).every((f) => f.verdict === 'void')).toBe(true);
    expect(() => planOf('brakes.whole', 'build-from-low', { vehicle }, undefined, axlesOf('20', 'unheard of'))).toThrow('figureMissing');
  });
  it('none of the axles is left out, on any unit: as many as the register has of vehicle and trailer, and each unit with one', () => {
    const told = (lists: Lists, more: Attributes = {}, trailer?: Attributes): string => {
      const made = makePlan(procedureById('brakes.whole') as Procedure, 'd', 'build-from-low', { vehicle: { ...vehicle, ...more }, ...(trailer ? { trailer } : {}) }, undefined, { lists }); // prettier-ignore
      return made.ok ? 'taken' : `${made.refusal.code} ${Object.values(made.refusal.values).join(' ')}`;
    };
    expect(told(axlesOf('20', '30'))).toBe('taken');
    expect(told(axlesOf('20'))).toBe('plan.listShort Axles 2');
    expect(told(axlesOf('20', '30'), {}, { axles: q(2, '1') })).toBe('plan.listShort Axles 4');
    expect(told(axlesOf('20', '30'), {}, {})).toBe('plan.attributeUnknown trailer.axles');
    expect(told(axlesOf('20', '30', '30'), { units: q(2, '1') })).toBe('plan.listUncovered Axles 2 unit');
    expect(told({ axles: [...(axlesOf('20', '30')['axles'] ?? []), { unit: '2', chamber: '30' }] }, { units: q(2, '1') })).toBe('taken');
    expect(told({ axles: [{ unit: '1' }, { unit: '1', chamber: '30' }] })).toContain('plan.attributeUnknown axles-1.chamber');
  });
  it.each<[number, number, Verdict]>([
    [1, 3, 'pass'],
    [1, 3.1, 'fail'],
    [2, 4, 'pass'],
    [3, 6, 'pass'],
    [3, 6.1, 'fail'],
  ])('%d units may lose %f psi in the applied minute', (units, loss, verdict) => {
    const w: Written = { readings: { primary: [[0.4, 120], [9, 120], [21, 100], [22, 100], [70, 100 - loss]], secondary: [[21, 100], [70, 100]] }, marks: { recharge: 0.5, pedal: 10, 'applied-settle': 21, start: 22 } }; // prettier-ignore
    expect(only(found(whole('build-from-low', { units: q(units, '1') }), 'applied', w), 'low.applied').verdict).toBe(verdict);
  });
  // A leak loses less from less: begun at 100 psi, what leaks 3.2 a minute at full air leaks 2.9.
  it.each([
    [114.9, 'void'],
    [115, 'pass'],
  ])('the applied minute begins at the most air there is: %f psi before the pedal', (full, verdict) => {
    const w: Written = { readings: { primary: [[0.4, full], [9, full], [21, 100], [22, 100], [70, 99]], secondary: [[21, 100], [70, 100]] }, marks: { recharge: 0.5, pedal: 10, 'applied-settle': 21, start: 22 } }; // prettier-ignore
    expect(found(whole('build-from-low', { units: q(1, '1') }), 'applied', w)[0]?.verdict).toBe(verdict);
  });
});

describe('relief and vent valves (ASME section XIII; ISO 4126-1; API 527; CARB TP-201.1E)', () => {
  const valve = (set: number, ruleSet = 'asme', unit = '[psi]', more = {}) =>
    planOf('valve.relief', ruleSet, { valve: { set: q(set, unit), orifice: q(0.11, '1'), seat: 'metal', ...more } });
  const ends = (set: number, ruleSet = 'asme', unit = '[psi]'): readonly number[] =>
    valve(set, ruleSet, unit).limits.filter((l) => l.of === 'pressure').map((l) => Number(l.resolved.value.toFixed(4))); // prettier-ignore
  it.each([
    [50, 'asme', '[psi]', [48, 52]],
    [70, 'asme', '[psi]', [68, 72]],
    [71, 'asme', '[psi]', [68.87, 73.13]],
    [100, 'asme', '[psi]', [97, 103]],
    [1000, 'asme', '[psi]', [970, 1030]],
    [2, 'iso', 'bar', [1.9, 2.1]],
    [10, 'iso', 'bar', [9.7, 10.3]],
  ])('set %d, %s: its band (PRV-E1, PRV-E4)', (set, ruleSet, unit, want) => expect(ends(set, ruleSet, unit)).toEqual(want));

  const typed = (...lifts: readonly number[]): Written => ({
    typed: true,
    readings: { pressure: lifts.flatMap((p, i) => [[10 * i + 11, p], [10 * i + 12, p * 0.93]] as const) },
    marks: Object.fromEntries(lifts.flatMap((_, i) => [[`lift-${i + 1}`, 10 * i + 10], [`shut-${i + 1}`, 10 * i + 15]])),
  }); // prettier-ignore
  it.each<[readonly [number, number, number], Verdict]>([
    [[103, 97, 100], 'pass'],
    [[103.1, 100, 97], 'fail'],
    [[100, 100, 96.9], 'fail'],
  ])('three openings at %j of a set of 100 psi: each counts, not their mean (PRV-E2)', (lifts, verdict) => {
    const findings = found(valve(100), 'crack', typed(...lifts));
    expect(findings.some((f) => f.verdict === 'fail') ? 'fail' : 'pass').toBe(verdict);
    expect(findings.every((f) => f.verdict !== 'void')).toBe(true);
  });
  it('a lift left out, or one that cannot be found, is no test', () => {
    expect(found(valve(100), 'crack', typed(100, 100)).map((f) => f.verdict)).toContain('void');
    expect(found(valve(100), 'crack', { ...typed(100, 100, 100), readings: {} }).map((f) => codes(f)[0])).toContain('liftNotFound');
    expect(found(valve(100), 'crack', { ended: null }).map((f) => f.verdict)).toEqual(['undecided', 'undecided', 'undecided']);
    expect(found(valve(100), 'crack', { ...typed(100, 100, 100), instruments: { pressure: { inCalibration: false } } }).map((f) => codes(f)[0])).toEqual([
      'calibrationOut',
    ]);
  });
  it.each<[number, number, number, number, Verdict]>([
    [100, 0.11, 40, 20, 'pass'],
    [100, 0.11, 41, 20, 'fail'],
    [100, 0.5, 21, 20, 'fail'],
    [1500, 0.307, 60, 60, 'pass'],
    [2700, 0.5, 51, 50, 'fail'],
    [5000, 0.5, 100, 100, 'pass'],
  ])('bubbles at a set of %d psi and %f in²: %d (API 527 table 1)', (set, orifice, count, _limit, verdict) => {
    const plan = valve(set, 'bubbles', '[psi]', { orifice: q(orifice, '1') });
    const seat = (plan.figures['seatLow']?.value ?? 0) * 1.001;
    const w: Written = { readings: { pressure: [[0.4, seat], [69, seat]], bubbles: [[71, count]] }, marks: { 'bubble-up': 0.5, 'bubble-wait': 65, counted: 70 }, typed: true }; // prettier-ignore
    expect(only(found(plan, 'bubbles', w)).verdict).toBe(verdict);
  });
  it('a limit of nothing leaves no allowance to speak of', () => {
    const plan = valve(100, 'bubbles', '[psi]', { seat: 'soft' });
    const count = (n: number) => only(found(plan, 'bubbles', { readings: { pressure: [[0.4, 90.5], [69, 90.5]], bubbles: [[71, n]] }, marks: { 'bubble-up': 0.5, 'bubble-wait': 65, counted: 70 }, typed: true, instruments: { bubbles: { fitted: true } } })); // prettier-ignore
    expect([count(0).verdict, count(0).allowancePercent, count(1).verdict]).toEqual(['pass', null, 'fail']);
  });
  it('a soft seat may not bubble at all; the seat is tested at 90 % of set, 5 psi below up to 50', () => {
    expect(valve(100, 'bubbles', '[psi]', { seat: 'soft' }).limits.find((l) => l.of === 'count')?.resolved.value).toBe(0);
    expect(valve(100).figures['seatLow']?.value).toBe(90);
    expect(valve(50).figures['seatLow']?.value).toBe(45);
    expect(valve(30).figures['seatLow']?.value).toBe(25);
  });

  const vent = planOf('valve.vent', 'in-order', { valve: {} });
  it.each<['plus' | 'minus', number, number, Verdict]>([
    ['plus', 2, 23.59, 'pass'],
    ['plus', 2, 23.61, 'fail'],
    ['minus', -4, 99.1, 'pass'],
    ['minus', -4, 99.12, 'fail'],
  ])('%s side at %f inH2O: %f mL/min (VR-E6)', (side, pressure, flow, verdict) => {
    const w: Written = { readings: { pressure: [[0.2, pressure], [9, pressure], [20, pressure]], flow: [[9, flow], [20, flow]] }, marks: { start: 10 } }; // prettier-ignore
    expect(only(found(vent, `leak-${side}`, w)).verdict).toBe(verdict);
  });
  it.each<[string, readonly number[], Verdict]>([
    ['plus', [1, 2.5, 1.8], 'pass'],
    ['plus', [1, 2.4, 1.8], 'fail'],
    ['plus', [1, 6.1, 4], 'fail'],
    ['minus', [-1, -10, -7], 'pass'],
    ['minus', [-1, -10.1, -7], 'fail'],
    ['minus', [-1, -5.9, -4], 'fail'],
  ])('opens on the %s side at the extreme of %j inH2O', (side, values, verdict) => {
    const findings = found(vent, `crack-${side}`, {
      readings: { pressure: values.map((v, i) => [10 + i, v] as const), flow: [[0.4, side === 'plus' ? 120 : 200]] },
      marks: { [`cracks-${side}`]: 12 },
    });
    expect(findings.some((f) => f.verdict === 'fail') ? 'fail' : 'pass').toBe(verdict);
  });
});

describe('surveys', () => {
  const route = ['regulator', 'low-pressure-hose', 'hand-wheel', 'reducer', 'manifold', 'hose-back', 'gauge-line', 'alarm-cover'] as const;
  const soap = (
    ruleSet: string,
    graded: Readonly<Record<string, 'fewAtFirst' | 'stream' | 'grows'>> = {},
    order: readonly string[] = route,
    ended: number | null = 1000,
  ) =>
    found(planOf('ba.soap-survey', ruleSet, { set: { filling: q(300, 'bar') } }), 'soap', {
      spots: order.map((s) => [s, graded[s] ?? 'none'] as const),
      ended,
    });
  it.each<[string, Parameters<typeof soap>[1], readonly Verdict[]]>([
    ['general', {}, ['pass']],
    ['general', { reducer: 'fewAtFirst' }, ['pass']],
    ['strict', { reducer: 'fewAtFirst' }, ['fail']],
    ['general', { reducer: 'stream', manifold: 'grows' }, ['fail', 'fail']],
  ])('%s: %j', (ruleSet, graded, verdicts) => expect(soap(ruleSet, graded).map((f) => f.verdict)).toEqual(verdicts));
  it('out of the route’s order or unfinished is void, and a leak that was seen stays one', () => {
    expect(soap('general', { manifold: 'stream' }, [...route].reverse()).map((f) => f.verdict)).toEqual(['fail', 'void']);
    expect(soap('general', { regulator: 'grows' }, route.slice(0, 3)).map((f) => f.verdict)).toEqual(['fail', 'void']);
    expect(soap('general', {}, route.slice(0, 3), null).map((f) => f.verdict)).toEqual(['undecided']);
  });
});
