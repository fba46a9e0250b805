import { describe, expect, it } from 'vitest';
import { expectedEnd, judgeStage, taskOf, type Finding, type Task } from '../../src/method';
import { procedureById, type Limit, type Plan, type Procedure, type RuleSet } from '../../src/procedure';
import { findLifts } from '../../src';
import { digestOf } from '../testing/digest';
import { fittedFor, instrumentsFor, planOf, recordFor, stageOf, type Written, signalled, axlesOf } from '../testing/attempt';

/**
 * Whole findings of attempts written down by hand, and of each attempt with one thing of it changed: a mark left out, a channel unread, broken off after each reading,
 * still open, its clock stopped, its gauge out of calibration. What a method says then, to the last value of its reasons, stands in the snapshot: a change to any of
 * it is seen by whoever makes it. Of a variation its verdicts and reasons are kept, and a digest of the rest.
 */
interface Attempt {
  readonly name: string;
  readonly plan: Plan;
  readonly stage: string;
  readonly w: Written;
}

const q = (value: number, unit: string) => ({ value, unit });
const source = { title: 'common practice' };

/** What a finding stands on; of a trace, how much. */
const stood = (evidence: readonly string[]): string =>
  evidence.length < 8 ? evidence.join(' ') : `${String(evidence.length)}: ${digestOf(evidence).slice(0, 8)}`;

/** A finding in one line. */
function told(f: Finding): string {
  const { verdict, channel, observed, limit, allowancePercent, confidence, evidence, engine } = f;
  const sure = confidence && `conforms ${confidence.conforms.toPrecision(6)} u ${confidence.u.value.toPrecision(6)} ${confidence.u.unit} r ${String(confidence.correlation)}`; // prettier-ignore
  const seen = observed && `${observed.value.toPrecision(9)} ${observed.unit}`;
  return [engine, channel, limit?.id, verdict, seen, allowancePercent === null ? null : `${String(allowancePercent)} %`, sure, stood(evidence), JSON.stringify(f.reasons)].join(' | '); // prettier-ignore
}

/** What is asked for, and why it may not be said yet, at some moments. */
function asked(task: Task): string {
  const { unmet, ...rest } = task as Task & { unmet?: (when: number) => unknown };
  const why = unmet ? [500, 2000, 15_000, 60_000, 200_000].map((when) => JSON.stringify(unmet(when) ?? null)) : [];
  return [JSON.stringify(rest), ...why].join(' | ');
}

/** What a variation comes to: its verdicts with their reasons' codes, and a digest of all that is said. */
function brief(a: Attempt): string {
  const lines = says(a);
  const { plan, stage: id, w } = a;
  const found = judgeStage(plan, stageOf(plan, id), recordFor(plan, id, w), fittedFor(plan, w));
  return `${found.map((f) => `${f.verdict} ${f.reasons.map((r) => r.code).join('+')}`).join(', ')} #${digestOf(lines).slice(0, 8)}`;
}

function says({ plan, stage: id, w }: Attempt): readonly string[] {
  const stage = stageOf(plan, id);
  const record = recordFor(plan, id, w);
  const instruments = fittedFor(plan, w);
  return [asked(taskOf({ plan, stage, method: stage.method, record, instruments })), ...judgeStage(plan, stage, record, instruments).map(told)];
}

const without = <T>(of: Readonly<Record<string, T>> | undefined, key: string): Readonly<Record<string, T>> =>
  Object.fromEntries(Object.entries(of ?? {}).filter(([k]) => k !== key));

/** The attempt, and each with one thing of it changed. */
function variations(a: Attempt): readonly Attempt[] {
  const { w } = a;
  const changed = (name: string, change: Partial<Written>): Attempt => ({ ...a, name: `${a.name}, ${name}`, w: { ...w, ...change } });
  const stage = stageOf(a.plan, a.stage);
  const longest = Math.max(0, ...Object.values(w.readings ?? {}).map((r) => r.length));
  const cuts = longest > 12 ? [Math.floor(longest / 2)] : Array.from({ length: longest }, (_, i) => i);
  return [
    a,
    changed('typed', { typed: !(w.typed ?? false) }),
    changed('still open', { ended: null }),
    changed('a second attempt', { attempt: 2 }),
    changed('the clock stopped', { typed: true, gaps: [{ at: 15_000, lostMs: 4000 }] as never }),
    ...Object.keys(w.marks ?? {}).map((m) => changed(`without ${m}`, { marks: without(w.marks, m) })),
    ...stage.steps.map((s) => changed(`${s.id} undone`, { undone: [s.id], marks: without(w.marks, s.id) })),
    ...Object.keys(w.readings ?? {}).map((c) => changed(`${c} unread`, { readings: without(w.readings, c) })),
    ...Object.keys(w.readings ?? {}).map((c) => changed(`${c} out of calibration`, { instruments: { ...w.instruments, [c]: { ...w.instruments?.[c], inCalibration: false } } })), // prettier-ignore
    ...Object.keys(w.readings ?? {}).map((c) => changed(`${c} fitted, nothing known of it`, { instruments: { ...w.instruments, [c]: { ...w.instruments?.[c], fitted: true, correlation: 0 } } })), // prettier-ignore
    ...cuts.map((n) => changed(`after ${String(n)} readings`, { readings: Object.fromEntries(Object.entries(w.readings ?? {}).map(([c, r]) => [c, r.slice(0, n)])) })), // prettier-ignore
  ];
}

const fine = (unit: string, accuracy: number, resolution: number) => ({ accuracy: q(accuracy, unit), resolution: q(resolution, unit), correlation: 0.5 });

// --- attempts ---
const silo = planOf('store.half-life', 'new', { store: { volume: q(100, 'm3') } });
const siloMarks = { fill: 0.5, shut: 1, settle: 2, trim: 3, start: 11 };
const vehicle = { units: q(1, '1'), reservoir: q(45, 'L'), axles: q(3, '1'), ...signalled, school: 'general' };
const brakes = planOf('brakes.whole', 'single', { vehicle });
const fromLow = planOf('brakes.whole', 'build-from-low', { vehicle }, undefined, axlesOf('20', '30', '30'));
const circle = planOf('anaes.circle', 'human', { circuit: {} });
const vent = planOf('valve.vent', 'in-order', { valve: {} });
const cylinder = {
  testPressure: q(300, 'bar'),
  workingPressure: q(200, 'bar'),
  waterMass: q(12, 'kg'),
  certificateExpansion: q(45, 'mL'),
  rejectionMarked: true,
  rejectionElastic: q(139, 'mL'),
  mostExpansion: q(160, 'mL'),
  material: 'steel',
};
const jacket = (rules: string): Plan => planOf('cyl.water-jacket', rules, { cylinder });
const direct = planOf('cyl.direct-expansion', 'steel', { cylinder });
const soap = planOf('ba.soap-survey', 'general', { set: { filling: q(300, 'bar') } });

const relief = ((): Plan => {
  const base = procedureById('valve.relief') as Procedure;
  const rules = base.ruleSets[0] as RuleSet;
  const more: readonly Limit[] = [
    { id: 'blow', stage: 'crack', of: 'blowdown', op: '<=', value: q(8, '%'), source },
    { id: 'spread', stage: 'crack', of: 'spread', op: '<=', value: q(1, '[psi]'), source },
  ];
  return planOf({ ...base, ruleSets: [{ ...rules, limits: [...rules.limits, ...more] }] }, 'asme', { valve: { set: q(100, '[psi]') } });
})();
const liftMarks = { 'lift-1': 10, 'shut-1': 15, 'lift-2': 20, 'shut-2': 25, 'lift-3': 30, 'shut-3': 35 };
/** A valve that rises, opens, falls and shuts, `times` times over, at 40 samples a second. */
const trace = (from: number, rate: number, noise: number, times = 1): readonly (readonly [number, number])[] => {
  const up = Math.round(((100 - from) / rate) * 40);
  const one = [...Array.from({ length: up }, (_, i) => from + (i * rate) / 40), ...Array.from({ length: 24 }, (_, i) => 100 - i / 3), ...Array.from({ length: 24 }, (_, i) => 92 + i / 80)]; // prettier-ignore
  const all = [...one, ...Array.from({ length: times - 1 }, () => [...Array.from({ length: 60 }, (_, i) => 92 + i * 0.135), ...Array.from({ length: 24 }, (_, i) => 100 - i / 3), ...Array.from({ length: 24 }, (_, i) => 92 + i / 80)]).flat()]; // prettier-ignore
  return all.map((v, i) => [i / 40, Number((v + noise * Math.sin(i * 2.3)).toFixed(4))] as const);
};
const lifted = (rate: number, noise: number, times = 1): Written => {
  const lifts = [1, 2, 3].map((k) => trace(90, rate, noise, times).map(([t, v]) => [100 * k + t, v] as const));
  return {
    readings: { pressure: lifts.flat() },
    marks: Object.fromEntries([1, 2, 3].flatMap((k) => [[`lift-${String(k)}`, 100 * k], [`shut-${String(k)}`, 100 * k + (lifts[0]?.at(-1)?.[0] ?? 100) - 100]])), // prettier-ignore
    instruments: { pressure: fine('[psi]', 0.3, 0.1) },
  };
};

/** A hold with its own gas facts, for what is told beside the loss. */
const tank = (limits: readonly Omit<Limit, 'id' | 'stage' | 'source'>[], gas: object = {}, decision: RuleSet['decision'] = { kind: 'simple' }): Plan => {
  const base = procedureById('tank.ibc') as Procedure;
  const rules = base.ruleSets[0] as RuleSet;
  return planOf(
    {
      ...base,
      channels: { ...base.channels, temperature: { role: 'tank', unit: 'Cel', title: 'Gas', optional: true }, barometer: { role: 'tank', unit: 'hPa', title: 'Barometer', optional: true } }, // prettier-ignore
      stages: base.stages.map((s) => (s.id === 'hold' && s.method.kind === 'decay' ? { ...s, method: { ...s.method, gas: { volume: 'tank.volume', temperature: 'temperature', barometer: 'barometer', ...gas } } } : s)), // prettier-ignore
      ruleSets: [{ ...rules, decision, limits: limits.map((l, i) => ({ id: `l${String(i)}`, stage: 'hold', source, ...l })) }],
    },
    'un',
    { tank: { volume: q(1000, 'L'), flammable: false } },
  );
};
const heldMarks = { 'relief-out': 0.1, pressurise: 0.5, 'supply-off': 1, settle: 200, start: 300 };
const held = (to: number, more: Partial<Written> = {}): Written => ({
  readings: { tank: [[0.4, 21], [299, 21], [300, 21], [900, to]], ...more.readings }, // prettier-ignore
  marks: heldMarks,
  instruments: { tank: fine('kPa', 0.05, 0.01), ...more.instruments },
});
const ends = (a: number, b: number) => [[299, a], [300, a], [900, b]] as const; // prettier-ignore
const drifts = { temperature: ends(20, 19.8), barometer: ends(1013, 1012.5) };
const thermometer = { temperature: fine('Cel', 0.1, 0.1), barometer: fine('hPa', 0.3, 0.1) };
const loss = { of: 'loss', op: '<=', value: q(0.4, 'kPa') } as const;

const attempts: readonly Attempt[] = [
  { name: 'half-life reached', plan: silo, stage: 'half', w: { typed: true, readings: { store: [[0.4, 260], [10, 250], [11, 250], [200, 180], [340, 130], [342, 124], [350, 120]] }, marks: siloMarks, instruments: { store: fine('Pa', 2, 1) } } }, // prettier-ignore
  { name: 'half-life not reached', plan: silo, stage: 'half', w: { typed: true, readings: { store: [[0.4, 260], [11, 250], [100, 240], [200, 230], [300, 215], [312, 210]] }, marks: siloMarks, instruments: { store: fine('Pa', 2, 1) } } }, // prettier-ignore
  { name: 'half-life risen', plan: silo, stage: 'half', w: { typed: true, readings: { store: [[0.4, 260], [11, 250], [312, 270]] }, marks: siloMarks, instruments: { store: fine('Pa', 2, 1) } } }, // prettier-ignore
  { name: 'half-life hopeless', plan: silo, stage: 'half', w: { readings: { store: [[0.4, 260], ...Array.from({ length: 12 }, (_, i) => [10 + i, 250 * Math.exp(-i / 60)] as const)] }, marks: siloMarks, instruments: { store: fine('Pa', 2, 1) } } }, // prettier-ignore
  { name: 'elapsed', plan: brakes, stage: 'build-up', w: { readings: { primary: [[1, 80], [4, 83], [7, 86], [19, 98], [22, 101], [25, 104]], engine: [[0.2, 1100], [5, 1100], [9, 1120], [20, 1140]] }, marks: { passed: 26 }, instruments: { primary: fine('[psi]', 1, 0.5) } } }, // prettier-ignore
  { name: 'elapsed too long', plan: brakes, stage: 'build-up', w: { readings: { primary: [[1, 80], [5, 84], [9, 88], [60, 99], [64, 101]] }, marks: { passed: 66 }, instruments: { primary: fine('[psi]', 1, 0.5) } } }, // prettier-ignore
  { name: 'an event', plan: brakes, stage: 'warning', w: { typed: true, readings: { primary: [[6, 64], [10, 60], [11, 58]], secondary: [[10, 61]] }, marks: { warns: 10 }, instruments: { primary: fine('[psi]', 1, 0.5) } } }, // prettier-ignore
  { name: 'an event too late', plan: brakes, stage: 'warning', w: { readings: { primary: [[1, 100], [9, 52], [10, 50], [11, 48]], secondary: [[1, 100], [10, 51]] }, marks: { warns: 10 } } }, // prettier-ignore
  { name: 'the highest before it drops', plan: vent, stage: 'crack-plus', w: { readings: { pressure: [[10, 3], [11, 3.4], [12, 2], [13, 1]], flow: [[0.4, 120]] }, marks: { 'cracks-plus': 12.5 }, instruments: { pressure: fine("[in_i'H2O]", 0.1, 0.05) } } }, // prettier-ignore
  { name: 'the lowest before it rises', plan: vent, stage: 'crack-minus', w: { readings: { pressure: [[10, -3], [11, -7], [12, -5]], flow: [[0.4, 200]] }, marks: { 'cracks-minus': 12 } } }, // prettier-ignore
  { name: 'a flow that holds it', plan: circle, stage: 'make-up', w: { readings: { pressure: [[0.4, 30], [9.9, 30.5], [12, 30.4], [16, 30.2], [20, 30]], flow: [[9, 90], [13, 95], [17, 100], [20, 96]] }, marks: { 'fill-again': 0.5, still: 1, start: 10 }, instruments: { pressure: fine('cm[H2O]', 0.5, 0.1), flow: fine('mL/min', 5, 1) } } }, // prettier-ignore
  { name: 'a flow that is too much', plan: circle, stage: 'make-up', w: { typed: true, readings: { pressure: [[0.4, 30], [9.9, 30], [20, 31]], flow: [[9, 170], [20, 180]] }, marks: { 'fill-again': 0.5, still: 1, start: 10 } } }, // prettier-ignore
  { name: 'a flow that left its band', plan: circle, stage: 'make-up', w: { typed: true, readings: { pressure: [[0.4, 30], [9.9, 30], [15, 27], [20, 30]], flow: [[9, 100], [20, 100]] }, marks: { 'fill-again': 0.5, still: 1, start: 10 } } }, // prettier-ignore
  ...(['us-metal', 'composite', 'maker'] as const).map((rules): Attempt => ({ name: `expansion, ${rules}`, plan: jacket(rules), stage: 'expand', w: { typed: true, readings: { pressure: [[0.9, 0], [5, 200], [10, 305], [40, 305], [73, 305], [100, 0]], water: [[0.9, 0], [5, 90], [10, 150], [40, 150], [73, 150], [100, 9.5]] }, marks: { zeroed: 1, 'working-read': 6, start: 11, 'total-read': 74, 'permanent-read': 101 }, instruments: { water: fine('mL', 0.5, 0.1) } } })), // prettier-ignore
  { name: 'expansion that sank, not zeroed', plan: jacket('us-metal'), stage: 'expand', w: { typed: true, readings: { pressure: [[0.9, 4], [10, 305], [40, 290], [73, 305], [100, 5]], water: [[0.9, 0.5], [10, 150], [73, 150], [100, 9.5]] }, marks: { zeroed: 1, start: 11, 'total-read': 74, 'permanent-read': 101 }, instruments: { water: fine('mL', 0.5, 0.1) } } }, // prettier-ignore
  { name: 'expansion that shrank', plan: jacket('us-metal'), stage: 'expand', w: { typed: true, readings: { pressure: [[0.9, 0], [10, 305], [40, 305], [73, 305], [100, 0]], water: [[0.9, 0], [10, 150], [73, 150], [100, -6]] }, marks: { zeroed: 1, start: 11, 'total-read': 74, 'permanent-read': 101 }, instruments: { water: fine('mL', 0.5, 0.1) } } }, // prettier-ignore
  { name: 'the calibrated cylinder', plan: jacket('us-metal'), stage: 'calibrate', w: { typed: true, readings: { pressure: [[0.9, 0], [10, 305], [40, 305], [73, 305], [100, 0]], water: [[0.9, 0], [10, 45.2], [40, 45.2], [73, 45.2], [100, 0.05]] }, marks: { zeroed: 1, start: 11, 'total-read': 74, 'permanent-read': 101 }, instruments: { water: fine('mL', 0.1, 0.05) } } }, // prettier-ignore
  ...([18, 6, 26, 5, 27] as const).map((celsius): Attempt => ({ name: `direct expansion at ${String(celsius)} °C`, plan: direct, stage: 'expand', w: { typed: true, readings: { pressure: [[0.9, 0], [10, 305], [40, 305], [73, 305], [100, 0]], water: [[0.9, 0], [10, 300], [40, 300], [73, 300], [100, 2.5]], temperature: [[10, celsius], [73, celsius], [100, celsius]] }, marks: { zeroed: 1, start: 11, 'total-read': 74, 'permanent-read': 101 }, instruments: { water: fine('mL', 0.5, 0.1) } } })), // prettier-ignore
  { name: 'less than the water gives', plan: direct, stage: 'expand', w: { typed: true, readings: { pressure: [[0.9, 0], [10, 305], [73, 305], [100, 0]], water: [[0.9, 0], [10, 20], [73, 20], [100, 0]], temperature: [[73, 18]] }, marks: { zeroed: 1, start: 11, 'total-read': 74, 'permanent-read': 101 } } }, // prettier-ignore
  { name: 'lifts, typed', plan: relief, stage: 'crack', w: { typed: true, readings: { pressure: [[11, 100], [12, 93], [13, 91], [21, 101.5], [22, 92], [31, 100.4], [32, 94]] }, marks: liftMarks, instruments: { pressure: fine('[psi]', 0.5, 0.1) } } }, // prettier-ignore
  { name: 'lifts, one not seen to shut', plan: relief, stage: 'crack', w: { typed: true, readings: { pressure: [[11, 100], [12, 93], [21, 101.5], [31, 100.4], [32, 94]] }, marks: liftMarks } }, // prettier-ignore
  { name: 'lifts, one not read', plan: relief, stage: 'crack', w: { typed: true, readings: { pressure: [[11, 100], [12, 93], [31, 100.4], [32, 94]] }, marks: liftMarks } }, // prettier-ignore
  { name: 'lifts, traced', plan: relief, stage: 'crack', w: lifted(2, 0.01) },
  { name: 'lifts, traced in haste and noise', plan: relief, stage: 'crack', w: lifted(4, 0.6) },
  { name: 'lifts, chattering', plan: relief, stage: 'crack', w: lifted(2, 0.01, 3) },
  { name: 'strokes of a small chamber', plan: fromLow, stage: 'stroke.1', w: { typed: true, readings: { primary: [[0.2, 105]], strokeLeft: [[10, 1.5]], strokeRight: [[11, 1.625]] }, instruments: { strokeLeft: fine('[in_i]', 0.03, 0.0625) } } }, // prettier-ignore
  { name: 'strokes of a large one', plan: fromLow, stage: 'stroke.2', w: { typed: true, readings: { primary: [[0.2, 105]], strokeLeft: [[12, 1.75]], strokeRight: [[13, 2]] } } }, // prettier-ignore
  { name: 'a soap search', plan: soap, stage: 'soap', w: { spots: (stageOf(soap, 'soap').method as unknown as { route: readonly { id: string }[] }).route.map((s) => [s.id, 'none'] as const) } }, // prettier-ignore
  { name: 'a soap search with a stream', plan: soap, stage: 'soap', w: { spots: (stageOf(soap, 'soap').method as unknown as { route: readonly { id: string }[] }).route.map((s, i) => [s.id, i === 2 ? ('stream' as const) : ('none' as const)] as const) } }, // prettier-ignore
  { name: 'a soap search, unfinished', plan: soap, stage: 'soap', w: { spots: (stageOf(soap, 'soap').method as unknown as { route: readonly { id: string }[] }).route.slice(0, 3).map((s) => [s.id, 'fewAtFirst'] as const) } }, // prettier-ignore
  { name: 'a hold', plan: tank([loss]), stage: 'hold', w: held(20.8) },
  { name: 'a hold with its drift measured', plan: tank([loss, { ...loss, corrected: true }]), stage: 'hold', w: held(20.8, { readings: drifts, instruments: thermometer }) }, // prettier-ignore
  { name: 'a hold, its temperature alone', plan: tank([loss, { ...loss, corrected: true }]), stage: 'hold', w: held(20.8, { readings: { temperature: drifts.temperature }, instruments: thermometer }) }, // prettier-ignore
  { name: 'a hold, its barometer alone', plan: tank([loss, { ...loss, corrected: true }]), stage: 'hold', w: held(20.8, { readings: { barometer: drifts.barometer }, instruments: thermometer }) }, // prettier-ignore
  { name: 'a hold, all of it drift', plan: tank([loss]), stage: 'hold', w: held(20.9, { readings: { temperature: ends(20, 22) }, instruments: thermometer }) }, // prettier-ignore
  { name: 'a hold of soft walls that is breathed from', plan: tank([loss], { flexible: true, breathed: true }), stage: 'hold', w: held(20.3) },
  { name: 'a hold judged in every way', plan: tank([{ of: 'end', op: '>=', value: q(20.6, 'kPa') }, { of: 'end', op: '>=', value: q(20.6, 'kPa'), round: { unit: 'kPa', decimals: 1 } }, { ...loss, round: { unit: 'kPa', decimals: 1 } }, { of: 'ratio', op: '>=', value: q(98, '%') }, { of: 'lossPerMinute', op: '<=', value: q(0.03, 'kPa') }, { of: 'change', op: '<=', value: q(0.3, 'kPa') }, { of: 'graduations', op: '<=', value: q(25, '1') }]), stage: 'hold', w: held(20.76) }, // prettier-ignore
  { name: 'a hold that cannot tell', plan: tank([loss]), stage: 'hold', w: held(20.9, { instruments: { tank: { ...fine('kPa', 0.5, 0.1), high: q(400, 'kPa') } } }) }, // prettier-ignore
  { name: 'a hold within its guard', plan: tank([loss], {}, { kind: 'guarded', confidence: 0.95 }), stage: 'hold', w: held(20.63, { instruments: { tank: fine('kPa', 0.1, 0.05) } }) }, // prettier-ignore
  { name: 'a hold gone to nothing', plan: tank([loss]), stage: 'hold', w: held(0) },
  { name: 'a hold that rose', plan: tank([loss]), stage: 'hold', w: held(21.4) },
  { name: 'a hold still settling', plan: tank([loss]), stage: 'hold', w: { readings: { tank: [[0.4, 21], [299, 21.15], ...Array.from({ length: 601 }, (_, i) => [300 + i, 20.9 * Math.exp(-1e-5 * i) + 0.25 * Math.exp(-i / 60) + 0.0005 * Math.sin(i * 7)] as const)] }, marks: heldMarks } }, // prettier-ignore
];

describe('whole findings', () => {
  it.each(attempts.map((a) => [a.name, a] as const))('%s', (_, a) => {
    expect([
      says(a),
      ...variations(a)
        .slice(1)
        .map((v) => `${v.name.slice(a.name.length + 2)}: ${brief(v)}`),
    ]).toMatchSnapshot();
  });
  it('the trace chatters as often as it was made to', () => {
    const made = trace(90, 2, 0.01, 3).map(([, v]) => v);
    expect(findLifts(Float64Array.from(made), 40).lifts).toHaveLength(3);
  });
});

describe('what is foretold of a hold', () => {
  const plan = tank([loss, { of: 'end', op: '>=', value: q(20.7, 'kPa') }, { of: 'lossPerMinute', op: '<=', value: q(0.03, 'kPa') }, { of: 'change', op: '<=', value: q(0.01, 'kPa') }, { ...loss, value: q(0.001, 'kPa'), corrected: true }]); // prettier-ignore
  const stage = stageOf(plan, 'hold');
  const foretold = (readings: readonly (readonly [number, number])[], of: Plan = plan) => {
    const instrument = instrumentsFor(of)['tank'];
    if (stage.method.kind !== 'decay' || !instrument) throw new Error('no decay');
    const f = expectedEnd(of, stage, stage.method, recordFor(of, 'hold', { readings: { tank: [[0.4, 21], [299, 21], ...readings] }, marks: heldMarks }), 'tank', instrument); // prettier-ignore
    return f && { unit: f.unit, least: f.least, chance: Number(f.chance.toPrecision(6)), value: Number(f.prediction.value.toPrecision(8)) };
  };
  const falling = (n: number, every: number, from = 21) =>
    Array.from({ length: n }, (_, i) => [300 + every * i, Number((from * Math.exp(-1e-5 * every * i)).toFixed(4))] as const);
  it('holds it against the tightest of the limits that the end itself decides', () => {
    const f = foretold(falling(20, 20));
    // 21 − 0.03 × 10 and the end of 20.7 are the same; the change, and what is corrected, are not foretold.
    expect(f?.least).toBeCloseTo(20.7, 9);
    expect(f).toMatchSnapshot();
  });
  it('begins with eight readings over a quarter of the hold', () => {
    expect(foretold(falling(8, 22))).not.toBeNull();
    expect(foretold(falling(7, 25))).toBeNull();
    expect(foretold(falling(16, 10))).not.toBeNull();
    expect(foretold(falling(15, 10))).toBeNull();
  });
  it('says nothing of what has no pressure left, or of a limit that it cannot know', () => {
    expect(foretold([...falling(19, 20), [680, 0]])).toBeNull();
    expect(foretold([...falling(19, 20), [680, -0.1]])).toBeNull();
    expect(foretold(falling(20, 20), tank([{ ...loss, corrected: true }]))).toBeNull();
  });
});
