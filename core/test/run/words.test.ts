import { describe, expect, it } from 'vitest';
import { columnFluids, columnPressure, quantity, unitLabel } from '../../src/quantity';
import { findingInWords, limitInWords, reasonCodes, reasonInWords, refusalCodes, refusalInWords } from '../../src/run';
import { catalogue } from '../../src/procedure';
import { setupFor } from '../../src/practice';
import { planOf } from '../testing/attempt';

/** Whatever a reason asks for, it is given a figure. */
const anything = (value: number, words: Readonly<Record<string, string>> = {}): never =>
  new Proxy({}, { get: (_, name) => words[String(name)] ?? { value, unit: '[psi]' } }) as never;

describe('wording', () => {
  it.each(reasonCodes.map((c) => [c]))('%s says something whole', (code) => {
    for (const values of [
      anything(1.5, { decimals: '2', grade: 'stream' }),
      anything(-2, { op: '<=', grade: 'grows', decimals: '2', accuracy: 'none', high: 'endless', bound: 'lower', reseat: 'not seen', blowdown: 'not seen' }),
      {},
    ]) {
      const said = reasonInWords({ code, values });
      expect(said.length).toBeGreaterThan(1);
      expect(said).not.toMatch(/undefined|NaN|\[object/);
    }
  });
  it.each(refusalCodes.map((c) => [c]))('%s says something whole', (code) =>
    expect(refusalInWords({ code, values: anything(0, { why: 'neverReached' }) }).length).toBeGreaterThan(10),
  );
  it('says every limit of the catalogue', () => {
    for (const p of catalogue)
      for (const r of p.ruleSets) {
        const assets = Object.fromEntries(Object.entries(setupFor(p.id, r.id).assets).map(([role, a]) => [role, a.attributes]));
        for (const l of planOf(p, r.id, assets).limits) expect(limitInWords(l)).toMatch(/ (under|at most|over|at least) /);
      }
  });
  it('says a finding without an allowance, and one without a reason', () => {
    const plain = { stage: 's', role: 'r', channel: null, attempt: 1, engine: 'e', verdict: 'pass', observed: null, limit: null, allowancePercent: null, confidence: null, reasons: [], evidence: [] } as const; // prettier-ignore
    expect(findingInWords(plain)).toBe('');
    expect(findingInWords({ ...plain, reasons: [{ code: 'dry', values: { places: '3' } }] })).toBe('All 3 places soaped, no leak');
  });
});

describe('a column names its liquid (NIST SP 811)', () => {
  it.each([
    [1, '[in_i]', 'water', 249.08891],
    [1, '[in_i]', 'water-4C', 249.082],
    [1, '[in_i]', 'water-60F', 248.84],
    [25, 'mm', 'water', 245.16625],
    [1, 'mm', 'mercury', 133.322387415],
  ])('%f %s of %s', (height, unit, fluid, pascals) => {
    expect(Math.abs(columnPressure({ value: height, unit }, fluid).value / pascals - 1)).toBeLessThan(3e-5);
  });
  it('refuses a liquid nobody knows, and a number that is none', () => {
    expect(columnFluids.every((f) => f.density > 0 && f.source !== '')).toBe(true);
    expect(() => columnPressure({ value: 1, unit: 'm' }, 'soup')).toThrow(RangeError);
    expect(() => quantity(Number.NaN, 'Pa')).toThrow(RangeError);
    expect(quantity(1, 'Pa')).toEqual({ value: 1, unit: 'Pa' });
    expect(unitLabel('moon')).toBe('moon');
  });
});
