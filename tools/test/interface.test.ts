import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';

const app = join(import.meta.dirname, '../../web/src');
const sources = readdirSync(app, { recursive: true, encoding: 'utf8' })
  .filter((file) => /\.(css|html|ts)$/.test(file) && !file.endsWith('.spec.ts'))
  .map((file) => ({ file, text: readFileSync(join(app, file), 'utf8') }));

/** Where something stands, a line each. */
const found = (what: RegExp, of = sources): string[] =>
  of.flatMap(({ file, text }) => text.split('\n').flatMap((line, i) => (what.test(line) ? [`${file}:${String(i + 1)} ${line.trim()}`] : [])));

/** What the theme itself is made of may have pixels: lines that are one or two of them wide on every screen. */
const LINES = 3;
/** These may only become fewer: what is left is turned over with its screen. */
const NATIVE_SELECTS = 10;
const TEMPLATE_FORMS = 18;

describe('the interface is made of its theme and its library', () => {
  it('says distances, sizes and type by tokens: no bare pixel numbers', () => {
    const pixels = found(/\d+px/);
    expect(pixels.filter((p) => !/--(line|edge|strong-edge): \dpx/.test(p))).toEqual([]);
    expect(pixels).toHaveLength(LINES);
  });

  it('has no more native selects than there were', () => {
    expect(found(/<select\b/).length).toBeLessThanOrEqual(NATIVE_SELECTS);
  });

  it('has no more files with forms in the template than there were', () => {
    expect(sources.filter(({ text }) => text.includes('[ngModel]')).length).toBeLessThanOrEqual(TEMPLATE_FORMS);
  });
});
