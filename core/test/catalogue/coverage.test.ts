import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { catalogue } from '../../src/procedure';

/** docs/coverage.md is held against the documents: a row that names nothing, or a test that is not there, fails. */
const root = join(import.meta.dirname, '../../..');
const rows = readFileSync(join(root, 'docs/coverage.md'), 'utf8')
  .split('\n')
  .filter((line) => line.startsWith('| ') && !line.startsWith('| trade') && !line.startsWith('| ---'))
  .map((line) =>
    line
      .split('|')
      .slice(1, -1)
      .map((cell) => cell.trim()),
  );

describe('what is practised', () => {
  it('stands in a table of six columns for every trade', () => {
    expect(rows.length).toBeGreaterThan(80);
    expect(rows.every((r) => r.length === 6)).toBe(true);
    const procedures = new Set(rows.map((r) => r[2]));
    expect(catalogue.filter((p) => !procedures.has(p.id)).map((p) => p.id)).toEqual(['anaes.coaxial-d', 'tank.cargo']);
  });
  it.each(rows.map((r) => [`${r[2] ?? ''}: ${r[1] ?? ''}`, r] as const))('%s', (_, [, , procedure = '', stage = '', name = '', test = '']) => {
    const p = catalogue.find((x) => x.id === procedure);
    expect(p, procedure).toBeDefined();
    const found = p?.stages.find((s) => s.id === stage);
    expect(stage === '-' || found !== undefined, stage).toBe(true);
    // A limit or a prompt of the stage, a figure or an attribute that it hangs on, or something of the stage itself.
    const within = stage === '-' ? p : [found, p?.ruleSets.flatMap((r) => [...r.limits, ...(r.prompts ?? [])].filter((l) => l.stage === stage)), p?.ruleSets.map((r) => r.parameters)]; // prettier-ignore
    expect(JSON.stringify(within), name).toContain(`"${name}"`);
    expect(existsSync(join(root, test)), test).toBe(true);
  });
});
