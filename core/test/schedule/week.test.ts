import { describe, expect, it } from 'vitest';
import { catalogue, mondayOf, usualMinutes, weekOf, weeksToTest } from '../../src';

describe('weeks', () => {
  // ISO 8601: weeks begin on Monday; 2026-11-23 and 1970-01-05 are Mondays.
  it.each([
    ['1970-01-05', 0],
    ['1970-01-11', 0],
    ['1970-01-12', 1],
    ['1970-01-04', -1],
    ['2026-11-23', 2968],
    ['2026-11-29', 2968],
    ['2026-11-30', 2969],
  ])('%s lies in week %i', (date, week) => {
    expect(weekOf(date)).toBe(week);
    expect(mondayOf(week) <= date).toBe(true);
  });

  it.each([
    ['due in the same week, three weeks early', '2026-11-27', '2026-11-25', 21, 0, 0],
    ['a window of a fortnight', '2026-12-23', '2026-11-25', 14, 2, 4],
    ['late already: only now', '2026-10-01', '2026-11-25', 21, 0, 0],
    ['a window that opens on a Saturday opens on Monday', '2026-12-19', '2026-11-25', 14, 2, 3],
    ['no day early', '2026-12-19', '2026-11-25', 0, 3, 3],
  ])('%s', (_, due, today, early, from, until) => {
    const now = weekOf(today);
    expect(weeksToTest(due, today, early)).toEqual({ from: now + from, due: now + until });
  });
});

describe('the minutes of a test', () => {
  it('are at least its clocks, for every rule set of every procedure', () => {
    for (const p of catalogue)
      for (const r of p.ruleSets) {
        const minutes = usualMinutes(p, r.id);
        expect(minutes % 5, `${p.id} ${r.id}`).toBe(0);
        expect(minutes, `${p.id} ${r.id}`).toBeGreaterThanOrEqual(5);
        expect(minutes, `${p.id} ${r.id}`).toBeLessThan(180);
      }
  });
  it('a suit at 16.5 mbar takes its ten minutes of topping up and six of hold, and more', () => {
    const suit = catalogue.find((p) => p.id === 'suit.inflation');
    expect(suit && usualMinutes(suit, 'mbar-16.5')).toBeGreaterThan(16);
  });
});
