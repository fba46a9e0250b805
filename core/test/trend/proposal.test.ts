import { describe, expect, it } from 'vitest';
import { outlook } from '../../src';

const at = (on: string, percent: number) => ({ on, percent });
/** Two years of quarterly tests that use five per cent more each time. */
const drifting = ['2024-01-01', '2024-04-01', '2024-07-01', '2024-10-01', '2025-01-01', '2025-04-01', '2025-07-01', '2025-10-01'].map((on, i) =>
  at(on, 55 + i * 5 + (i % 2 === 0 ? 0.5 : -0.5)),
);

describe('what the tests of an item foretell', () => {
  it('says when it crosses if nothing is done, and proposes a day before it is due', () => {
    const o = outlook(drifting, '2025-10-02', '2026-10-01');
    expect(o?.stands).toBe(true);
    // The last is at 89.5 and grows by 20 a year: it crosses in about half a year.
    expect((o?.crosses ?? '') > '2026-03-01' && (o?.crosses ?? '') < '2026-06-01').toBe(true);
    expect((o?.low ?? '9') < (o?.crosses ?? '')).toBe(true);
    expect((o?.crosses ?? '9') < (o?.high ?? '')).toBe(true);
    expect(o?.propose).toBe(o?.earliest);
    expect((o?.propose ?? '9') <= (o?.crosses ?? '')).toBe(true);
  });
  it('proposes nothing when it is due before that anyway, nor where nothing is due', () => {
    expect(outlook(drifting, '2025-10-02', '2025-12-01')?.propose).toBeNull();
    expect(outlook(drifting, '2025-10-02', null)?.propose).toBeNull();
  });
  it('never proposes a day that has gone', () => {
    const propose = outlook(drifting, '2026-09-01', '2026-10-01')?.propose;
    expect(propose).toBe('2026-09-01');
  });
  it('says nothing of fewer than three tests, or of three on one day', () => {
    expect(outlook(drifting.slice(0, 2), '2026-01-01', null)).toBeNull();
    expect(outlook([at('2024-01-01', 1), at('2024-01-01', 2), at('2024-01-01', 3)], '2026-01-01', null)).toBeNull();
  });
  it('names no date for an item that does not change', () => {
    const flat = ['2023-01-01', '2024-01-01', '2025-01-01', '2025-06-01'].map((on, i) => at(on, 40 + (i % 2)));
    const o = outlook(flat, '2025-10-02', '2026-10-01');
    expect([o?.stands, o?.propose]).toEqual([false, null]);
  });
});
