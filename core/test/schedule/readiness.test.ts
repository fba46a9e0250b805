import { describe, expect, it } from 'vitest';
import { kitShort, readiness, type Owed, type Standing } from '../../src/schedule';

const on = '2026-11-25';
const fine: Standing = { condemnedBy: null, blockedBy: null, heldBy: null, lifeEnds: null, tested: true, owes: [] };
const owed = (title: string, dueOn: string | null, owedNow = false): Owed => ({ title, dueOn, owedNow, never: false });

describe('readiness', () => {
  it.each<[string, Partial<Standing>, string, string]>([
    ['nothing is owed', {}, 'ready', 'nothing owed'],
    ['never tested', { tested: false }, 'neverTested', 'not yet tested'],
    ['owes what it never passed', { owes: [{ ...owed('Suit', '2027-11-25'), never: true }] }, 'neverTested', 'Suit: not yet tested'],
    [
      'owes what it never passed, beside what it did',
      { owes: [owed('Glance', '2026-11-26'), { ...owed('Suit', '2027-11-25'), never: true }] },
      'neverTested',
      'Suit: not yet tested',
    ],
    ['never passed, and late', { owes: [{ ...owed('Suit', '2026-11-24'), never: true }] }, 'overdue', 'Suit: one day late'],
    ['never passed, and owed before use', { owes: [{ ...owed('Glance', null, true), never: true }] }, 'checkFirst', 'Glance: before the next use'],
    ['a test without a result', { heldBy: 'the suit never filled', owes: [owed('Suit', '2020-01-01')] }, 'heldBack', 'the suit never filled'],
    ['a failure beside a test without a result', { blockedBy: 'zip leaks', heldBy: 'not finished' }, 'blocked', 'zip leaks'],
    ['condemned', { condemnedBy: 'permanent expansion 11 %', blockedBy: 'zip leaks', heldBy: 'not finished' }, 'condemned', 'permanent expansion 11 %'],
    ['a failed finding', { blockedBy: 'zip leaks', owes: [owed('Suit', '2020-01-01')] }, 'blocked', 'zip leaks'],
    ['its last day of life', { lifeEnds: on }, 'ready', 'nothing owed'],
    ['the day after its life', { lifeEnds: '2026-11-24' }, 'blocked', 'its life ended on 2026-11-24'],
    ['a day late', { owes: [owed('Suit', '2026-11-24')] }, 'overdue', 'Suit: one day late'],
    ['weeks late', { owes: [owed('Suit', '2026-11-05')] }, 'overdue', 'Suit: 20 days late'],
    ['the due day', { owes: [owed('Suit', on)] }, 'due', 'Suit: due today'],
    ['tomorrow', { owes: [owed('Suit', '2026-11-26')] }, 'due', 'Suit: due tomorrow'],
    ['the last day that counts as due', { owes: [owed('Suit', '2026-12-09')] }, 'due', 'Suit: due in 14 days'],
    ['later', { owes: [owed('Suit', '2026-12-10')] }, 'ready', 'Suit: due in 15 days'],
    ['before use', { owes: [owed('Glance', null, true), owed('Suit', '2026-11-26')] }, 'checkFirst', 'Glance: before the next use'],
    ['after use, not used', { owes: [owed('Clean', null)] }, 'ready', 'Clean: owed after use'],
    ['late outweighs before use', { owes: [owed('Glance', null, true), owed('Suit', '2026-11-01')] }, 'overdue', 'Suit: 24 days late'],
    [
      'late, filled before',
      { owes: [{ ...owed('Test', '2026-11-20'), until: '9999-12-31' }] },
      'useUp',
      'Test: 5 days late; filled before, so it may be emptied, and not filled again',
    ],
    ['late, its months over', { owes: [{ ...owed('Test', '2026-08-20'), until: '2026-11-20' }] }, 'overdue', 'Test: 97 days late'],
    [
      'filled before, but something else is late',
      { owes: [{ ...owed('Test', '2026-11-20'), until: '9999-12-31' }, owed('Look', '2026-11-24')] },
      'overdue',
      'Look: one day late',
    ],
    [
      'filled before, and a check before use',
      { owes: [{ ...owed('Test', '2026-11-20'), until: '9999-12-31' }, owed('Glance', null, true)] },
      'checkFirst',
      'Glance: before the next use',
    ],
    ['of two late the longer', { owes: [owed('B', '2026-11-23'), owed('A', '2026-11-20')] }, 'overdue', 'A: 5 days late'],
  ])('%s', (_, standing, state, why) => expect(readiness({ ...fine, ...standing }, on)).toEqual({ readiness: state, why }));

  it('without a title only the words', () =>
    expect(readiness({ ...fine, owes: [{ dueOn: '2026-11-26', owedNow: false, never: false }] }, on).why).toBe('due tomorrow'));
});

describe('a kit', () => {
  const held = [
    { class: 'breathingSet', readiness: 'ready' },
    { class: 'breathingSet', readiness: 'due' },
    { class: 'breathingSet', readiness: 'checkFirst' },
    { class: 'breathingSet', readiness: 'overdue' },
    { class: 'breathingSet', readiness: 'useUp' },
    { class: 'suit', readiness: 'blocked' },
  ] as const;
  it('is short of what fewer than its minimum can serve', () =>
    expect(kitShort([{ class: 'breathingSet', minimum: 4 }, { class: 'suit', minimum: 1 }, { class: 'line', minimum: 1 }], held)).toEqual([
      { class: 'breathingSet', minimum: 4, ready: 3, held: 5 },
      { class: 'suit', minimum: 1, ready: 0, held: 1 },
      { class: 'line', minimum: 1, ready: 0, held: 0 },
    ])); // prettier-ignore
  it('is ready where it is not', () => expect(kitShort([{ class: 'breathingSet', minimum: 3 }], held)).toEqual([]));
});
