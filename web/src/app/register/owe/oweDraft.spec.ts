import { catalogue, procedureById, type Procedure } from '@grellin/core';
import { describe, expect, it } from 'vitest';
import { draftFor, draftLacks, obligationOf, proceduresFor, type OweDraft } from './oweDraft';

const suit = procedureById('suit.inflation');
const draft = (more: Partial<OweDraft> = {}): OweDraft => ({ ...draftFor(suit, '2026-11-25'), ...more });
const published = catalogue.map((document) => ({ document }));

describe('a check that an item shall owe', () => {
  it('begins as the first rule set, every year from today', () => {
    expect(draftLacks(draft())).toBeNull();
    expect(obligationOf('a', draft())).toEqual({
      asset: 'a',
      procedure: 'suit.inflation',
      ruleSet: suit?.ruleSets[0]?.id,
      interval: 'P1Y',
      counting: 'rolling',
      anchor: '2026-11-25',
      early: null,
      stamp: 'day',
      triggers: [],
      filled: null,
      hard: false,
    });
  });

  it.each<[string, Partial<OweDraft>, string]>([
    ['nothing that would ever make it owed', { every: { count: '', of: 'Y' } }, 'never be owed'],
    ['no number', { every: { count: 'two', of: 'Y' } }, 'whole number'],
    ['a part of one', { every: { count: '1.5', of: 'Y' } }, 'whole number'],
    ['nought', { every: { count: '0', of: 'M' } }, 'whole number'],
    ['no day', { anchor: '' }, 'from which day'],
    ['a window that is none', { counting: 'window', early: { count: '-1', of: 'M' } }, 'How early'],
    ['no procedure', { procedure: '' }, 'which check'],
  ])('is refused before it is asked for: %s', (_, more, words) => expect(draftLacks(draft(more))).toContain(words));

  it('may be owed by what happens alone, and may have a window, a month stamp, and a rule for what was filled', () => {
    const given = draft({
      every: { count: '30', of: 'M' },
      counting: 'window',
      early: { count: '3', of: 'M' },
      stamp: 'month',
      triggers: ['afterUse', 'afterRepair'],
      filled: 'months',
      hard: true,
    });
    expect(obligationOf('a', given)).toMatchObject({ interval: 'P30M', early: 'P3M', stamp: 'month', triggers: ['afterUse', 'afterRepair'], filled: 'months', hard: true }); // prettier-ignore
    expect(obligationOf('a', draft({ every: { count: ' ', of: 'Y' }, triggers: ['onReceipt'] })).interval).toBeNull();
    // A window that is not asked for is not sent along.
    expect(obligationOf('a', draft({ early: { count: '3', of: 'M' } })).early).toBeNull();
  });

  it('is chosen from what fits the class and is not owed yet, an officer’s own edition in place of the built-in one', () => {
    const titles = (kind: string, owed: readonly string[] = []): string[] => proceduresFor(published, kind, owed).map((p) => p.id);
    expect(titles('gas-tight-suit')).toContain('suit.inflation');
    expect(titles('gas-tight-suit', ['suit.inflation'])).not.toContain('suit.inflation');
    expect(titles('sealed-store')).not.toContain('suit.inflation');
    expect(titles('instrument')).toEqual([]);
    const own = { ...(suit as Procedure), title: 'Our own inflation test' };
    const all = proceduresFor([...published, { document: own }], 'gas-tight-suit', []);
    expect(all.filter((p) => p.id === 'suit.inflation').map((p) => p.title)).toEqual(['Our own inflation test']);
  });
});
