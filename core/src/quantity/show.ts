import { decimal, roundHalfUp, type Decimal } from './convert';
import type { Quantity } from './quantity';
import { unitRow, type Unit } from './unit';

/**
 * How a unit is written for people. An unknown code is shown as it stands.
 * @example unitLabel("[in_i'H2O]") // 'inH2O'
 */
export function unitLabel(unit: Unit): string {
  return unitRow(unit)?.label ?? unit;
}

/**
 * Writes a decimal with a fixed number of decimals and a true minus sign.
 * @example showDecimal(decimal(-0.5), 2) // '−0.50'
 */
export function showDecimal(value: Decimal, decimals: number): string {
  const rounded = roundHalfUp(value, decimals);
  return rounded.toFixed(decimals).replace('-', rounded.eq(0) ? '' : '−');
}

/**
 * How many decimals an instrument of this resolution shows: 0.01 → 2, 0.5 → 1, 2 → 0.
 * @example decimalsOf(0.01) // 2
 */
export function decimalsOf(resolution: number): number {
  const text = decimal(resolution).toFixed();
  const point = text.indexOf('.');
  return point < 0 ? 0 : text.length - point - 1;
}

/**
 * A quantity as a person reads it, for example `4.00 inH2O`. Without `decimals` the number is shown as it was written.
 * @example showQuantity({ value: 4, unit: "[in_i'H2O]" }, 2) // '4.00 inH2O'
 */
export function showQuantity(q: Quantity, decimals?: number): string {
  const number = decimals === undefined ? decimal(q.value).toFixed().replace('-', '−') : showDecimal(decimal(q.value), decimals);
  const label = unitLabel(q.unit);
  if (label === '') return number;
  return `${number} ${label}`;
}

/**
 * A time span as minutes and seconds, the way a stopwatch shows it.
 * @param milliseconds never shown below zero; part seconds are rounded up so that `0:00` means over
 * @example showClock(138_000) // '2:18'
 */
export function showClock(milliseconds: number): string {
  const seconds = Math.max(0, Math.ceil(milliseconds / 1000 - 1e-9));
  const rest = String(seconds % 60).padStart(2, '0');
  return seconds < 3600
    ? `${Math.floor(seconds / 60)}:${rest}`
    : `${Math.floor(seconds / 3600)}:${String(Math.floor(seconds / 60) % 60).padStart(2, '0')}:${rest}`;
}
