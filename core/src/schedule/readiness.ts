import { daysBetween } from './interval';
import { onTime } from './life';

/**
 * Every way an item can stand, in the order of gravity. `condemned` is for ever; `blocked` by what failed, until a test of the same kind passes; `heldBack`
 * by a test that was begun under pressure and came to no result; `neverTested` where something that it owes has never been passed; `checkFirst` may be used
 * once its check before use is done, `useUp` for what it was filled with before its test fell due: it may be emptied, and not filled again.
 */
export const readinessKinds = ['condemned', 'blocked', 'heldBack', 'overdue', 'neverTested', 'checkFirst', 'useUp', 'due', 'ready'] as const;
export type Readiness = (typeof readinessKinds)[number];

const gravity: readonly Readiness[] = readinessKinds;

/** Whether it may be used as it stands. */
export const usable = (readiness: Readiness): boolean => readiness === 'ready' || readiness === 'due' || readiness === 'useUp';

/** One check that an item owes. */
export interface Owed {
  /** Left out where it goes without saying which check is meant. */
  readonly title?: string;
  /** ISO date of the last day it is on time; null where only use or repair makes it owed. */
  readonly dueOn: string | null;
  /** The last day it may be used, where that is later than its due day because it was filled before (`usableUntil`). */
  readonly until?: string;
  /** What happened asks for it now (`owedByUse`). */
  readonly owedNow: boolean;
  /** No test of it was ever passed, here or by a certificate from outside. */
  readonly never: boolean;
}

/** What decides whether an item may be used. */
export interface Standing {
  /** What condemned it, in words, or null. No later pass takes that back. */
  readonly condemnedBy: string | null;
  /** A failed finding, a quarantine: in words, or null. */
  readonly blockedBy: string | null;
  /** A test that was begun in its test stage and has come to no pass, in words, or null. */
  readonly heldBy: string | null;
  /** ISO date of the last day of its life, or null. */
  readonly lifeEnds: string | null;
  /** Whether any test of it was ever passed. */
  readonly tested: boolean;
  readonly owes: readonly Owed[];
}

export interface Ready {
  readonly readiness: Readiness;
  /** Why, in words. */
  readonly why: string;
}

/** Days ahead that count as due. */
export const DUE_SOON_DAYS = 14;

function dueWords(days: number): string {
  if (days < 0) return days === -1 ? 'one day late' : `${String(-days)} days late`;
  if (days === 0) return 'due today';
  return days === 1 ? 'due tomorrow' : `due in ${String(days)} days`;
}

function byObligation({ title, dueOn, until, owedNow, never }: Owed, on: string): Ready {
  const said = (words: string): string => (title === undefined ? words : `${title}: ${words}`);
  const late = dueOn !== null && !onTime(dueOn, on);
  if (late && !onTime(until ?? dueOn, on)) return { readiness: 'overdue', why: said(dueWords(daysBetween(on, dueOn))) };
  if (owedNow) return { readiness: 'checkFirst', why: said('before the next use') };
  if (never) return { readiness: 'neverTested', why: said('not yet tested') };
  if (late) return { readiness: 'useUp', why: said(`${dueWords(daysBetween(on, dueOn))}; filled before, so it may be emptied, and not filled again`) };
  if (dueOn === null) return { readiness: 'ready', why: said('owed after use') };
  const days = daysBetween(on, dueOn);
  return { readiness: days <= DUE_SOON_DAYS ? 'due' : 'ready', why: said(dueWords(days)) };
}

/**
 * Whether an item may be used on a day, and why not: the gravest of what it fails, outlives and owes. Common practice.
 * @param on ISO date
 * @example readiness({ condemnedBy: null, blockedBy: null, heldBy: null, lifeEnds: null, tested: true, owes: [{ title: 'Suit', dueOn: '2026-11-20', owedNow: false, never: false }] }, '2026-11-25')
 *   // { readiness: 'overdue', why: 'Suit: 5 days late' }
 */
export function readiness(item: Standing, on: string): Ready {
  if (item.condemnedBy !== null) return { readiness: 'condemned', why: item.condemnedBy };
  if (item.blockedBy !== null) return { readiness: 'blocked', why: item.blockedBy };
  if (item.lifeEnds !== null && !onTime(item.lifeEnds, on)) return { readiness: 'blocked', why: `its life ended on ${item.lifeEnds}` };
  if (item.heldBy !== null) return { readiness: 'heldBack', why: item.heldBy };
  if (item.owes.length === 0) return item.tested ? { readiness: 'ready', why: 'nothing owed' } : { readiness: 'neverTested', why: 'not yet tested' };
  // Of two alike the one that is due first.
  const sooner = (a: Owed, b: Owed): number => (a.dueOn ?? '9999').localeCompare(b.dueOn ?? '9999');
  const found = [...item.owes].sort(sooner).map((owed) => byObligation(owed, on));
  return found.reduce((worst, one) => (gravity.indexOf(one.readiness) < gravity.indexOf(worst.readiness) ? one : worst));
}

/** How many of a class a kit must have ready. */
export interface KitNeed {
  readonly class: string;
  readonly minimum: number;
}

export interface KitShort extends KitNeed {
  readonly ready: number;
  readonly held: number;
}

/**
 * What a kit lacks: each need that fewer items than its minimum can serve now. Empty means ready.
 * @example kitShort([{ class: 'breathingSet', minimum: 4 }], [{ class: 'breathingSet', readiness: 'ready' }]) // [{ class: 'breathingSet', minimum: 4, ready: 1, held: 1 }]
 */
export function kitShort(needs: readonly KitNeed[], items: readonly { readonly class: string; readonly readiness: Readiness }[]): KitShort[] {
  return needs
    .map((need) => {
      const held = items.filter((i) => i.class === need.class);
      return { ...need, held: held.length, ready: held.filter((i) => usable(i.readiness)).length };
    })
    .filter((need) => need.ready < need.minimum);
}
