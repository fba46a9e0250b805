import { describe, expect, it } from 'vitest';
import { attributesOf } from '../../src/procedure';
import { quantitiesIn } from '../../src/quantity';
import { pastedThings } from '../../src/register';

/** A printout is read as far as it says something, and no further. */
const rows = attributesOf('connected-tank');
const gal = (value: number) => ({ value, unit: '[gal_us]' });
const read = (text: string) => pastedThings(text, rows);

describe('a table with headings', () => {
  it.each([
    ['tabs', 'Capacity\tUllage\tManifold\n10000\t4000\tA\n8000\t3000\tA\n'],
    ['semicolons', 'Capacity;Ullage;Manifold\n10000;4000;A\n8000;3000;A'],
    ['blanks', 'CAPACITY   ULLAGE   MANIFOLD\r\n10000      4000     A\r\n8000       3000     A\r\n'],
  ])('set apart by %s', (_, text) => {
    expect(read(text)).toEqual({
      things: [
        { capacity: gal(10_000), ullage: gal(4000), manifold: 'A' },
        { capacity: gal(8000), ullage: gal(3000), manifold: 'A' },
      ],
      unread: [],
    });
  });
  it('takes the unit that the heading or the cell says, and numbers with thousands set apart', () => {
    expect(read('Capacity (L)\tUllage\n37 854\t4000 gal\n').things).toEqual([{ capacity: { value: 37_854, unit: 'L' }, ullage: gal(4000) }]);
  });
  it('hands back what it cannot read, and never shifts a column', () => {
    expect(read('SITE 12 INVENTORY\nCapacity\tUllage\n10000\t4000\n\t3000\nTOTAL 7000\n')).toEqual({
      things: [{ capacity: gal(10_000), ullage: gal(4000) }, { ullage: gal(3000) }],
      unread: ['SITE 12 INVENTORY', 'TOTAL 7000'],
    });
  });
  it('with blanks between them nobody knows which one is missing: nothing of the line is taken', () => {
    expect(read('Capacity   Ullage   Manifold\n10000      4000\n8000   3000   A\n')).toEqual({
      things: [{ capacity: gal(8000), ullage: gal(3000), manifold: 'A' }],
      unread: ['10000      4000'],
    });
  });
  it('leaves out a number that could be two, and one of another kind: whoever pasted it types it', () => {
    expect(read('Capacity\tUllage\n"7,430"\t4000\n').things).toEqual([{ ullage: gal(4000) }]);
    expect(read('Capacity\tUllage\n7,430\t4000\n').things).toEqual([{ ullage: gal(4000) }]);
    expect(read('Capacity\tUllage\n10 bar\t4000\n').things).toEqual([{ ullage: gal(4000) }]);
  });
});

describe('a line a figure', () => {
  it('begins a thing where a figure would stand twice', () => {
    const printout = 'T1 REGULAR\nCAPACITY   10000 GALS\nULLAGE = 4000 GALS\nHEIGHT 44.2 in\nT2 DIESEL\nCAPACITY: 8000 GALS\nULLAGE: 3000 GALS';
    expect(read(printout)).toEqual({
      things: [
        { capacity: gal(10_000), ullage: gal(4000) },
        { capacity: gal(8000), ullage: gal(3000) },
      ],
      unread: ['T1 REGULAR', 'HEIGHT 44.2 in', 'T2 DIESEL'],
    });
  });
  it('of nothing it makes nothing', () => {
    for (const text of ['', '\n\n', 'hello', '= = =', '__proto__: 5', 'constructor 12']) expect(read(text).things, text).toEqual([]);
  });
  it('has an end, however much is pasted', () => {
    expect(read('Capacity: 1000\n'.repeat(5000)).things.length).toBe(100);
  });
});

describe('a quantity as people write it', () => {
  it.each([
    ['4000 gals', [gal(4000)]],
    ['4000 GAL.', [gal(4000)]],
    ['4000 US gal', [gal(4000)]],
    ['1 1/4 [in_i]', [{ value: 1.25, unit: '[in_i]' }]],
    ['0,3 bar', [{ value: 0.3, unit: 'bar' }]],
    ['7,430 L', [{ value: 7.43, unit: 'L' }, { value: 7430, unit: 'L' }]], // prettier-ignore
    ['5 furlongs', []],
    ['gal', []],
  ])('%s', (text, quantities) => {
    expect(quantitiesIn(text)).toEqual(quantities);
  });
});
