import { decimalIn, sameDimension, type Quantity, type Unit } from '../quantity';
import { formulaById } from './formula';
import type { AttributeRef, Bound, Condition, Id, Role, Value } from './language';

export type AttributeValue = Quantity | string | boolean;
export type Attributes = Readonly<Record<Id, AttributeValue>>;
/** The attributes of the assets in a run, by role. */
export type AttributesByRole = Readonly<Record<Role, Attributes>>;

/**
 * The value of `role.attribute`, or undefined when the role is empty or the asset does not carry it.
 * @example attributeOf({ suit: { openFaced: false } }, 'suit.openFaced') // false
 */
export function attributeOf(assets: AttributesByRole, ref: AttributeRef): AttributeValue | undefined {
  const dot = ref.indexOf('.');
  return assets[ref.slice(0, dot)]?.[ref.slice(dot + 1)];
}

function isQuantity(value: AttributeValue | undefined): value is Quantity {
  return typeof value === 'object';
}

/** A bound as it is printed in a unit; in the first one where it is not printed in that. */
function printedIn(bound: Bound | undefined, unit: Unit): Quantity | undefined {
  if (bound === undefined || 'value' in bound) return bound;
  return bound.find((b) => b.unit === unit) ?? bound[0];
}

/**
 * Whether a condition holds. A condition on an attribute the asset lacks does not hold.
 * @example holds({ attribute: 'tank.capacity', from: [{ value: 1500, unit: '[gal_us]' }, { value: 5678, unit: 'L' }] }, { tank: { capacity: { value: 5678, unit: 'L' } } }) // true
 * @example holds({ attribute: 'vehicle.units', from: { value: 2, unit: '1' } }, { vehicle: { units: { value: 3, unit: '1' } } }) // true
 */
export function holds(condition: Condition, assets: AttributesByRole): boolean {
  if ('all' in condition) return condition.all.every((c) => holds(c, assets));
  const value = attributeOf(assets, condition.attribute);
  if ('is' in condition) return !isQuantity(value) && value !== undefined && condition.is.includes(value);
  if (!isQuantity(value)) return false;
  const [from, upTo, below] = [condition.from, condition.upTo, condition.below].map((b) => printedIn(b, value.unit));
  const atLeast = from === undefined || (sameDimension(value.unit, from.unit) && decimalIn(value, from.unit).gte(from.value));
  const under = below === undefined || (sameDimension(value.unit, below.unit) && decimalIn(value, below.unit).lt(below.value));
  const most = upTo === undefined || (sameDimension(value.unit, upTo.unit) && decimalIn(value, upTo.unit).lte(upTo.value));
  return atLeast && under && most;
}

/**
 * The attributes that decide a condition and are not known; none where what is known decides it already.
 * @example unknownIn({ attribute: 'suit.openFaced', is: [true] }, { suit: {} }) // ['suit.openFaced']
 * @example unknownIn({ all: [{ attribute: 'suit.openFaced', is: [true] }, { attribute: 'suit.size', is: ['L'] }] }, { suit: { openFaced: false } }) // []
 */
export function unknownIn(condition: Condition, assets: AttributesByRole): readonly AttributeRef[] {
  if (!('all' in condition)) return attributeOf(assets, condition.attribute) === undefined ? [condition.attribute] : [];
  const known = condition.all.filter((c) => unknownIn(c, assets).length === 0);
  return known.some((c) => !holds(c, assets)) ? [] : condition.all.flatMap((c) => unknownIn(c, assets));
}

/**
 * The attributes that a figure hangs on and that are not known.
 * @example unknownFor({ attribute: 'suit.volume' }, { suit: {} }) // ['suit.volume']
 */
export function unknownFor(value: Value, assets: AttributesByRole): readonly AttributeRef[] {
  if ('attribute' in value) return attributeOf(assets, value.attribute) === undefined ? [value.attribute] : [];
  if ('formula' in value) return Object.values(value.of).flatMap((v) => unknownFor(v, assets));
  if (!('rows' in value)) return [];
  for (const row of value.rows) {
    const unknown = unknownIn(row.when, assets);
    if (unknown.length > 0) return unknown;
    if (holds(row.when, assets)) return unknownFor(row.value, assets);
  }
  return [];
}

/**
 * The figure a value stands for, or undefined when the asset does not say.
 * @example figure({ value: 3, unit: 'mbar' }, {}) // { value: 3, unit: 'mbar' }
 */
export function figure(value: Value, assets: AttributesByRole): Quantity | undefined {
  if ('rows' in value) {
    const row = value.rows.find((r) => holds(r.when, assets));
    return row && figure(row.value, assets);
  }
  if ('attribute' in value) {
    const found = attributeOf(assets, value.attribute);
    return isQuantity(found) ? found : undefined;
  }
  // A table is written out as rows before anything is asked of it; one that is not there gives nothing.
  if ('table' in value) return undefined;
  if (!('formula' in value)) return value;
  const given: Record<Id, Quantity> = {};
  for (const [name, v] of Object.entries(value.of)) {
    const found = figure(v, assets);
    if (!found) return undefined;
    given[name] = found;
  }
  return formulaById(value.formula)?.compute(given);
}
