import { describe, expect, it } from 'vitest';
import { catalogue, mondayOf, usualMinutes, weekOf, weeksToTest, type Procedure, type RuleSet } from '../../src';

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
  // Every clock of the rule set, and the steps, items and places that it is made of, in the minutes of a pair of hands (common practice): counted here anew.
  const counted = (p: Procedure, r: RuleSet): number => {
    const clock = (id: string): number => {
      const value = r.parameters[id]?.value;
      if (value === undefined || !('unit' in value)) return value === undefined ? 0 : 10;
      return { s: 1 / 60, min: 1, h: 60 }[value.unit] === undefined ? 0 : value.value * ({ s: 1 / 60, min: 1, h: 60 }[value.unit] ?? 0);
    };
    return p.stages
      .filter((s) => !r.skip.includes(s.id) && !s.seeks && !s.decides)
      .reduce((sum, { steps, method: m }) => {
        const own = m.kind === 'decay' ? clock(m.hold) : m.kind === 'check' ? m.items.length / 2 : m.kind === 'survey' ? m.route.length * 0.75 : m.kind === 'relief' ? m.repeats * 1.5 : 3.5; // prettier-ignore
        return sum + own + steps.filter((s) => !r.skip.includes(s.id)).reduce((n, s) => n + (s.kind === 'wait' ? clock(s.s) : 1.5), 0);
      }, 0);
  };
  it.each(catalogue.flatMap((p) => p.ruleSets.map((r) => [`${p.id}, ${r.id}`, p, r] as const)))(
    '%s takes its clocks and its hands, in steps of five',
    (_, p, r) => expect(usualMinutes(p, r.id)).toBe(Math.max(5, Math.ceil(counted(p, r) / 5 - 1e-9) * 5)),
  );
  it('a suit at 16.5 mbar takes its ten minutes of topping up and six of hold, and more', () => {
    const suit = catalogue.find((p) => p.id === 'suit.inflation');
    expect(suit && usualMinutes(suit, 'mbar-16.5')).toBeGreaterThan(16);
  });
});
