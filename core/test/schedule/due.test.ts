import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addDays, daysBetween, dueAfter, isInterval, usualRule, type CalendarRule } from '../../src/schedule';

const nextDue = (rule: Partial<CalendarRule> & Pick<CalendarRule, 'interval' | 'anchor'>, done: string): string =>
  dueAfter({ ...usualRule, ...rule }, done, null) ?? 'none';

describe('the next due date', () => {
  // SCH-E3: EU Reg. 1182/71 art. 3(2)(c); a missing day becomes the month's last. From memory.
  it.each([
    ['2025-01-31', 'P1M', '2025-02-28'],
    ['2024-02-29', 'P12M', '2025-02-28'],
    ['2024-02-29', 'P48M', '2028-02-29'],
    ['2026-11-25', 'P1Y', '2027-11-25'],
    ['2026-11-25', 'P2W', '2026-12-09'],
    ['2021-03-31', 'P5Y', '2026-03-31'],
  ])('rolls from %s by %s to %s', (done, interval, due) => expect(nextDue({ interval, counting: 'rolling', anchor: '2000-01-01' }, done)).toBe(due));

  // SCH-E4: anchored counts anchor + n periods; rolling from a clamped date drifts.
  it('anchored does not drift where rolling does', () => {
    const rule = { interval: 'P1M', anchor: '2025-01-31' } as const;
    const first = nextDue({ ...rule, counting: 'anchored' }, '2025-01-31');
    expect(first).toBe('2025-02-28');
    expect(nextDue({ ...rule, counting: 'anchored' }, first)).toBe('2025-03-31');
    expect(nextDue({ ...rule, counting: 'rolling' }, first)).toBe('2025-03-28');
  });

  const longest = { P1D: 1, P1W: 7, P1M: 31, P1Y: 366 };
  it('anchored leads to the first fixed day after the test, however long ago the anchor', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 9000 }), fc.constantFrom('P1D' as const, 'P1W' as const, 'P1M' as const, 'P1Y' as const), (days, interval) => {
        const done = addDays('2001-05-31', days);
        const due = nextDue({ interval, counting: 'anchored', anchor: '2001-05-31' }, done);
        expect(daysBetween(done, due)).toBeGreaterThan(0);
        expect(daysBetween(done, due)).toBeLessThanOrEqual(longest[interval]);
      }),
      { seed: 20261125 },
    );
  });

  it.each(['P1Y', 'P30M', 'P2W', 'P90D', 'P1Y6M'])('%s is an interval', (text) => expect(isInterval(text)).toBe(true));
  it.each(['', 'P0D', '-P1M', 'PT5H', 'P1DT1H', 'monthly', 'P'])('"%s" is none', (text) => {
    expect(isInterval(text)).toBe(false);
    expect(() => nextDue({ interval: text, counting: 'rolling', anchor: '2025-01-01' }, '2025-01-01')).toThrow(RangeError);
  });
  it('refuses a date that does not exist', () =>
    expect(() => nextDue({ interval: 'P1M', counting: 'rolling', anchor: '2025-01-01' }, '2025-02-30')).toThrow(RangeError));
});
