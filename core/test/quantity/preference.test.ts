import { describe, expect, it } from 'vitest';
import { preferred, scaleOf, scales, unitsOf, type UnitChoices } from '../../src';

describe('the units that a person prefers', () => {
  it.each([
    ['Pa', 'low pressure'],
    ['mbar', 'low pressure'],
    ["[in_i'H2O]", 'low pressure'],
    ['mm[Hg]', 'low pressure'],
    ['kPa', 'high pressure'],
    ['[psi]', 'high pressure'],
    ['bar', 'high pressure'],
    ['mL/min', 'flow'],
    ['Cel', 'temperature'],
    ['s', null],
    ['1', null],
    ['furlong', null],
  ])('%s is read on the scale %s', (unit, scale) => {
    expect(scaleOf(unit)).toBe(scale);
  });

  it('every scale offers several units', () => {
    for (const scale of scales) expect(unitsOf(scale).length, scale).toBeGreaterThan(1);
  });

  // NIST SP 811: 1 inH2O = 249.08891 Pa, 1 psi = 6894.757 Pa; 0 °C = 32 °F.
  it.each<[number, string, number, UnitChoices, number, string]>([
    [4, "[in_i'H2O]", 0.05, { 'low pressure': 'mbar' }, 10, 'mbar'],
    [100, '[psi]', 1, { 'high pressure': 'bar' }, 6.89, 'bar'],
    [16.5, 'mbar', 0.1, { 'low pressure': 'Pa' }, 1650, 'Pa'],
    [20, 'Cel', 0.1, { temperature: '[degF]' }, 68, '[degF]'],
    [-9, 'mbar', 0.1, { 'low pressure': 'cm[H2O]' }, -9.2, 'cm[H2O]'],
  ])('%f %s in steps of %f', (value, unit, step, choices, shown, as) => {
    expect(preferred({ value, unit }, choices, step)).toMatchObject({ value: shown, unit: as });
  });

  it('keeps the decimals that its step deserves', () => {
    expect(preferred({ value: 4, unit: "[in_i'H2O]" }, { 'low pressure': 'mbar' }, 0.01)).toEqual({ value: 9.96, unit: 'mbar', decimals: 2 });
    expect(preferred({ value: 250, unit: 'Pa' }, { 'low pressure': 'mbar' }, 1)).toEqual({ value: 2.5, unit: 'mbar', decimals: 2 });
  });

  it('leaves alone what is read in that unit already, what was not chosen, and what has no scale', () => {
    expect(preferred({ value: 4, unit: 'mbar' }, { 'low pressure': 'mbar' }, 0.1)).toBeNull();
    expect(preferred({ value: 4, unit: 'bar' }, { 'low pressure': 'mbar' }, 0.1)).toBeNull();
    expect(preferred({ value: 4, unit: 's' }, { 'low pressure': 'mbar' }, 1)).toBeNull();
    expect(preferred({ value: 4, unit: 'mbar' }, { 'low pressure': 'furlong' }, 1)).toBeNull();
  });
});
