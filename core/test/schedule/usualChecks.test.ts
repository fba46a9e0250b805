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
    expect(usualChecksOf('trailer')).toEqual([]);
  });
});
