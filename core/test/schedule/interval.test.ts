import { describe, expect, it } from 'vitest';
import { intervalIn, isInterval, stampValidThrough } from '../../src/schedule';

/** Nobody writes ISO 8601 on a plate: what is written there is read, and what could be two things is left for the rule that refuses it. */
describe('an interval as people write it', () => {
  it.each([
    ['10 years', 'P10Y'],
    ['10 Years', 'P10Y'],
    ['one year', 'P1Y'],
    ['1 yr', 'P1Y'],
    ['18 months', 'P18M'],
    ['18m', 'P18M'],
    ['30 mo.', 'P30M'],
    ['6 weeks', 'P6W'],
    ['90 d', 'P90D'],
    ['2 years and 6 months', 'P2Y6M'],
    ['2 years, 6 months', 'P2Y6M'],
    ['2y 6m', 'P2Y6M'],
    ['P10Y', 'P10Y'],
    [' P18M ', 'P18M'],
  ])('%s is %s', (written, iso) => {
    expect(intervalIn(written)).toBe(iso);
    expect(isInterval(intervalIn(written))).toBe(true);
    expect(stampValidThrough('2026-01', intervalIn(written)) > '2026-01-31').toBe(true);
  });
  it.each(['10', 'ten years', '6 months and 2 years', '10 jears', 'years', '10 years or so', '-3 years', '1.5 years', '5 h', '99999 years'])(
    '%s is no interval, and is refused as it was written',
    (written) => {
      expect(intervalIn(written)).toBe(written);
      expect(isInterval(intervalIn(written))).toBe(false);
    },
  );
  it('nothing is nothing', () => expect(intervalIn('  ')).toBe(''));
  it('nought years is none', () => expect(isInterval(intervalIn('0 years'))).toBe(false));
});
