import { describe, expect, it } from 'vitest';
import { walkOf } from '../../src/practice';
import { inTurn } from '../testing/turn';

const seeds = inTurn(
  Array.from({ length: 20 }, (_, k) => 1000 + 25 * k),
  10,
);

describe('somebody who says yes to everything, at the earliest moment', () => {
  // Five hundred walks through the whole catalogue, twenty-five a test; `npm run lies` walks on. The seed is told where it fails.
  it.each(seeds)('nor does it by typing, taking back, repeating, breaking off or calling it never coming (seeds from %d)', { timeout: 240_000 }, (from) => {
    const escaped = Array.from({ length: 25 }, (_, k) => from + k).flatMap((seed) => {
      const walk = walkOf(seed);
      return walk.escaped ? [{ seed, typed: walk.typed, verdict: walk.result.verdict, ...walk.item }] : [];
    });
    expect(escaped).toEqual([]);
  });
});
