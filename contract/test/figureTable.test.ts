import { readFileSync } from 'node:fs';
import { tableFlaws, tableKinds, type FigureTable } from '@grellin/core';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { describe, expect, it } from 'vitest';
import { figureTableJsonSchema, figureTableSchema, parse } from '../src';

/** The file of a table: its schema, its published schema and what docs/tables.md shows are one. */
const read = (name: string): string => readFileSync(new URL(`../../docs/${name}`, import.meta.url), 'utf8');
const published = JSON.parse(read('figure-table.schema.json')) as Record<string, unknown>;
const page = read('tables.md');
const shown = JSON.parse(/```json\n([\s\S]*?)```/.exec(page)?.[1] ?? '') as FigureTable;

describe('the file of a table', () => {
  const valid = new Ajv2020({ strict: false }).compile(published);
  it('has the published JSON Schema that its own schema makes', () => expect(published).toEqual(figureTableJsonSchema()));
  it('is shown as it is, and sound', () => {
    expect(valid(shown)).toBe(true);
    expect(tableFlaws(parse<FigureTable>(figureTableSchema, shown))).toEqual([]);
  });
  it('every kind stands on the page', () => {
    for (const k of tableKinds) expect(page).toContain(`| \`${k.id}\` | \`${k.by.id}\` | ${k.gives.map((g) => `\`${g.id}\``).join(', ')} |`);
  });
  it.each([
    ['sound', {}, true],
    ['of a kind that nobody knows', { kind: 'else' }, false],
    ['without a line', { lines: [] }, false],
    ['without its source', { source: undefined }, false],
    ['from no day', { from: '2026-13-01' }, false],
    ['with something else in it', { colour: 'red' }, false],
    ['with a unit that is none', { lines: [{ upTo: { value: 1, unit: 'furlong' }, gives: {} }] }, false],
  ])('%s is judged alike by both', (_, more, sound) => {
    const given: unknown = JSON.parse(JSON.stringify({ ...shown, ...more }));
    const own = ((): boolean => {
      try {
        parse(figureTableSchema, given);
        return true;
      } catch {
        return false;
      }
    })();
    expect(own).toBe(sound);
    // A day that the calendar does not have, and a unit that is none, are no matter of the schema’s shape.
    if (!/day|unit/.test(_)) expect(valid(given)).toBe(sound);
  });
});
