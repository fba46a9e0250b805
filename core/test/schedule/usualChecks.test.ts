import { describe, expect, it } from 'vitest';
import { assetClass, dueAfter, procedureById, usualChecks, usualChecksOf, useTriggers } from '../../src';

describe('what a class usually owes', () => {
  it.each(usualChecks.map((c) => [`${c.class}: ${c.procedure}`, c] as const))('%s names what exists, and where its interval comes from', (_, c) => {
    expect(assetClass(c.class)).toBeDefined();
    const procedure = procedureById(c.procedure);
    expect(procedure?.ruleSets.some((r) => r.id === c.ruleSet)).toBe(true);
    expect(Object.values(procedure?.roles ?? {}).some((r) => r.classes.includes(c.class))).toBe(true);
    expect(c.source.length).toBeGreaterThan(5);
    expect(c.triggers.every((t) => useTriggers.includes(t))).toBe(true);
    if (c.interval !== null) expect((dueAfter({ ...c, anchor: '2026-01-31' }, '2026-01-31', null) ?? '') > '2026-01-31').toBe(true);
    else expect(c.triggers.length).toBeGreaterThan(0);
  });
  it('is known for every class that can be tested by itself', () => {
    for (const kind of ['breathing-set', 'gas-tight-suit', 'dry-suit', 'cylinder', 'ibc', 'relief-valve', 'sealed-store', 'truck', 'anaesthetic-machine'])
      expect(usualChecksOf(kind).length, kind).toBeGreaterThan(0);
    // A trailer owes for itself, and is tested with what pulls it.
    expect(usualChecksOf('trailer').map((c) => c.procedure)).toEqual(['brakes.whole', 'brakes.strokes']);
  });
  it('hangs on what the item says of itself: each layout owes its own test, and one that says nothing the usual one', () => {
    const owes = (layout?: string, more = {}) =>
      usualChecksOf('breathing-circuit', { ...(layout === undefined ? {} : { layout }), ...more }).map((c) => c.procedure);
    expect([owes('circle'), owes('mapleson-f'), owes('mapleson-a'), owes('coaxial-d'), owes(), owes('other')]).toEqual([
      ['anaes.circle'],
      ['anaes.t-piece'],
      ['anaes.mapleson-a'],
      ['anaes.coaxial-d'],
      ['anaes.circle'],
      [],
    ]);
    // What a machine says of itself is owed beside the manual test, and takes nothing off it.
    expect(owes('circle', { automaticTest: true })).toEqual(['anaes.circle', 'anaes.automatic']);
  });
  it('two on one cycle: the outside of a tank every thirty months, under pressure every sixty; the UN test is one', () => {
    const owes = (school?: string) => usualChecksOf('ibc', school === undefined ? {} : { school }).map((c) => [c.procedure, c.ruleSet, c.interval]);
    expect(owes('psi-2')).toEqual([
      ['tank.ibc-look', 'general', 'P30M'],
      ['tank.ibc', 'psi-2', 'P60M'],
    ]);
    expect(owes('un')).toEqual([['tank.ibc', 'un', 'P30M']]);
    expect(owes()).toEqual(owes('un'));
  });
  it('a vehicle: the whole test and the cab each day, the applied minute each week, the strokes each month', () => {
    for (const kind of ['truck', 'bus', 'fire-apparatus'])
      expect(usualChecksOf(kind).map((c) => [c.procedure, c.interval])).toEqual([
        ['brakes.whole', 'P1D'],
        ['brakes.in-cab', 'P1D'],
        ['brakes.applied-loss', 'P1W'],
        ['brakes.strokes', 'P1M'],
      ]);
  });
});

describe('days that are fixed', () => {
  const yearly = { interval: 'P1Y', counting: 'anchored', anchor: '2020-06-30', early: 'P3M', stamp: 'day' } as const;
  it.each([
    ['done inside its early window counts for the day it was due', '2025-04-15', '2026-06-30'],
    ['on the first day of the window', '2025-03-30', '2026-06-30'],
    ['a day before the window it does not', '2025-03-29', '2025-06-30'],
    ['on its day', '2025-06-30', '2026-06-30'],
    ['late it keeps its days', '2025-09-01', '2026-06-30'],
    ['a year late too', '2026-07-01', '2027-06-30'],
  ])('%s', (_, done, next) => expect(dueAfter(yearly, done, '2025-06-30')).toBe(next));
  it('without a window an early test is one more, and the day stands', () =>
    expect(dueAfter({ ...yearly, early: null }, '2025-05-01', '2025-06-30')).toBe('2025-06-30'));
});
