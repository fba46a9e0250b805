import { describe, expect, it } from 'vitest';
import { planOf } from '../testing/attempt';

/** ASME BPVC section I, PG-72, from memory: the band of a power boiler's safety valve by its set pressure, and where it shuts again. */
const psi = (value: number) => ({ value, unit: '[psi]' });

describe('a power boiler’s safety valve', () => {
  it.each([
    [50, 48, 52],
    [70, 68, 72],
    [71, 68.87, 73.13],
    [300, 291, 309],
    [301, 291, 311],
    [1000, 990, 1010],
    [1001, 990.99, 1011.01],
    [2000, 1980, 2020],
  ])('set at %d psi opens between %f and %f', (set, low, high) => {
    const plan = planOf('valve.relief', 'boiler', { valve: { set: psi(set), seat: 'metal', orifice: { value: 0.2, unit: '1' } } });
    const band = plan.limits.filter((l) => l.stage === 'crack' && l.of === 'pressure').map((l) => l.resolved.value);
    expect(band[0]).toBeCloseTo(low, 6);
    expect(band[1]).toBeCloseTo(high, 6);
  });
  it('shuts again within a tenth of where it is set, and one of a vessel is not asked', () => {
    const of = (ruleSet: string) => planOf('valve.relief', ruleSet, { valve: { set: psi(150), seat: 'metal', orifice: { value: 0.2, unit: '1' } } }).limits;
    expect(of('boiler').find((l) => l.of === 'blowdown')).toMatchObject({ op: '<=', resolved: { value: 10, unit: '%' } });
    expect(of('asme').some((l) => l.of === 'blowdown')).toBe(false);
  });
});
