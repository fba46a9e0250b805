import { describe, expect, it } from 'vitest';
import { columnFluids, columnPressure, quantity, unitLabel } from '../../src/quantity';
import {
  confidenceFrom,
  confidenceInWords,
  findingInWords,
  limitInWords,
  reasonCodes,
  reasonGiven,
  reasonInWords,
  refusalCodes,
  refusalInWords,
  verdictSentence,
} from '../../src/run';
import { catalogue, type Reason } from '../../src/procedure';
import { exampleOf } from '../../src/practice';
import type { Finding } from '../../src/method';
import { practised } from '../testing/attempt';

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
      const said = reasonInWords({ code, values } as Reason); // an old record may lack a value
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
        for (const l of practised(p.id, r.id).limits) expect(limitInWords(l)).toMatch(/ (under|at most|over|at least) /);
      }
  });
  it('says a finding without an allowance, and one without a reason', () => {
    const plain = { stage: 's', role: 'r', channel: null, attempt: 1, engine: 'e', verdict: 'pass', observed: null, limit: null, allowancePercent: null, confidence: null, reasons: [], evidence: [] } as const; // prettier-ignore
    expect(findingInWords(plain)).toBe('');
    expect(findingInWords({ ...plain, reasons: [{ code: 'dry', values: { places: '3' } }] })).toBe('All 3 places soaped, no leak');
  });
});

describe('a reason given', () => {
  const { plan, stage } = exampleOf('suit.inflation', 'inflate');
  const at = { id: 'e', source: 's', n: 1, at: 0 };
  it.each([
    [{ kind: 'began', stage: stage.id, attempt: 2, reason: 'why' }, `${stage.title}: begun again`],
    [{ kind: 'ended', stage: stage.id, attempt: 1, reason: 'why' }, `${stage.title}: broken off`],
    [{ kind: 'answered', item: 'nowhere', answer: 'no', reason: 'why' }, 'nowhere: no'],
    [{ kind: 'withdrawn', event: 'x', reason: 'why' }, 'Taken back'],
    [{ kind: 'disturbed', note: 'why' }, 'Touched'],
    [{ kind: 'amended', note: 'why' }, 'Note'],
    [{ kind: 'abandoned', reason: 'why' }, 'The run: abandoned'],
  ] as const)('%o is told with its words', (body, said) => expect(reasonGiven(plan, { ...at, ...body })).toEqual({ said, reason: 'why' }));
  it('is not invented where none was given', () => {
    expect(reasonGiven(plan, { ...at, kind: 'began', stage: stage.id, attempt: 1 })).toBeNull();
    expect(reasonGiven(plan, { ...at, kind: 'sealed' })).toBeNull();
    expect(reasonGiven(plan, { ...at, kind: 'abandoned', reason: '' })).toBeNull();
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

describe('what is said beside a verdict', () => {
  const finding = (conforms: number, more: Partial<Finding> = {}): Finding => ({
    stage: 's', role: 'r', attempt: 1, engine: 'e/1', verdict: 'pass', observed: null, limit: null, allowancePercent: null, reasons: [], evidence: [], channel: null,
    confidence: { conforms, u: { value: 0.0412, unit: 'mbar' }, correlation: 0.9 }, ...more,
  }); // prettier-ignore
  it.each([
    [0.999, 'over 99 %'],
    [0.001, 'under 1 %'],
    [0.744, '74 %'],
  ])('confidence %f is %s', (conforms, said) => {
    expect(confidenceInWords(finding(conforms))).toBe(`With all that its gauge may err: ${said} sure that it keeps the limit`);
    expect(confidenceFrom(finding(conforms))).toContain('u = 0.041 mbar, correlation');
  });
  it('says nothing where nothing was worked out', () => {
    expect(confidenceInWords(finding(1, { confidence: null }))).toBeNull();
    expect(confidenceFrom(finding(1, { confidence: null }))).toBeNull();
  });
  it('a refusal says its reason, and leaves out what it does not know', () => {
    expect(refusalInWords({ code: 'step.unmet', values: { why: 'noReading', channel: 'tank' } })).toMatch(/tank/);
    expect(refusalInWords({ code: 'step.unmet', values: { why: 'never heard of' } })).not.toMatch(/never heard of/);
    expect(refusalInWords({ code: 'source.countWrong', values: {} })).toMatch(/came where/);
  });
});

it.each([
  ['pass', 'tight', 'GS-01 is tight'],
  ['pass', 'passes', 'GS-01 passes'],
  ['pass', 'ready', 'GS-01 is ready'],
  ['fail', 'leaks', 'GS-01 leaks'],
  ['fail', 'condemned', 'GS-01 is condemned'],
  ['void', 'void', 'GS-01: void'],
  ['undecided', 'cannot tell', 'GS-01: cannot tell'],
] as const)('a verdict of %s in the word %s is said: %s', (verdict, word, said) => expect(verdictSentence('GS-01', verdict, word)).toBe(said));
