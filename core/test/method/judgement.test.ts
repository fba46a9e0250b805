import { describe, expect, it } from 'vitest';
import { expectedEnd } from '../../src/method';
import { procedureById, type Limit, type Procedure, type RuleSet } from '../../src/procedure';
import { codes, found, instrumentsFor, only, planOf, recordFor, stageOf, type Written, signalled } from '../testing/attempt';

const q = (value: number, unit: string) => ({ value, unit });
const assets = { tank: { volume: q(1000, 'L'), flammable: false } };

/** The transport tank's hold with a loss limit, temperature and barometer read beside it, and whatever else a case needs. */
function tank(change: Partial<RuleSet> = {}, limit: Partial<Limit> = {}): Procedure {
  const base = procedureById('tank.ibc') as Procedure;
  const rules = base.ruleSets[0] as RuleSet;
  return {
    ...base,
    channels: {
      ...base.channels,
      temperature: { role: 'tank', unit: 'Cel', title: 'Gas', optional: true },
      barometer: { role: 'tank', unit: 'hPa', title: 'Barometer', optional: true },
    },
    stages: base.stages.map((s) =>
      s.id === 'hold' && s.method.kind === 'decay'
        ? { ...s, method: { ...s.method, gas: { volume: 'tank.volume', temperature: 'temperature', barometer: 'barometer' } } }
        : s,
    ),
    ruleSets: [{ ...rules, ...change, limits: [{ id: 'loss', stage: 'hold', of: 'loss', op: '<=', value: q(0.4, 'kPa'), source: { title: 'x' }, ...limit }] }],
  };
}
const plan = (change: Partial<RuleSet> = {}, limit: Partial<Limit> = {}) => planOf(tank(change, limit), 'un', assets);
const held = (to: number, more: Written['readings'] = {}, rest: Partial<Written> = {}): Written => ({
  readings: { tank: [[0.4, 21], [299, 21], [300, 21], [900, to]], ...more },
  marks: { 'relief-out': 0.1, pressurise: 0.5, 'supply-off': 1, settle: 200, start: 300 },
  ...rest,
}); // prettier-ignore
const ends = (a: number, b: number) => [[299, a], [300, a], [900, b]] as const; // prettier-ignore

describe('gas that warms, cools, or stands under a falling barometer', () => {
  it('says the drift that alone would do it where nothing was measured, and the loss as a flow and a hole', () => {
    const f = only(found(plan(), 'hold', held(20.8)));
    expect(f.verdict).toBe('pass');
    expect(codes(f)).toEqual(expect.arrayContaining(['loss', 'driftEqual', 'asFlow', 'asHole']));
  });
  it('takes measured drift off beside the verdict, which keeps to the readings', () => {
    const f = only(found(plan(), 'hold', held(20.8, { temperature: ends(20, 19.9) })));
    const corrected = f.reasons.find((r) => r.code === 'correctedLoss')?.values['loss'];
    // 122.3 kPa absolute moves 0.0417 kPa for each tenth of a kelvin.
    expect(typeof corrected === 'object' ? corrected.value : 0).toBeCloseTo(0.2 - 0.0417, 3);
    expect(f.observed?.value).toBeCloseTo(0.2, 9);
  });
  it('judges the corrected loss where the rule set corrects, with the thermometer’s uncertainty in it', () => {
    const cooled = held(20.5, { temperature: ends(20, 19.7) });
    expect(only(found(plan(), 'hold', cooled)).verdict).toBe('fail');
    const f = only(found(plan({}, { corrected: true }), 'hold', { ...cooled, instruments: { temperature: { accuracy: q(0.05, 'Cel') } } }));
    expect(f.verdict).toBe('pass');
    expect(f.observed?.value).toBeCloseTo(0.5 - 0.1252, 3);
    expect(f.confidence?.u.value).toBeGreaterThan(0.015);
    expect(only(found(plan({}, { corrected: true }), 'hold', held(20.5))).verdict).toBe('void');
  });
  it('cannot tell when the drift alone is more than the whole permitted loss', () => {
    const f = only(found(plan(), 'hold', held(20.8, { temperature: ends(20, 21.5) })));
    expect([f.verdict, codes(f).includes('driftOnly')]).toEqual(['undecided', true]);
    const b = only(found(plan(), 'hold', held(20.8, { barometer: ends(1013, 1018) })));
    expect([b.verdict, codes(b).includes('driftOnly')]).toEqual(['undecided', true]);
  });
  it('takes a falling barometer off too', () => {
    const f = only(found(plan({}, { corrected: true }), 'hold', held(20.8, { barometer: ends(1013, 1012) })));
    expect(f.observed?.value).toBeCloseTo(0.3, 6);
  });
  it('a rise beyond the gauge is never tight', () => {
    const f = only(found(plan(), 'hold', held(21.2)));
    expect([f.verdict, f.allowancePercent, codes(f).includes('rose')]).toEqual(['undecided', 0, true]);
  });
  it('says that it was still settling, and how much longer to wait', () => {
    const curve = Array.from({ length: 601 }, (_, i) => [300 + i, 20.9 * Math.exp(-1e-5 * i) + 0.25 * Math.exp(-i / 60) + 0.0005 * Math.sin(i * 7)] as const);
    const f = only(found(plan(), 'hold', { ...held(20), readings: { tank: [[0.4, 21], [299, 21.15], ...curve] } })); // prettier-ignore
    expect(codes(f)).toContain('stillSettling');
    const even = Array.from({ length: 601 }, (_, i) => [300 + i, 20.9 * Math.exp(-1e-5 * i)] as const);
    expect(codes(only(found(plan(), 'hold', { ...held(20), readings: { tank: [[0.4, 21], [299, 20.9], ...even] } })))).not.toContain('stillSettling'); // prettier-ignore
  });
});

describe('a measurement that cannot tell', () => {
  const coarse = { tank: { accuracy: q(0.4, 'kPa'), correlation: 0 } };
  it('says so, and what would: a longer hold or a finer gauge, with the figures', () => {
    const f = only(found(plan(), 'hold', held(21, {}, { instruments: coarse })));
    expect([f.verdict, codes(f).includes('tooCoarse'), codes(f).includes('noCorrelation')]).toEqual(['undecided', true, true]);
    const would = f.reasons.find((r) => r.code === 'longerHold')?.values;
    // t₂ = 10 min · 1.645 · 0.3266 ÷ 0.4; a₂ = √1.5 · 0.4 ÷ 1.645 for independent errors.
    expect(would?.['hold']).toEqual({ value: 13.43, unit: 'min' });
    expect(would?.['accuracy']).toMatchObject({ value: 0.298 });
  });
  it('never turns the standard’s fail into anything else', () =>
    expect(only(found(plan(), 'hold', held(20.59, {}, { instruments: coarse }))).verdict).toBe('fail'));
  it.each([
    [20.9, 'pass'],
    [20.65, 'undecided'],
    [20.3, 'fail'],
  ])('guarded: ends at %f: %s', (to, verdict) => {
    const f = only(
      found(plan({ decision: { kind: 'guarded', confidence: 0.95 } }), 'hold', held(to, {}, { instruments: { tank: { accuracy: q(0.2, 'kPa') } } })),
    );
    expect(f.verdict).toBe(verdict);
    expect(codes(f).includes('insideGuard')).toBe(verdict === 'undecided');
    expect(codes(f).includes('longerHold')).toBe(verdict === 'undecided');
  });
  it('advises on the choice of a gauge, and changes nothing by it', () => {
    const f = only(found(plan(), 'hold', held(20.8, {}, { instruments: { tank: { high: q(400, 'kPa'), resolution: q(0.05, 'kPa') } } })));
    expect(codes(f)).toEqual(expect.arrayContaining(['startOffScale', 'coarseStep']));
    expect(f.verdict).toBe('pass');
  });
  it('a gauge step that alone is too coarse has no gauge to name', () => {
    const f = only(found(plan(), 'hold', held(21, {}, { instruments: { tank: { accuracy: q(0.1, 'kPa'), resolution: q(2, 'kPa'), correlation: 0 } } })));
    expect(f.reasons.find((r) => r.code === 'longerHold')?.values['accuracy']).toBe('no gauge of this step');
  });
});

describe('the prediction during the hold', () => {
  const p = plan();
  const stage = stageOf(p, 'hold');
  if (stage.method.kind !== 'decay') throw new Error('no decay');
  const method = stage.method;
  const during = (lambda: number, until: number): Written => ({
    ...held(20),
    readings: { tank: [[0.4, 21], [299, 21], ...Array.from({ length: until / 10 + 1 }, (_, i) => [300 + 10 * i, Number((21 * Math.exp(-lambda * 10 * i)).toFixed(3))] as const)] },
  }); // prettier-ignore
  const foretold = (w: Written) => {
    const instrument = instrumentsFor(p)['tank'];
    if (!instrument) throw new Error('no gauge');
    return expectedEnd(p, stage, method, recordFor(p, 'hold', w), 'tank', instrument);
  };
  it('foretells the end and the chance to pass', () => {
    const good = foretold(during(1e-5, 300));
    expect(good?.prediction.value).toBeCloseTo(21 * Math.exp(-6e-3), 2);
    expect(good?.least).toBeCloseTo(20.6, 6);
    expect(good?.chance).toBeGreaterThan(0.99);
    expect(foretold(during(2e-4, 300))?.chance).toBeLessThan(0.001);
  });
  it('says nothing from too little', () => {
    expect(foretold(during(1e-5, 60))).toBeNull();
    expect(foretold({ ...held(20), marks: {} })).toBeNull();
    expect(foretold({ ...held(20), readings: { tank: [[300, 21]] } })).toBeNull(); // prettier-ignore
  });
  it('may end a hopeless hold, never a passing one', () => {
    const hopeless = only(found(p, 'hold', { ...during(4e-5, 330), ended: 640 }));
    expect([hopeless.verdict, codes(hopeless).includes('endedHopeless')]).toEqual(['fail', true]);
    const passing = only(found(p, 'hold', { ...during(1e-6, 330), ended: 640 }));
    expect([passing.verdict, codes(passing).includes('holdShort')]).toEqual(['void', true]);
    expect(only(found(p, 'hold', { ...during(4e-5, 200), ended: 510 })).verdict).toBe('void');
  });
});

describe('relief: what stands beside the opening', () => {
  const base = procedureById('valve.relief') as Procedure;
  const rules = base.ruleSets[0] as RuleSet;
  const more: readonly Limit[] = [
    { id: 'blow', stage: 'crack', of: 'blowdown', op: '<=', value: q(10, '%'), source: { title: 'x' } },
    { id: 'spread', stage: 'crack', of: 'spread', op: '<=', value: q(1, '[psi]'), source: { title: 'x' } },
  ];
  const valve = planOf({ ...base, ruleSets: [{ ...rules, limits: [...rules.limits, ...more] }] }, 'asme', { valve: { set: q(100, '[psi]') } });
  const lifts = (cracks: readonly number[], shuts: readonly (number | null)[]): Written => ({
    typed: true,
    readings: { pressure: cracks.flatMap((c, i) => [[10 * i + 11, c] as const, ...(shuts[i] === null ? [] : [[10 * i + 12, shuts[i] ?? 0] as const])]) },
    marks: Object.fromEntries(cracks.flatMap((_, i) => [[`lift-${i + 1}`, 10 * i + 10], [`shut-${i + 1}`, 10 * i + 15]])), // prettier-ignore
  });
  it('blowdown and the spread of the repeats are judged where they have limits', () => {
    const findings = found(valve, 'crack', lifts([100, 100.4, 101.2], [93, 89, 95]));
    expect(findings.filter((f) => f.limit?.id === 'blow').map((f) => f.verdict)).toEqual(['pass', 'fail', 'pass']);
    const spread = only(findings, 'spread');
    expect([spread.verdict, spread.observed?.value]).toEqual(['fail', 1.2]);
  });
  it('a valve that was not seen to shut has no blowdown', () => {
    const findings = found(valve, 'crack', lifts([100, 100.4, 100.2], [93, null, 95]));
    expect(findings.flatMap((f) => codes(f))).toContain('reseatMissing');
  });
  it('warns of noise, haste and chatter in a trace', () => {
    const ramp = (i: number): number => 60 + i * 0.05;
    const trace = (lift: number) => Array.from({ length: 1600 }, (_, i) => [100 * lift + i * 0.005, (i < 800 ? ramp(i) : i < 1000 ? 100 - (i - 800) * 0.04 : 92 + (i % 2) * 0.6) + ((i * 7919) % 13) * 0.12] as const); // prettier-ignore
    const findings = found(valve, 'crack', {
      readings: { pressure: [1, 2, 3].flatMap(trace) },
      marks: Object.fromEntries([1, 2, 3].flatMap((k) => [[`lift-${k}`, 100 * k], [`shut-${k}`, 100 * k + 9]])), // prettier-ignore
    });
    expect(findings.flatMap((f) => codes(f))).toEqual(expect.arrayContaining(['noisyTrace', 'fastRamp']));
  });
});

describe('what something that moves adds', () => {
  const vehicle = { units: q(1, '1'), reservoir: q(45, 'L'), axles: q(1, '1'), ...signalled, school: 'general' };
  const brakes = planOf('brakes.whole', 'single', { vehicle });
  const falling = (rate: number): Written => ({ readings: { primary: [[8, 62 + 2 * rate], [9, 62 + rate], [10, 62], [11, 62 - rate]], secondary: [[10, 62]] }, marks: { warns: 10 } }); // prettier-ignore
  it('a hand on a button is a fifth of a second late: as much as the needle falls in it', () => {
    const u = (rate: number): number => only(found(brakes, 'warning', falling(rate)), 'single.warning.low').confidence?.u.value ?? 0;
    expect(u(2)).toBeCloseTo(0.4, 3);
    expect(u(0)).toBeLessThan(0.001);
  });
  it('takes the extreme up to the mark, and of what is typed after it too', () => {
    const vent = planOf('valve.vent', 'in-order', { valve: {} });
    const w: Written = { readings: { pressure: [[0.2, 9], [10, 3], [11, 3.4], [12, 2], [13, 5]], flow: [[0.4, 120]] }, marks: { 'cracks-plus': 12 } }; // prettier-ignore
    expect(only(found(vent, 'crack-plus', w), 'in-order.crack-plus.high').observed?.value).toBe(3.4);
    expect(only(found(vent, 'crack-plus', { ...w, typed: true }), 'in-order.crack-plus.high').observed?.value).toBe(5);
    const low: Written = { readings: { pressure: [[10, -3], [11, -7], [12, -5]], flow: [[0.4, 200]] }, marks: { 'cracks-minus': 12 } }; // prettier-ignore
    expect(only(found(vent, 'crack-minus', low), 'in-order.crack-minus.high').observed?.value).toBe(-7);
  });
  it('flags a close call, and a clear one not', () => {
    const close = (to: number): boolean =>
      codes(only(found(plan(), 'hold', held(to, {}, { instruments: { tank: { accuracy: q(0.1, 'kPa') } } })))).includes('closeCall');
    expect([close(20.62), close(20.95)]).toEqual([true, false]);
  });
});

describe('looks', () => {
  const visual = planOf('cyl.visual', 'us-metal', { cylinder: { material: 'steel' } });
  const all = { dents: 'yes', heat: 'yes', corrosion: 'yes', fibre: 'notApplicable' } as const;
  it('that condemn say so; one that must apply cannot be waived', () => {
    expect(only(found(visual, 'outside', { answers: all })).verdict).toBe('pass');
    const dent = only(found(visual, 'outside', { answers: { ...all, dents: 'no' } }));
    expect([dent.verdict, codes(dent)]).toEqual(['fail', ['answeredNo', 'condemned']]);
    expect(only(found(visual, 'outside', { answers: { ...all, heat: 'notApplicable' } })).verdict).toBe('void');
    expect(only(found(visual, 'outside', { answers: {} })).verdict).toBe('void');
    expect(only(found(visual, 'outside', { answers: {}, ended: null })).verdict).toBe('undecided');
  });
});
