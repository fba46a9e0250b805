import { describe, expect, it } from 'vitest';
import { crossingsSoFar, expansionSoFar, type Attempted } from '../../src/method';
import { checkProcedure, procedureById, type ExpansionMethod, type Procedure } from '../../src/procedure';
import { gradeInWords } from '../../src/run';
import { planOf, recordFor, stageOf, type Written, signalled } from '../testing/attempt';

const q = (value: number, unit: string) => ({ value, unit });
const gauge = { fitted: false, low: q(-10, 'bar'), high: q(600, 'bar'), resolution: q(0.1, 'bar'), accuracy: q(1, 'bar'), correlation: 0.9, inCalibration: true }; // prettier-ignore

describe('what an expansion has come to so far', () => {
  const plan = planOf('cyl.water-jacket', 'us-metal', {
    cylinder: { testPressure: q(300, 'bar'), certificateExpansion: q(45, 'mL'), rejectionMarked: false, material: 'steel' },
  });
  const soFar = (w: Written) => {
    const stage = stageOf(plan, 'expand');
    const at = { plan, stage, method: stage.method, record: recordFor(plan, 'expand', { ...w, ended: null }), instruments: { pressure: gauge } } as Attempted<ExpansionMethod>; // prettier-ignore
    return expansionSoFar(at);
  };
  const readings = { pressure: [[0.9, 0], [72, 305], [100, 0]], water: [[0.9, 0], [72, 150], [100, 9.5]] } as const; // prettier-ignore
  it('is nothing before the total is read', () => expect(soFar({ readings, marks: { zeroed: 1, start: 11 } })).toBeNull());
  it('has a total alone while the pressure is still up', () =>
    expect(soFar({ readings, marks: { zeroed: 1, start: 11, 'total-read': 73 } })).toEqual({
      total: q(150, 'mL'),
      permanent: null,
      elastic: null,
      percent: null,
    }));
  it('has every part once the pressure is down', () => {
    const all = soFar({ readings, marks: { zeroed: 1, start: 11, 'total-read': 73, 'permanent-read': 101 } });
    expect(all?.permanent).toEqual(q(9.5, 'mL'));
    expect(all?.elastic).toEqual(q(140.5, 'mL'));
    expect(all?.percent?.value).toBeCloseTo(6.3333333, 6);
  });
  it('an expansion of nothing has no parts', () => {
    const nothing = { ...readings, water: [[0.9, 0], [72, 0], [100, 0]] } as const; // prettier-ignore
    expect(soFar({ readings: nothing, marks: { zeroed: 1, start: 11, 'total-read': 73 } })).toBeNull();
  });
});

describe('the watch of a build-up', () => {
  const plan = planOf('brakes.whole', 'single', { vehicle: { useAs: 'single', school: 'general', units: q(1, '1'), axles: q(1, '1'), ...signalled } });
  const stage = plan.stages.find((s) => s.method.kind === 'elapsed');
  if (stage?.method.kind !== 'elapsed') throw new Error('no build-up');
  const { method } = stage;
  const seen = (readings: readonly (readonly [number, number])[]) => {
    const record = recordFor(plan, stage.id, { readings: { [method.channel]: readings }, ended: null });
    return crossingsSoFar({ plan, stage, method, record, instruments: {} });
  };
  const [from, to] = [plan.figures[method.from]?.value ?? 0, plan.figures[method.to]?.value ?? 0];
  it('has not started below the first figure', () => expect(seen([[5, from - 10], [6, from - 5]])).toEqual({ from: null, to: null })); // prettier-ignore
  it('did not see a figure crossed that was passed before the first reading', () => expect(seen([[5, from + 1], [6, to + 1]])).toEqual({ from: null, to: null })); // prettier-ignore
  it('runs from the crossing on, straight between the readings, and stops at the second', () => {
    const running = seen([[5, from - 1], [6, from + 1]]); // prettier-ignore
    expect(running.from?.at).toBe(5500);
    expect(running.to).toBeNull();
    expect(seen([[5, from - 1], [6, from + 1], [30, to - 1], [31, to + 1]]).to?.at).toBe(30_500); // prettier-ignore
  });
});

describe('prompts of a rule set', () => {
  const spoilt = (change: (prompt: Record<string, unknown>) => void): readonly string[] => {
    const copy = structuredClone(procedureById('tank.vapour-10')) as Procedure;
    for (const r of copy.ruleSets) for (const p of r.prompts ?? []) change(p as unknown as Record<string, unknown>);
    return checkProcedure(copy).map((f) => f.code);
  };
  it('belong to a hold, come at a time, and say where they are from', () => {
    expect(spoilt(() => undefined)).toEqual([]);
    expect(spoilt((p) => (p['stage'] = 'nowhere'))).toContain('stageUnknown');
    expect(spoilt((p) => (p['every'] = q(0, 'min')))).toContain('figureDimension');
    expect(spoilt((p) => (p['every'] = q(1, 'bar')))).toContain('figureDimension');
    expect(spoilt((p) => (p['source'] = { title: '' }))).toContain('sourceMissing');
  });
});

it.each([
  ['none', 'nothing'],
  ['grows', 'a stream that grows with the pressure'],
] as const)('a grade of %s is %s', (grade, words) => expect(gradeInWords(grade)).toBe(words));
