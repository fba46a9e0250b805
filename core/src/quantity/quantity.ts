import type { Unit } from './unit';

/** A number with its unit, kept in the unit it was read in. The number is the decimal it was written as. */
export interface Quantity {
  readonly value: number;
  readonly unit: Unit;
}

/**
 * Makes a quantity.
 * @throws RangeError when the number is not finite: NaN never travels.
 * @example quantity(4.02, "[in_i'H2O]")
 */
export function quantity(value: number, unit: Unit): Quantity {
  if (!Number.isFinite(value)) throw new RangeError(`a quantity must be finite, not ${String(value)} ${unit}`);
  return { value, unit };
}
