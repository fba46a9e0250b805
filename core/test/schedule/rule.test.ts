import { describe, expect, it } from 'vitest';
import { dueAfter, earliestFor, firstDue, isInterval, lifeEnd, mayBeFilled, onTime, owedByUse, stampValidThrough, usableUntil, usualRule, type CalendarRule, type Stamp } from '../../src/schedule'; // prettier-ignore

const rolling = (interval: string, stamp: Stamp = 'day'): CalendarRule => ({ ...usualRule, interval, stamp, anchor: '2000-01-01' });

describe('intervals on calendar dates (Reg. 1182/71 art. 3(2)(c), from memory)', () => {
  it.each([
    ['2023-01-31', 'P1M', '2023-02-28'],
    ['2024-01-31', 'P1M', '2024-02-29'],
    ['2024-02-29', 'P12M', '2025-02-28'],
    ['2024-02-29', 'P48M', '2028-02-29'],
    ['2096-02-29', 'P48M', '2100-02-28'],
    ['2024-02-29', 'P30M', '2026-08-29'],
    ['2023-08-31', 'P30M', '2026-02-28'],
    ['2024-12-31', 'P2M', '2025-02-28'],
    ['2024-05-31', 'P18M', '2025-11-30'],
    ['2024-01-31', 'P30D', '2024-03-01'],
    ['2023-12-01', 'P90D', '2024-02-29'],
    ['2023-01-30', 'P1M1D', '2023-03-01'],
    ['2024-02-29', 'P365D', '2025-02-28'],
    ['2024-02-29', 'P2Y6M', '2026-08-29'],
    ['2024-01-01', 'P4W', '2024-01-29'],
  ])('%s + %s is %s', (from, interval, want) => expect(dueAfter(rolling(interval), from, null)).toBe(want));

  it.each([
    ['2025-01-20', '2025-01-31', '2025-02-20'],
    ['2025-01-31', '2025-02-28', '2025-02-28'],
    ['2025-02-10', '2025-02-28', '2025-03-10'],
  ])('done %s: anchored %s, rolling %s', (done, anchored, rolled) => {
    expect(dueAfter({ ...usualRule, interval: 'P1M', counting: 'anchored', anchor: '2024-12-31' }, done, null)).toBe(anchored);
    expect(dueAfter(rolling('P1M'), done, null)).toBe(rolled);
  });

  it('by the window keeps its anchor, and takes a new one when early or late', () => {
    const window: CalendarRule = { ...usualRule, interval: 'P1Y', counting: 'window', early: 'P1M', anchor: '2024-03-15' };
    expect(dueAfter(window, '2025-02-20', '2025-03-15')).toBe('2026-03-15');
    expect(dueAfter(window, '2025-02-15', '2025-03-15')).toBe('2026-03-15');
    expect(dueAfter(window, '2025-02-14', '2025-03-15')).toBe('2026-02-14');
    expect(dueAfter(window, '2025-03-20', '2025-03-15')).toBe('2026-03-20');
    expect(dueAfter(window, '2025-03-20', null)).toBe('2026-03-20');
    expect(earliestFor(window, '2025-03-15')).toBe('2025-02-15');
    expect(earliestFor(rolling('P1Y'), '2025-03-15')).toBeNull();
    expect(dueAfter({ ...window, early: null }, '2025-01-01', '2025-03-15')).toBe('2026-03-15');
  });

  it('once is due one interval after its beginning, and never again', () => {
    const once: CalendarRule = { ...usualRule, interval: 'P5Y', counting: 'once', anchor: '2021-03-09' };
    expect(firstDue(once)).toBe('2026-03-09');
    expect(firstDue({ ...once, stamp: 'month' })).toBe('2026-03-31');
    expect(dueAfter(once, '2026-02-01', '2026-03-09')).toBeNull();
    expect(firstDue({ ...once, interval: null })).toBeNull();
  });

  it('needs an interval that is one', () => {
    for (const wrong of ['PT1M', 'P0D', '-P1M', 'P1.5M', 'monthly']) expect(isInterval(wrong), wrong).toBe(false);
    expect(() => dueAfter(rolling('PT1M'), '2025-01-01', null)).toThrow(RangeError);
  });
});

describe('month stamps (49 CFR 180.205(c), from memory)', () => {
  it.each([
    ['2021-03', 'P5Y', '2026-03-31'],
    ['2023-08', 'P30M', '2026-02-28'],
    ['2022-02', 'P24M', '2024-02-29'],
    ['2024-02', 'P12M', '2025-02-28'],
  ])('%s + %s is good through %s', (stamp, interval, want) => expect(stampValidThrough(stamp, interval)).toBe(want));
  it('a day test under a month rule is due at month end', () => {
    expect(dueAfter(rolling('P5Y', 'month'), '2021-03-09', null)).toBe('2026-03-31');
    expect(dueAfter(rolling('P5Y'), '2021-03-09', null)).toBe('2026-03-09');
    expect(() => stampValidThrough('03-2021', 'P5Y')).toThrow(RangeError);
  });
  it('fills up to the due day, and not on the day after (SCH-E1)', () => {
    expect(mayBeFilled('2026-03-31', '2026-03-31')).toBe(true);
    expect(mayBeFilled('2026-03-31', '2026-04-01')).toBe(false);
    expect(onTime('2026-03-31', '2026-04-01')).toBe(false);
  });
  it.each([
    ['untilEmptied', '2026-03-20', null, '9999-12-31'],
    ['untilEmptied', '2026-03-20T09:00:00Z', '2026-03-19T09:00:00Z', '9999-12-31'],
    ['untilEmptied', '2026-03-31', null, '9999-12-31'],
    ['untilEmptied', '2026-03-20', '2026-05-01', '2026-03-31'],
    ['untilEmptied', '2026-04-20', null, '2026-03-31'],
    ['untilEmptied', null, null, '2026-03-31'],
    ['months', '2026-03-20', null, '2026-06-30'],
    ['blocked', '2026-03-20', null, '2026-03-31'],
    [null, '2026-03-20', null, '2026-03-31'],
  ] as const)('rule %s, filled %s, emptied %s: usable until %s (SCH-E1)', (rule, filled, emptied, want) =>
    expect(usableUntil(rule, '2026-03-31', filled, emptied)).toBe(want),
  );
  it('ends a life by month or by day', () => {
    expect(lifeEnd('2012-06', 'P15Y')).toBe('2027-06-30');
    expect(lifeEnd('2012-06-03', 'P15Y')).toBe('2027-06-03');
    expect(lifeEnd('2012-06', null)).toBeNull();
  });
});

describe('owed by use', () => {
  it.each([
    ['beforeUse', null, null, null, true],
    ['beforeUse', '2026-01-02', '2026-01-01', null, false],
    ['beforeUse', '2026-01-01', '2026-01-02', null, true],
    ['beforeUse', '2026-01-01', null, null, false],
    ['afterUse', '2026-01-01', '2026-02-01', null, true],
    ['afterUse', '2026-02-02', '2026-02-01', null, false],
    ['afterUse', null, null, null, false],
    ['afterRepair', '2026-01-01', null, '2026-02-01', true],
    ['afterRepair', null, null, '2026-02-01', true],
    ['afterRepair', '2026-03-01', null, '2026-02-01', false],
  ] as const)('%s, done %s, used %s, repaired %s: %s', (trigger, done, used, repaired, want) =>
    expect(owedByUse(trigger, { done, used, repaired })).toBe(want),
  );
});

describe('what happens at one and the same time', () => {
  const at = '2026-03-20T10:00:00Z';
  it('filled and emptied: it is empty', () => {
    expect(usableUntil('untilEmptied', '2026-03-31', at, at)).toBe('2026-03-31');
    expect(usableUntil('untilEmptied', '2026-03-31', at, '2026-03-20T09:59:59Z')).toBe('9999-12-31');
  });
  it('tested and used: the test may have come before, and is asked for again', () => {
    expect(owedByUse('afterUse', { done: at, used: at })).toBe(true);
    expect(owedByUse('beforeUse', { done: at, used: at })).toBe(true);
    expect(owedByUse('afterUse', { done: '2026-03-20T10:00:01Z', used: at })).toBe(false);
  });
});
