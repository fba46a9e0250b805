import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { catalogue, checkProcedure, drawings, drawingSvg, procedureById, type Procedure } from '../../src/procedure';
import { drawn } from '../../src/procedure/catalogue/drawn';
import { itemsOf } from '../../src/procedure';

/** Hand-work is drawn once, shown where it is done, and stands on one page. */
const docs = new URL('../../../docs/', import.meta.url);
const shown = catalogue.flatMap((p) =>
  p.stages.flatMap((s) => [...s.steps, ...itemsOf(s.method)].flatMap((x) => (x.drawing === undefined ? [] : [[p.id, x.id, x.drawing] as const]))),
);

describe('a drawing', () => {
  it('has its place: nothing in the table names a step or item that is not there', () => {
    const named = Object.entries(drawn).flatMap(([procedure, ids]) => Object.entries(ids).map(([id, drawing]) => [procedure, id, drawing]));
    const wanted = new Set(shown.map((s) => s.join(' ')));
    expect(named.filter((n) => !wanted.has(n.join(' ')))).toEqual([]);
  });
  it.each(drawings.map((d) => [d.id, d] as const))(
    '%s is shown where its work is done, keeps within its field, moves something and says what is seen',
    (id, d) => {
      expect(shown.filter(([, , drawing]) => drawing === id).length).toBeGreaterThan(0);
      for (const as of ['still', 'moving', 'arrow'] as const)
        expect(
          d.strokes.some((s) => s.as === as),
          as,
        ).toBe(true);
      for (const { d: path } of d.strokes)
        for (const [, x = '', y = ''] of path.matchAll(/[ML](-?[\d.]+) (-?[\d.]+)/g)) {
          expect([Number(x) >= 0, Number(x) <= 240, Number(y) >= 0, Number(y) <= 160], path).toEqual([true, true, true, true]);
        }
      for (const l of d.labels) {
        // A letter of this size is about seven wide: no label runs out of the field.
        const wide = l.text.length * 7;
        const left = l.anchor === 'start' ? l.x : l.anchor === 'end' ? l.x - wide : l.x - wide / 2;
        expect([left >= -6, left + wide <= 246, l.y >= 10, l.y <= 158], `${id}: ${l.text}`).toEqual([true, true, true, true]);
      }
      expect(d.words.length).toBeGreaterThan(60);
    },
  );
  it('that nobody knows is refused', () => {
    const copy = JSON.parse(JSON.stringify(procedureById('tank.ibc')).replace('"needle-scale"', '"else"')) as Procedure;
    expect(checkProcedure(copy).map((f) => f.code)).toEqual(['drawingUnknown']);
  });
  it('is the same on paper', () => {
    expect(readdirSync(new URL('drawings/', docs)).sort()).toEqual(drawings.map((d) => `${d.id}.svg`).sort());
    for (const d of drawings) expect(readFileSync(new URL(`drawings/${d.id}.svg`, docs), 'utf8'), d.id).toBe(drawingSvg(d));
    const page = readFileSync(new URL('hand-work.md', docs), 'utf8');
    for (const d of drawings) expect(page).toContain(`](drawings/${d.id}.svg)`);
    for (const [procedure, id, drawing] of shown) {
      const p = procedureById(procedure);
      const text = p?.stages.flatMap((s) => [...s.steps, ...itemsOf(s.method)]).find((x) => x.id === id)?.text ?? '';
      expect(page.split(`drawings/${drawing}.svg`)[1], id).toContain(`- ${p?.title ?? ''}: ${text}`);
    }
  });
});
