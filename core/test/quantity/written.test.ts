import { describe, expect, it } from 'vitest';
import { isFiner, numbersIn } from '../../src/quantity';

describe('a number as people write it', () => {
  it.each<[string, readonly number[]]>([
    ['4.02', [4.02]],
    ['4,02', [4.02]],
    [' −0,5 ', [-0.5]],
    ['0,430', [0.43]],
    ['1000,125', [1000.125]],
    ['7.430', [7.43]],
    ['7,430', [7.43, 7430]],
    ['−7,430', [-7.43, -7430]],
    ['123,456', [123.456, 123456]],
    ['1,234,567', [1234567]],
    ['1,234.5', [1234.5]],
    ['7 430', [7430]],
    ['7\u2009430,25', [7430.25]],
    ['1/2', [0.5]],
    ['1 1/4', [1.25]],
    ['−1 1/4', [-1.25]],
    ['2-3/8', [2.375]],
  ])('%s is %j', (text, numbers) => expect(numbersIn(text)).toEqual(numbers));
  it.each(['', 'abc', '1e9', '4.0.2', '4 02', '1/0', '1,23,4', '--1', '1 2 3', '12,3456,7', '.5', '5.', '1,234,56'])('%j is none', (text) =>
    expect(numbersIn(text)).toEqual([]),
  );
});

describe('digits that a gauge does not show', () => {
  const psi = (value: number) => ({ value, unit: '[psi]' });
  it.each([
    [3.4, 1, true],
    [3, 1, false],
    [3.5, 0.5, false],
    [16.55, 0.01, false],
    [16.555, 0.01, true],
    [-0.25, 0.1, true],
    [300, 10, false],
    [305, 10, true],
  ])('%f on steps of %f: %s', (value, step, finer) => expect(isFiner(psi(value), psi(step))).toBe(finer));
  it('say nothing in another unit, or of a gauge without a step', () => {
    expect(isFiner({ value: 0.23442, unit: 'bar' }, psi(1))).toBe(false);
    expect(isFiner(psi(3.4), psi(0))).toBe(false);
  });
});
