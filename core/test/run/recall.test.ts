import { describe, expect, it } from 'vitest';
import { corrected, foundError, outOfTolerance, recall, type CalibrationPoint } from '../../src';
import { practiceRun } from '../../src/practice';

const mbar = (value: number) => ({ value, unit: 'mbar' });
const point = (nominal: number, asFound: number, asLeft = nominal): CalibrationPoint => ({
  nominal: mbar(nominal),
  asFound: mbar(asFound),
  asLeft: mbar(asLeft),
});

describe('the error that an instrument was found with', () => {
  const points = [point(0, 0), point(10, 10.2), point(20, 19.8)];
  // By hand: between 0 and 10.2 shown the error grows from 0 to 0.2; between 10.2 and 19.8 it falls from 0.2 to −0.2.
  it.each([
    [-1, 0],
    [0, 0],
    [5.1, 0.1],
    [10.2, 0.2],
    [15, 0],
    [19.8, -0.2],
    [25, -0.2],
  ])('at %f shown it is %f', (shown, error) => {
    expect(foundError(points, mbar(shown))).toBeCloseTo(error, 12);
  });
  it('is told in the unit that is shown', () => {
    expect(foundError(points, { value: 1020, unit: 'Pa' })).toBeCloseTo(20, 9);
  });
  it('in any order of points, and not without one', () => {
    expect(foundError([...points].reverse(), mbar(5.1))).toBeCloseTo(0.1, 12);
    expect(() => foundError([], mbar(1))).toThrow(RangeError);
  });
  it('is out of tolerance beyond the stated limits, and not at them', () => {
    expect(outOfTolerance(points, mbar(0.2))).toBe(false);
    expect(outOfTolerance(points, mbar(0.19))).toBe(true);
    expect(outOfTolerance(points, mbar(0.19), 'asLeft')).toBe(false);
    expect(outOfTolerance(points, { value: 19, unit: 'Pa' })).toBe(true);
  });
});

describe('a run judged again without that error', () => {
  const run = practiceRun('suit.inflation', 'mbar-16.5', 'suit', 'none');
  const channels = new Set(['suit']);

  it('comes to the same where there was none', () => {
    const same = recall(run.plan, run.events, channels, [point(0, 0), point(20, 20)]);
    expect([same.changes, same.before.verdict, same.after.verdict]).toEqual([false, 'pass', 'pass']);
  });
  it('leaves the readings of other channels, and everything that is no reading', () => {
    const events = corrected(run.events, new Set(['elsewhere']), [point(10, 12)]);
    expect(events).toEqual(run.events);
    const moved = corrected(run.events, channels, [point(10, 12)]);
    expect(moved.filter((e) => e.kind !== 'samples' && e.kind !== 'reading')).toEqual(run.events.filter((e) => e.kind !== 'samples' && e.kind !== 'reading'));
  });
  it('is no pass where the true pressure never stood in the start window', () => {
    const off = recall(run.plan, run.events, channels, [point(0, 0), point(16, 17), point(17, 18)]);
    expect([off.changes, off.before.verdict]).toEqual([true, 'pass']);
    expect(off.after.verdict).not.toBe('pass');
  });
  it('that would have blocked the item says so, though the verdict of a void run stays what it was', () => {
    // Void, because the plugs were left in; its hold ended at 15.81 mbar, which the gauge showed where 12.5 stood: 3 were permitted.
    const left = practiceRun('suit.inflation', 'mbar-16.5', 'suit', 'none', { answers: { 'plugs-out': { answer: 'no', reason: 'left in' } } });
    const again = recall(left.plan, left.events, channels, [point(13, 16.3), point(16.5, 16.5)]);
    expect([again.before.verdict, again.before.blocks]).toEqual(['void', false]);
    expect([again.after.verdict, again.after.blocks]).toEqual(['void', true]);
    expect(again.changes).toBe(true);
  });
});
