import { UcumLhcUtils } from '@lhncbc/ucum-lhc';
import { describe, expect, it } from 'vitest';
import { baseUnits, convert, units } from '../../src/quantity';

/** The codes and factors of the Unified Code for Units of Measure, as a library of its keepers knows them. */
const ucum = UcumLhcUtils.getInstance();

describe.each(units.map((u) => [u.code, u] as const))('the unit %s', (code, { dimension }) => {
  it('is a code of UCUM', () => expect(ucum.validateUnitString(code).status).toBe('valid'));
  it('is worth what UCUM says', () => {
    const base = baseUnits[dimension];
    const { toVal } = ucum.convertUnitTo(code, 20, base);
    expect(toVal).not.toBeNull();
    // UCUM rounds a column of mercury to 133.322 kPa a metre, where NIST SP 811 has 133.322387415: 3 in a million, and the most that any differs by.
    expect(Math.abs(convert({ value: 20, unit: code }, base).value / Number(toVal) - 1)).toBeLessThan(code.includes('Hg]') ? 3e-6 : 1e-9);
  });
});
