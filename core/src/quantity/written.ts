import { decimal, decimalIn } from './convert';
import type { Quantity } from './quantity';

const GROUPED = /^(-?)(\d{1,3}(?:[ \u00a0\u2009]\d{3})+|\d{1,3}(?:,\d{3}){2,}|\d{1,3}(?:,\d{3})+(?=\.))(?:[.,](\d{1,6}))?$/;
const PLAIN = /^-?\d{1,9}(?:[.,]\d{1,6})?$/;
const FRACTION = /^(-?)(?:(\d{1,6})[ \u00a0-])?(\d{1,3})\/(\d{1,3})$/;
/** A comma before three digits, and not after a lone nought: a decimal mark in one country and a mark of thousands in another. */
const EITHER = /^(-?)([1-9]\d{0,2}),(\d{3})$/;

/**
 * The numbers that a text can mean, as people write them: with a decimal point or comma, with thousands set apart, as a fraction of an inch.
 * @returns one number; two where only who wrote it knows which; none where it is no number
 * @example numbersIn('3,4') // [3.4]
 * @example numbersIn('7,430') // [7.43, 7430]
 * @example numbersIn('1 1/4') // [1.25]
 * @example numbersIn('1.2.3') // []
 */
export function numbersIn(text: string): readonly number[] {
  const t = text.trim().replace('−', '-');
  const either = EITHER.exec(t);
  if (either) return [`${either[1] ?? ''}${either[2] ?? ''}.${either[3] ?? ''}`, `${either[1] ?? ''}${either[2] ?? ''}${either[3] ?? ''}`].map((n) => decimal(n).toNumber()); // prettier-ignore
  if (PLAIN.test(t)) return [decimal(t.replace(',', '.')).toNumber()];
  const fraction = FRACTION.exec(t);
  if (fraction) {
    const [, sign, whole, over, under] = fraction;
    if (Number(under) === 0) return [];
    const value = Number(whole ?? 0) + Number(over) / Number(under);
    return [Number(`${sign ?? ''}${String(Number(value.toPrecision(12)))}`)];
  }
  const grouped = GROUPED.exec(t);
  if (!grouped) return [];
  const [, sign = '', whole = '', rest] = grouped;
  return [decimal(`${sign}${whole.replace(/[ \u00a0\u2009,]/g, '')}${rest === undefined ? '' : `.${rest}`}`).toNumber()];
}

/**
 * Whether a reading has digits that its gauge does not show.
 * @param step the gauge's own
 * @example isFiner({ value: 3.4, unit: '[psi]' }, { value: 1, unit: '[psi]' }) // true
 * @example isFiner({ value: 3.5, unit: 'bar' }, { value: 0.1, unit: 'bar' }) // false
 */
export function isFiner(reading: Quantity, step: Quantity): boolean {
  // A reading in another unit than the gauge's own is a converted one: its digits say nothing.
  if (reading.unit !== step.unit || step.value <= 0) return false;
  return !decimalIn(reading, step.unit).mod(decimal(step.value)).eq(0);
}
