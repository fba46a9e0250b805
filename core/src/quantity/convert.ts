import Big from 'big.js';
import type { Quantity } from './quantity';
import { unitRow, type Unit, type UnitRow } from './unit';

/** A constructor of its own, so that its precision cannot leak into other users of big.js. 40 digits leave the 12 that count untouched. */
const Exact = Big();
Exact.DP = 40;

/** Significant digits at which trade figures are compared. */
const COMPARED_DIGITS = 12;

function known(code: Unit): UnitRow {
  const found = unitRow(code);
  if (!found) throw new RangeError(`unknown unit ${code}`);
  return found;
}

/** A decimal that keeps every digit; the trade's arithmetic is done on these, never on binary fractions. */
export type Decimal = Big;

/**
 * The decimal a number was written as. `decimal(10.04)` is exactly 10.04.
 * @example decimal('0.1').plus('0.2').toString() // '0.3'
 */
export function decimal(value: number | string): Decimal {
  return new Exact(value);
}

/**
 * A quantity's value in another unit, exact up to the 12 significant digits at which figures are compared.
 * Temperatures are converted as points on their scale; differences of temperature are kept in K.
 * @throws RangeError when a unit is unknown or the two measure different things.
 * @example decimalIn({ value: 1, unit: '[psi]' }, 'Pa').toString() // '6894.75729317'
 */
export function decimalIn(from: Quantity, to: Unit): Decimal {
  const value = new Exact(from.value);
  if (from.unit === to) return value;
  const a = known(from.unit);
  const b = known(to);
  if (a.dimension !== b.dimension) throw new RangeError(`${from.unit} (${a.dimension}) cannot be read as ${to} (${b.dimension})`);
  // One division only, at the end: an intermediate one would round.
  const inBase = value.times(a.numerator).plus(new Exact(a.offset).times(a.denominator)); // · 1/a.denominator
  const result = inBase.minus(new Exact(b.offset).times(a.denominator)).times(b.denominator).div(new Exact(a.denominator).times(b.numerator));
  return significant(result);
}

/**
 * Rounds to the 12 significant digits at which figures are compared.
 * @example significant(decimal('1.23456789012349')).toString() // '1.23456789012'
 */
export function significant(value: Decimal): Decimal {
  return value.eq(0) ? value : value.prec(COMPARED_DIGITS, 1);
}

/**
 * Converts a quantity to another unit of the same dimension.
 * @example convert({ value: 4, unit: "[in_i'H2O]" }, 'Pa') // { value: 996.35564, unit: 'Pa' }
 */
export function convert(from: Quantity, to: Unit): Quantity {
  return from.unit === to ? from : { value: decimalIn(from, to).toNumber(), unit: to };
}

/**
 * Whether two units measure the same kind of thing. False when either is unknown.
 * @example sameDimension('[psi]', 'mbar') // true
 */
export function sameDimension(a: Unit, b: Unit): boolean {
  const x = unitRow(a);
  const y = unitRow(b);
  return x !== undefined && y !== undefined && x.dimension === y.dimension;
}

/**
 * Rounds half up (away from zero at a tie) to a number of decimals, on the decimal itself.
 * @example roundHalfUp(decimal(10.04).minus(9.89), 1).toString() // '0.2': 0.15, rounded after the difference
 */
export function roundHalfUp(value: Decimal, decimals: number): Decimal {
  return value.round(decimals, 1);
}
