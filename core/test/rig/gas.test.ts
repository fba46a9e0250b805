import { describe, expect, it } from 'vitest';
import { sense } from '../../src/rig';
import { admit, mix, release, soak } from '../../src/rig/gas';

describe('gas in a vessel', () => {
  const air = { mol: 1, temperature: 293.15 };
  it('let in warms by γ, mixed in does not, let out cools', () => {
    expect(admit(air, 1, 293.15).temperature).toBeCloseTo(293.15 * 1.2, 9);
    expect(mix(air, 1, 303.15).temperature).toBeCloseTo(298.15, 9);
    expect(release(air, 0.1).temperature).toBeCloseTo(293.15 * 0.96, 9);
    expect(release(air, 2).mol).toBe(0.5);
    expect(soak({ mol: 1, temperature: 300 }, 290, 10, 10).temperature).toBeCloseTo(290 + 10 / Math.E, 9);
  });
  it('has no sensor for a unit that nobody knows', () =>
    expect(() => sense({ unit: 'moon', resolution: 1, noise: 0, zero: 0 }, 1, { state: 1 })).toThrow(RangeError));
  it('of nothing stays nothing', () => {
    const none = { mol: 0, temperature: 293.15 };
    expect(admit(none, 0, 300)).toBe(none);
    expect(mix(none, 0, 300)).toBe(none);
  });
  it('is shown in the sensor’s unit, offset and all, in whole steps', () => {
    const quiet = { resolution: 0.1, noise: 0, zero: 0 };
    expect(sense({ ...quiet, unit: 'Cel' }, 293.15, { state: 1 })[0]).toBe(20);
    expect(sense({ ...quiet, unit: 'mbar' }, 1651, { state: 1 })[0]).toBe(16.5);
    expect(sense({ ...quiet, unit: '1' }, 3.14, { state: 1 })[0]).toBe(3.1);
  });
});
