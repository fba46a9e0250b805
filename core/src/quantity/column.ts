import type { Quantity } from './quantity';
import { decimalIn } from './convert';

/** Standard gravity, m/s². */
const GRAVITY = 9.80665;

/** A liquid in a gauge tube. A height is no pressure until the liquid is named. */
export interface ColumnFluid {
  readonly id: string;
  readonly title: string;
  /** kg/m³ */
  readonly density: number;
  readonly source: string;
}

export const columnFluids: readonly ColumnFluid[] = [
  { id: 'water', title: 'water, conventional', density: 1000, source: 'NIST SP 811 (from memory)' },
  { id: 'water-4C', title: 'water at 4 °C', density: 999.972, source: 'NIST SP 811 (from memory)' },
  { id: 'water-60F', title: 'water at 60 °F', density: 999.0, source: 'NIST SP 811: 1 inH2O = 248.84 Pa (from memory)' },
  { id: 'kerosene', title: 'kerosene', density: 810, source: 'common practice' },
  { id: 'engine-oil', title: 'engine oil', density: 880, source: 'common practice' },
  { id: 'mercury', title: 'mercury at 0 °C', density: 13_595.1, source: 'NIST SP 811 (from memory)' },
];

/**
 * The pressure that a height of a named liquid stands for: ρ·g·h.
 * @param fluid an id of `columnFluids`
 * @returns Pa
 * @throws RangeError for an unknown liquid
 * @example columnPressure({ value: 25, unit: 'mm' }, 'water') // 245.16625 Pa
 */
export function columnPressure(height: Quantity, fluid: string): Quantity {
  const found = columnFluids.find((f) => f.id === fluid);
  if (!found) throw new RangeError(`unknown liquid ${fluid}`);
  return { value: decimalIn(height, 'm').toNumber() * found.density * GRAVITY, unit: 'Pa' };
}
