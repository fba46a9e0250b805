import { describe, expect, it } from 'vitest';
import type { Verdict } from '../../src/procedure';
import { codes, found, only, planOf, recordFor, stageOf, fittedFor, type Written, signalled, axlesOf } from '../testing/attempt';
import { taskOf, type Task } from '../../src/method';

const q = (value: number, unit: string) => ({ value, unit });
const vehicle = { units: q(1, '1'), reservoir: q(45, 'L'), axles: q(1, '1'), ...signalled, school: 'general' };
const brakes = planOf('brakes.whole', 'single', { vehicle });

/** What a stage asks for next. */
function asks(plan: typeof brakes, stageId: string, w: Written): Task {
  const stage = stageOf(plan, stageId);
  return taskOf({ plan, stage, method: stage.method, record: recordFor(plan, stageId, w), instruments: fittedFor(plan, w) });
}

describe('readings that a person types', () => {
  it.each<[string, readonly (readonly [number, number])[], Verdict]>([
    ['just after it happened', [[12, 60]], 'pass'],
    ['just before', [[7, 60]], 'pass'],
    ['a minute and more after', [[75, 60]], 'void'],
    ['long before', [[2, 60]], 'void'],
  ])('of a needle that moves, %s', (_, readings, verdict) => {
    const findings = found(brakes, 'warning', { typed: true, readings: { primary: readings, secondary: readings }, marks: { warns: 10 } });
    expect(findings.every((f) => f.verdict === verdict)).toBe(true);
  });
  it('are asked for where nothing streams: channel by channel, then it ends', () => {
    const marked: Written = { typed: true, marks: { warns: 10 } };
    expect(asks(brakes, 'warning', { typed: true })).toMatchObject({ kind: 'mark', mark: 'warns' });
    expect(asks(brakes, 'warning', marked)).toEqual({ kind: 'read', channel: 'primary' });
    expect(asks(brakes, 'warning', { ...marked, readings: { primary: [[11, 60]] } })).toEqual({ kind: 'read', channel: 'secondary' }); // prettier-ignore
    expect(asks(brakes, 'warning', { ...marked, readings: { primary: [[11, 60]], secondary: [[11, 61]] } })).toEqual({ kind: 'end' }); // prettier-ignore
  });
  it('of a rise are good to their distance apart, and the uncertainty says so', () => {
    const close: Written = { typed: true, readings: { primary: [[1, 80], [10, 84.9], [11, 85.4], [40, 99.8], [41, 100.3]] }, marks: { passed: 42 } }; // prettier-ignore
    const far: Written = { typed: true, readings: { primary: [[1, 80], [41, 100.3]] }, marks: { passed: 42 } }; // prettier-ignore
    const u = (w: Written): number => only(found(brakes, 'build-up', w)).confidence?.u.value ?? 0;
    expect(u(far)).toBeGreaterThan(10 * u(close));
    expect(asks(brakes, 'build-up', { ...far, marks: {} })).toMatchObject({ kind: 'mark', mark: 'passed' });
    const task = asks(brakes, 'build-up', { typed: true, readings: { primary: [[1, 80]] } }); // prettier-ignore
    expect(task.kind === 'mark' ? task.unmet(50_000)?.code : '').toBe('notCrossed');
    expect(asks(brakes, 'build-up', far)).toEqual({ kind: 'end' });
  });
  it('of a half-life are good to their distance apart too', () => {
    const silo = planOf('store.half-life', 'new', { store: { volume: q(100, 'm3') } });
    const w: Written = { typed: true, readings: { store: [[0.4, 260], [199, 250], [420, 160], [600, 120]] }, marks: { fill: 0.5, shut: 1, settle: 100, trim: 199, start: 200 } }; // prettier-ignore
    // Half was gone somewhere between three and a half and seven minutes: nobody knows on which side of five.
    const f = only(found(silo, 'half', w));
    expect(f.verdict).toBe('undecided');
    expect(f.confidence?.u.value).toBeGreaterThan(0.5);
    expect(asks(silo, 'half', w)).toEqual({ kind: 'end' });
    expect(asks(silo, 'half', { ...w, readings: { store: [[0.4, 260], [199, 250], [300, 200]] } })).toMatchObject({ kind: 'hold', until: 500_000 }); // prettier-ignore
    expect(asks(silo, 'half', { ...w, marks: { fill: 0.5, shut: 1, settle: 100, trim: 199 } })).toMatchObject({ kind: 'start' });
  });
  it('of a store that nobody looked at until it was empty say nothing of its half-life', () => {
    const silo = planOf('store.half-life', 'new', { store: { volume: q(100, 'm3') } });
    const away = (at: number): Written => ({ typed: true, readings: { store: [[0.4, 260], [199, 250], [at, 0.1]] }, marks: { fill: 0.5, shut: 1, settle: 100, trim: 199, start: 200 } }); // prettier-ignore
    const late = only(found(silo, 'half', away(1640)));
    expect([late.verdict, codes(late).includes('crossedBetween')]).toEqual(['undecided', true]);
    // Gone before the time was over is too fast, whenever it went.
    expect(only(found(silo, 'half', away(300))).verdict).toBe('fail');
  });
  it('of a flow that was read once hold for the whole of it', () => {
    const circle = planOf('anaes.circle', 'human', { circuit: {} });
    const w: Written = { typed: true, readings: { pressure: [[0.4, 30], [9, 30], [20, 30]], flow: [[9, 90], [20, 96]] }, marks: { 'fill-again': 0.5, still: 1, start: 10 } }; // prettier-ignore
    expect(only(found(circle, 'make-up', w)).observed?.value).toBe(96);
    expect(asks(circle, 'make-up', w)).toEqual({ kind: 'end' });
    expect(asks(circle, 'make-up', { ...w, readings: { pressure: [[9, 30]] } })).toMatchObject({ kind: 'hold', since: 10_000, until: 20_000 }); // prettier-ignore
  });
  it('of strokes are asked for in order, the last one counts', () => {
    const low = planOf('brakes.whole', 'build-from-low', { vehicle }, undefined, axlesOf('20'));
    const w: Written = { typed: true, readings: { primary: [[0.2, 105]], strokeLeft: [[10, 1.9], [12, 1.5]] } }; // prettier-ignore
    expect(asks(low, 'stroke.1', w)).toEqual({ kind: 'read', channel: 'strokeRight' });
    expect(only(found(low, 'stroke.1', { ...w, readings: { ...w.readings, strokeRight: [[13, 1.5]] } }), 'strokeLeft').observed?.value).toBe(1.5); // prettier-ignore
  });
  it('of an expansion go through zero, test pressure, total and permanent', () => {
    const facts = { testPressure: q(300, 'bar'), certificateExpansion: q(45, 'mL') };
    const jacket = planOf('cyl.water-jacket', 'us-metal', { cylinder: { ...facts, rejectionMarked: false, material: 'steel' } });
    const read = { pressure: [[0.9, 0], [10, 305], [41, 305], [60, 0]], water: [[0.9, 0], [41, 50], [60, 1]] } as const; // prettier-ignore
    const at = (marks: Written['marks']): Task => asks(jacket, 'expand', { readings: read, marks });
    expect(at({})).toMatchObject({ kind: 'mark', mark: 'zeroed' });
    expect(at({ zeroed: 1 })).toMatchObject({ kind: 'start' });
    expect(at({ zeroed: 1, start: 10 })).toMatchObject({ kind: 'mark', mark: 'total-read' });
    expect(asks(jacket, 'expand', { readings: { pressure: [[0.9, 0], [10, 305]], water: [[0.9, 0]] }, marks: { zeroed: 1, start: 10 } })).toMatchObject({ kind: 'hold', until: 40_000 }); // prettier-ignore
    expect(at({ zeroed: 1, start: 10, 'total-read': 42 })).toMatchObject({ kind: 'mark', mark: 'permanent-read' });
    expect(at({ zeroed: 1, start: 10, 'total-read': 42, 'permanent-read': 61 })).toEqual({ kind: 'end' });
    const zero = at({});
    expect(zero.kind === 'mark' ? zero.unmet(500_000)?.code : '').toBe('noReading');
    for (const channel of ['pressure', 'water'])
      expect(only(found(jacket, 'expand', { readings: read, marks: { zeroed: 1, start: 10, 'total-read': 42, 'permanent-read': 61 }, instruments: { [channel]: { inCalibration: false } } })).verdict).toBe('void'); // prettier-ignore
  });
  it('of lifts ask for each in its turn', () => {
    const valve = planOf('valve.relief', 'asme', { valve: { set: q(100, '[psi]') } });
    expect(asks(valve, 'crack', {})).toMatchObject({ kind: 'mark', mark: 'lift-1' });
    const task = asks(valve, 'crack', { marks: { 'lift-1': 5 } });
    expect(task).toMatchObject({ kind: 'mark', mark: 'shut-1' });
    expect(task.kind === 'mark' ? task.unmet(9000)?.code : '').toBe('liftNotFound');
    expect(asks(valve, 'crack', { marks: { 'lift-1': 5, 'shut-1': 9 } })).toMatchObject({ kind: 'mark', mark: 'lift-2' });
  });
  it('of a hold that has no reading at its end are not yet an end', () => {
    const w: Written = { readings: { primary: [[0.4, 120], [99, 120], [100, 120]], secondary: [[99, 118]] }, marks: { charge: 0.5, 'engine-off': 1, release: 2, 'static-settle': 99, start: 100 }, ended: null }; // prettier-ignore
    expect(found(brakes, 'static', w).map((f) => [f.verdict, codes(f)])).toEqual([['undecided', ['unfinished']], ['undecided', ['unfinished']]]); // prettier-ignore
  });
});
