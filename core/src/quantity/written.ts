import { decimal, decimalIn } from './convert';
import type { Quantity } from './quantity';
import { unitRow, units } from './unit';

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

const byLabel = new Map(units.map((u) => [u.label.toLowerCase(), u.code]));
/** As printouts and people write units, besides how a gauge shows them. */
const otherwise: Readonly<Record<string, string>> = {
  gal: '[gal_us]',
  gals: '[gal_us]',
  gallons: '[gal_us]',
  liters: 'L',
  litres: 'L',
  ltr: 'L',
  minutes: 'min',
  mins: 'min',
};

/** Where a number ends and its unit begins: after the last digit of what is a number as people write it. */
const NUMBER_AND_UNIT = /^\s*([-−]?[\d.,/ \u00a0\u2009]*\d)\s*(\D.*)?$/;

/**
 * A quantity as it was written, in one of the ways it can be meant: a number and a unit, by its code or as it is written on a gauge.
 * @returns one quantity; two where only who wrote it knows which; none where it is none, or the unit is not known
 * @example quantitiesIn('200 L') // [{ value: 200, unit: 'L' }]
 * @example quantitiesIn('4000 gals') // [{ value: 4000, unit: '[gal_us]' }]
 */
export function quantitiesIn(text: string): readonly Quantity[] {
  const found = NUMBER_AND_UNIT.exec(text);
  const unit = (found?.[2] ?? '1').trim();
  const code = unitRow(unit) ? unit : (byLabel.get(unit.toLowerCase()) ?? otherwise[unit.toLowerCase().replace(/\.$/, '')]);
  return code === undefined ? [] : numbersIn(found?.[1] ?? '').map((value) => ({ value, unit: code }));
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
