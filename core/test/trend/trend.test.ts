import { describe, expect, it } from 'vitest';
import { predictUse, trendOf, type TrendPoint } from '../../src/trend';

const near = (got: number | null, want: number, relative = 1e-6): void =>
  expect(Math.abs((got ?? Number.NaN) - want), `${got} is not ${want}`).toBeLessThanOrEqual(Math.abs(want) * relative);
const used = [0.42, 0.48, 0.47, 0.58, 0.6, 0.69, 0.71, 0.8];
const tests: readonly TrendPoint[] = [0, 183, 366, 549, 729, 917, 1096, 1281].map((day, i) => ({ day, used: used[i] ?? 0 }));

describe('the trend of allowance used (Draper & Smith; Theil 1950; Sen 1968; from memory)', () => {
  const trend = trendOf(tests);
  it('fits a line, and says when it crosses with Fieller’s interval', () => {
    near(trend.line.slope, 0.0002923107);
    near(trend.line.intercept, 0.4066346);
    near(trend.line.s, 0.02553827);
    near(trend.line.seSlope, 2.154325e-5);
    near(trend.crossing.day, 2029.913);
    near(trend.crossing.low, 1806.419);
    near(trend.crossing.high, 2346.842);
    near(trend.crossing.earliest, 1786.261);
    expect(trend.dateStands).toBe(true);
  });
  it('foretells one test with its interval', () => {
    const next = predictUse(tests, 1461);
    near(next.value, 0.8337005);
    near(next.low, 0.7545451);
    near(next.high, 0.9128559);
  });
  it('fits robustly, with Sen’s interval and Mann–Kendall', () => {
    near(trend.robust.slope, 0.0002955408);
    near(trend.robust.intercept, 0.4183686);
    near(trend.robust.slopeLow, 0.00023766);
    near(trend.robust.slopeHigh, 0.0003606557);
    near(trend.robustCrossing, 1968.024);
    expect(trend.kendall.s).toBe(26);
    near(trend.kendall.z, 3.092948);
  });
  it('one bad test moves the line and hardly the robust one', () => {
    const bad = trendOf(tests.map((p, i) => (i === 5 ? { ...p, used: 0.95 } : p)));
    near(bad.line.slope, 0.0003435374);
    near(bad.robust.slope, 0.0002981854);
  });
  it('names no date from too few tests, a falling line, an accident, or far ahead', () => {
    expect(trendOf(tests.slice(0, 3)).dateStands).toBe(false);
    const falling = trendOf(tests.map((p) => ({ ...p, used: 1 - p.used })));
    expect([falling.dateStands, falling.crossing.day, falling.robustCrossing]).toEqual([false, null, null]);
    const flat = trendOf([0, 100, 200, 300, 400].map((day, i) => ({ day, used: i % 2 ? 0.5 : 0.52 })));
    expect([flat.dateStands, flat.crossing.low]).toEqual([false, null]);
    const slow = trendOf([0, 100, 200, 300].map((day) => ({ day, used: 0.1 + day * 1e-4 })));
    expect(slow.dateStands).toBe(false);
    expect(slow.crossing.earliest).not.toBeNull();
  });
  it('has nothing to plan where a hundred years are not enough, and plans at once where it is over', () => {
    expect(trendOf([0, 100, 200, 300].map((day) => ({ day, used: 0.1 }))).crossing.earliest).toBeNull();
    expect(trendOf([0, 100, 200].map((day) => ({ day, used: 1.2 + day / 1000 }))).crossing.earliest).toBe(200);
  });
  it('needs three tests on different days', () => {
    expect(() => trendOf(tests.slice(0, 2))).toThrow(RangeError);
    expect(() => trendOf([1, 1, 1].map((u) => ({ day: 5, used: u })))).toThrow(RangeError);
  });
});
