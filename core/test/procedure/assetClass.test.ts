import { describe, expect, it } from 'vitest';
import { assetClass, assetClasses, attributeInWords, catalogue, oddAttributes, sameDimension, unitRow, valuesOf } from '../../src';
import { setupFor } from '../../src/practice';

const choicesOf = (kind: string, attribute: string): readonly string[] => {
  const type = assetClass(kind)?.attributes.find((a) => a.id === attribute)?.type;
  return type?.kind === 'choice' ? type.choices.map((c) => c.id) : [];
};

describe('what an item of a class may say of itself', () => {
  it('can be answered with every value that a rule of the catalogue hangs on', () => {
    let asked = 0;
    for (const procedure of catalogue)
      for (const [role, row] of Object.entries(procedure.roles))
        for (const kind of row.classes)
          for (const attribute of assetClass(kind)?.attributes ?? []) {
            const values = valuesOf(procedure, `${role}.${attribute.id}`);
            if (attribute.type.kind === 'yesNo' || values.length === 0) continue;
            asked += 1;
            expect(choicesOf(kind, attribute.id), `${procedure.id}: ${kind}, ${attribute.id}`).toEqual(expect.arrayContaining([...values]));
          }
    expect(asked).toBeGreaterThan(15);
  });
  it('has units of its kind, and a range that means something, for every figure', () => {
    for (const { id, attributes } of assetClasses)
      for (const { id: attribute, type } of attributes) {
        if (type.kind !== 'quantity') continue;
        for (const unit of type.usual) expect(unitRow(unit)?.dimension, `${id}.${attribute} ${unit}`).toBe(type.dimension);
        expect(sameDimension(type.plausible.low.unit, type.usual[0])).toBe(true);
        expect(type.plausible.low.value).toBeLessThan(type.plausible.high.value);
      }
  });
  it.each(catalogue.flatMap((p) => p.ruleSets.map((r) => [p.id, r.id] as const)))('is nothing odd on the practice items of %s, %s', (procedure, ruleSet) => {
    const classes = Object.values(catalogue.find((p) => p.id === procedure)?.roles ?? {})[0]?.classes ?? [];
    for (const { attributes } of Object.values(setupFor(procedure, ruleSet).assets))
      for (const kind of classes) {
        expect(oddAttributes(kind, attributes)).toEqual([]);
        for (const [name, value] of Object.entries(attributes))
          if (typeof value === 'string' && choicesOf(kind, name).length > 0) expect(choicesOf(kind, name)).toContain(value);
      }
  });
});

describe('a figure that nobody would expect', () => {
  it.each([
    ['gas-tight-suit', 'volume', 220, 'm3', 'Inside volume: 220 m³ is more than 1000 L'],
    ['breathing-set', 'filling', 300, 'Pa', 'Nominal filling pressure: 300 Pa is less than 50 bar'],
    ['cylinder', 'testPressure', 450, 'MPa', 'Test pressure, from the marking: 450 MPa is more than 1500 bar'],
  ])('of a %s is named with why: %s %d %s', (kind, attribute, value, unit, words) => {
    expect(oddAttributes(kind, { [attribute]: { value, unit } })).toEqual([expect.objectContaining({ id: attribute, words })]);
  });
  it.each([
    ['gas-tight-suit', 'volume', 220, 'L'],
    ['gas-tight-suit', 'volume', 50, 'L'],
    ['gas-tight-suit', 'volume', 1, 'm3'],
    ['breathing-set', 'filling', 30, 'MPa'],
    ['breathing-set', 'filling', 4500, '[psi]'],
  ])('is not what a %s has: %s of %d %s', (kind, attribute, value, unit) => {
    expect(oddAttributes(kind, { [attribute]: { value, unit } })).toEqual([]);
  });
});

it('is told as people call it', () => {
  const row = assetClass('breathing-circuit')?.attributes.find((a) => a.id === 'layout');
  if (!row) throw new Error('no layout');
  expect(attributeInWords(row, 'mapleson-a')).toBe('Mapleson A');
  expect(attributeInWords(row, 'as it was written')).toBe('as it was written');
  expect(attributeInWords(row, true)).toBe('yes');
  expect(attributeInWords(row, { value: 2, unit: 'L' })).toBe('2 L');
});
