import type { AttributesByRole, AttributeValue } from './condition';
import type { AttributeRef, Condition, Procedure } from './language';

/** Stands for any value of an attribute that a document does not name. */
const ANOTHER = 'something else';

/** The conditions that stand alone in a condition. */
function parts(condition: Condition): readonly Exclude<Condition, { readonly all: unknown }>[] {
  return 'all' in condition ? condition.all.flatMap(parts) : [condition];
}

/** Values of one attribute that between them try every way its conditions can come out. */
function valuesFor(conditions: readonly Exclude<Condition, { readonly all: unknown }>[]): readonly AttributeValue[] {
  const values: AttributeValue[] = conditions.flatMap((c): AttributeValue[] => {
    if ('is' in c) return [...c.is];
    const ends = [c.from, c.upTo, c.below].flatMap((e) => (e === undefined ? [] : 'value' in e ? [e] : [...e]));
    return ends.flatMap((e) => [e, { ...e, value: e.value - 1 }, { ...e, value: e.value + 1 }]);
  });
  const flags = values.some((v) => typeof v === 'boolean') ? [true, false] : [];
  const other = values.some((v) => typeof v === 'string') ? [ANOTHER] : [];
  const all = [...values, ...flags, ...other];
  const keys = all.map((v) => JSON.stringify(v));
  return all.filter((_, i) => keys.indexOf(keys[i] ?? '') === i);
}

/**
 * Assets that between them bring about every way in which the conditions of a procedure's stages can come out: what holds of all of them holds of every asset.
 * @example everyCase({ stages: [] }) // [{}]
 */
export function everyCase(p: Pick<Procedure, 'stages'>): readonly AttributesByRole[] {
  const byAttribute = new Map<AttributeRef, Exclude<Condition, { readonly all: unknown }>[]>();
  for (const c of p.stages.flatMap((s) => (s.when ? parts(s.when) : []))) byAttribute.set(c.attribute, [...(byAttribute.get(c.attribute) ?? []), c]);
  let cases: readonly AttributesByRole[] = [{}];
  for (const [ref, conditions] of byAttribute) {
    const dot = ref.indexOf('.');
    const [role, attribute] = [ref.slice(0, dot), ref.slice(dot + 1)];
    cases = cases.flatMap((one) => valuesFor(conditions).map((value) => ({ ...one, [role]: { ...one[role], [attribute]: value } })));
  }
  return cases;
}
