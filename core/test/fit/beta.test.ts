import { describe, expect, it } from 'vitest';
import { lnGamma, regularisedBeta } from '../../src/fit/beta';
import { solve } from '../../src/fit/solve';

describe('the functions behind the distributions (A&S 6.1, 26.5)', () => {
  it.each([
    [0.5, Math.log(Math.sqrt(Math.PI))],
    [0.3, 1.0957979948180756],
    [1, 0],
    [5, Math.log(24)],
    [10.5, 13.940625219403763],
  ])('ln Γ(%f)', (x, want) => expect(lnGamma(x)).toBeCloseTo(want, 11));
  it.each([
    [0, 2, 3, 0],
    [1, 2, 3, 1],
    [0.5, 2, 2, 0.5],
    [0.9, 2, 3, 0.9963],
    [0.1, 0.5, 0.5, 0.2048327646991335],
  ])('I_%f(%f, %f)', (x, a, b, want) => expect(regularisedBeta(x, a, b)).toBeCloseTo(want, 10));
  it('small systems have one answer or none', () => {
    expect(solve([[0, 2], [1, 1]], [4, 5])).toEqual([3, 2]); // prettier-ignore
    expect(solve([[1, 2], [2, 4]], [1, 2])).toBeNull(); // prettier-ignore
  });
});
