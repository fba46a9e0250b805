import { decimal, decimalIn, roundHalfUp } from './convert';
import type { Quantity } from './quantity';
import { unitRow, units, type Unit } from './unit';

/** Kinds of figure that people read in units of their own: what a suit holds and what a cylinder holds are not read on one scale. */
export type Scale = 'low pressure' | 'high pressure' | 'flow' | 'volume' | 'temperature';

export const scales: readonly Scale[] = ['low pressure', 'high pressure', 'flow', 'volume', 'temperature'];

/** The unit that a person reads each kind of figure in; a kind that is not named is read as it was measured. */
export type UnitChoices = Readonly<Partial<Record<Scale, Unit>>>;

/** Units below this many pascals are those of water columns and suits; those above are of bottles and brakes. */
const HIGH_FROM_PA = 1000;

/** The scale that a unit belongs to, null for one that nobody chooses (a time, a count). @example scaleOf('mbar') // 'low pressure' */
export function scaleOf(unit: Unit): Scale | null {
  const row = unitRow(unit);
  if (!row) return null;
  if (row.dimension === 'pressure') return decimal(row.numerator).div(row.denominator).lt(HIGH_FROM_PA) ? 'low pressure' : 'high pressure';
  return row.dimension === 'flow' || row.dimension === 'volume' || row.dimension === 'temperature' ? row.dimension : null;
}

/**
 * The units that can be chosen for a scale, in the order of the unit table.
 * @example unitsOf('volume').slice(0, 2) // ['m3', 'L']
 */
export function unitsOf(scale: Scale): readonly Unit[] {
  return units.map((u) => u.code).filter((code) => scaleOf(code) === scale);
}

/** A figure in a unit that was chosen, and the decimals that it deserves. */
export interface Preferred extends Quantity {
  readonly decimals: number;
}

/**
 * A figure in the unit that the person prefers, with no more digits than its own step carries over; null where it is read as it stands.
 * It is for the eye only: what is judged stays in the unit of its source.
 * @param step the smallest step of the figure, in its own unit, above 0
 * @example preferred({ value: 4, unit: "[in_i'H2O]" }, { 'low pressure': 'mbar' }, 0.05) // { value: 10, unit: 'mbar', decimals: 1 }: 9.96, in steps of 0.12
 */
export function preferred(q: Quantity, choices: UnitChoices, step: number): Preferred | null {
  const scale = scaleOf(q.unit);
  const unit = scale === null ? undefined : choices[scale];
  if (unit === undefined || unit === q.unit || unitRow(unit) === undefined) return null;
  const to = decimalIn(q, unit);
  const next = decimalIn({ value: decimal(q.value).plus(step).toNumber(), unit: q.unit }, unit);
  const decimals = Math.min(6, Math.max(0, Math.ceil(-Math.log10(next.minus(to).abs().toNumber()))));
  return { value: roundHalfUp(to, decimals).toNumber(), unit, decimals };
}
