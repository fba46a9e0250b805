import fc from 'fast-check';
import Qty from 'js-quantities';
import { describe, expect, it } from 'vitest';
import {
  convert,
  decimal,
  decimalIn,
  decimalsOf,
  quantity,
  roundHalfUp,
  sameDimension,
  showClock,
  showDecimal,
  showQuantity,
  unitRow,
  units,
} from '../../src/quantity';

describe('units', () => {
  // NIST SP 811 appendix B and UCUM, from memory (checks.md 10.1).
  it.each([
    [1, '[psi]', 'Pa', 6894.75729317],
    [1, 'atm', 'Pa', 101325],
    [1, 'bar', 'Pa', 1e5],
    [1, 'mm[H2O]', 'Pa', 9.80665],
    [1, 'cm[H2O]', 'Pa', 98.0665],
    [1, "[in_i'H2O]", 'Pa', 249.08891],
    [1, '[gal_us]', 'L', 3.785411784],
    [1, '[cft_i]', 'L', 28.316846592],
    [1, '[cft_i]', '[gal_us]', 7.48051948052],
    [1, '[cft_i]/h', 'mL/min', 471.9474432],
    [1, '[cft_i]/min', 'L/min', 28.316846592],
    [1, 'kgf/cm2', 'Pa', 98066.5],
    [1, 'mm[Hg]', 'Pa', 133.322387415],
    [1, "[in_i'Hg]", 'Pa', 3386.38864034],
    [1, 'MPa', 'hPa', 10_000],
    [1, '[gal_br]', 'L', 4.54609],
    [1, '[cin_i]', 'mL', 16.387064],
    [1, '[lb_av]', 'kg', 0.45359237],
    [1, 'kg', 'g', 1000],
    [90, '/min', 'Hz', 1.5],
    [0.17, '[cft_i]/h', 'mL/min', 80.231065344],
    [0.63, '[cft_i]/h', 'mL/min', 297.326889216],
    // SUIT-E2, AIR-E7, TANK-E5
    [4, "[in_i'H2O]", 'Pa', 996.35564],
    [3.2, "[in_i'H2O]", 'Pa', 797.084512],
    [55, '[psi]', 'kPa', 379.211651124],
    [90, '[psi]', 'kPa', 620.528156385],
    [20, 'kPa', '[psi]', 2.90075475475],
    [32, '[degF]', 'K', 273.15],
    [20, 'Cel', 'K', 293.15],
    [-40, 'Cel', '[degF]', -40],
  ])('%s %s is %s', (value, from, to, wanted) => {
    expect(decimalIn({ value, unit: from }, to).toNumber()).toBeCloseTo(wanted, 8);
  });

  // An outside library with factors of its own, to its own precision.
  it.each([
    ['[psi]', 'psi', 'kPa', 'kPa'],
    ['bar', 'bar', '[psi]', 'psi'],
    ["[in_i'H2O]", 'inH2O', 'Pa', 'Pa'],
    ['cm[H2O]', 'cmH2O', 'Pa', 'Pa'],
    ['[gal_us]', 'gal', 'L', 'l'],
    ['[in_i]', 'in', 'mm', 'mm'],
    ['min', 'min', 's', 's'],
    ['mm[Hg]', 'mmHg', 'Pa', 'Pa'],
    ["[in_i'Hg]", 'inHg', 'Pa', 'Pa'],
    ['[lb_av]', 'lb', 'kg', 'kg'],
    ['[cin_i]', 'in^3', 'mL', 'ml'],
  ])('agrees with js-quantities on %s', (ours, theirs, toOurs, toTheirs) => {
    const outside = new Qty(`7.25 ${theirs}`).to(toTheirs).scalar;
    expect(convert({ value: 7.25, unit: ours }, toOurs).value / outside).toBeCloseTo(1, 4);
  });

  it('comes back from any unit of the same kind', () => {
    const pairs = units.flatMap((a) => units.filter((b) => sameDimension(a.code, b.code)).map((b) => [a.code, b.code] as const));
    fc.assert(
      fc.property(fc.constantFrom(...pairs), fc.integer({ min: -999_999, max: 999_999 }), ([a, b], n) => {
        const value = n / 1000;
        const back = convert(convert({ value, unit: a }, b), a).value;
        // A scale with an offset loses the digits that the offset takes up.
        expect(Math.abs(back - value)).toBeLessThanOrEqual(1e-8 * Math.max(1, Math.abs(value)));
      }),
      { seed: 20261125 },
    );
  });

  it('refuses to read one kind as another', () => {
    expect(() => decimalIn({ value: 1, unit: 'L' }, 'Pa')).toThrow(RangeError);
    expect(() => decimalIn({ value: 1, unit: 'furlong' }, 'Pa')).toThrow('furlong');
    expect(() => quantity(Number.NaN, 'Pa')).toThrow(RangeError);
    expect(sameDimension('Pa', 'furlong')).toBe(false);
    expect(unitRow('furlong')).toBeUndefined();
  });
});

describe('decimals', () => {
  it('rounds 10.04 − 9.89 to 0.2, half up, after the difference', () => {
    const loss = decimal(10.04).minus(9.89);
    expect(loss.toString()).toBe('0.15');
    expect(roundHalfUp(loss, 1).toString()).toBe('0.2');
    // What binary arithmetic would have made of it.
    expect(10.04 - 9.89).not.toBe(0.15);
  });

  it.each([
    [0.25, 1, '0.3'],
    [-0.25, 1, '−0.3'],
    [0.249, 1, '0.2'],
    [-0.04, 1, '0.0'],
    [4, 2, '4.00'],
  ])('shows %s with %s decimals as %s', (value, places, text) => expect(showDecimal(decimal(value), places)).toBe(text));

  it('shows quantities with the trade’s labels', () => {
    expect(showQuantity({ value: 4, unit: "[in_i'H2O]" }, 2)).toBe('4.00 inH2O');
    expect(showQuantity({ value: -1.5, unit: 'mbar' })).toBe('−1.5 mbar');
    expect(showQuantity({ value: 2, unit: '1' })).toBe('2');
    expect([0.01, 0.5, 2, 0.25].map(decimalsOf)).toEqual([2, 1, 0, 2]);
  });

  it('shows a clock that says 0:00 only when the time is up', () => {
    expect([138_000, 137_001, 1, 0, -5, 3_600_000].map(showClock)).toEqual(['2:18', '2:18', '0:01', '0:00', '0:00', '1:00:00']);
  });
});
