import type { Authorisation, PersonRow } from '@grellin/contract';
import { addDays } from '@grellin/core';
import { and, asc, eq, inArray, isNull } from 'drizzle-orm';
import { v7 } from 'uuid';
import { Coded, type Moment } from '../base';
import { account, authorisation, type ChangedRow, type Database, noteChange, type Queries, touched } from '../db';
import { builtIn, publishedById } from '../procedure';

/** An authorisation is named this many days before it runs out. */
const AHEAD_DAYS = 60;

/** The people, with what each may carry out. */
export async function listPeople(db: Queries, now: Moment): Promise<readonly PersonRow[]> {
  const people = await db.select({ id: account.id, name: account.name, fullName: account.fullName, role: account.role, disabledAt: account.disabledAt }).from(account).orderBy(asc(account.fullName)); // prettier-ignore
  const granted = await db.select().from(authorisation).where(isNull(authorisation.withdrawnAt)).orderBy(asc(authorisation.procedure));
  const soon = addDays(now.day, AHEAD_DAYS);
  return people.map(({ disabledAt, ...p }) => ({
    ...p,
    disabled: disabledAt !== null,
    authorisations: granted
      .filter((g) => g.account === p.id)
      .map(({ id, procedure, until, stamp }) => ({ id, procedure, until, stamp, title: publishedById(procedure).document.title, runsOut: until <= soon })),
  }));
}

/** An authorisation that was in force until now. */
const withdrawn = (a: typeof authorisation.$inferSelect): ChangedRow => touched('authorisation', a.id, { ...a, withdrawnAt: null }, a);

/** Authorises somebody for procedures until a day. What was granted before is replaced, and stays in the record as withdrawn. */
export function authorise(db: Database, given: Authorisation, by: string, now: Moment): Promise<{ readonly granted: number; readonly change: string }> {
  for (const procedure of given.procedures) publishedById(procedure);
  return db.transaction(async (tx) => {
    const [person] = await tx.select({ id: account.id, role: account.role, fullName: account.fullName }).from(account).where(eq(account.id, given.account));
    if (!person) throw new Coded('account.unknown', 'There is no such person.');
    if (person.role === 'reader') throw new Coded('authorisation.reader', 'Who may only look is not authorised to test.');
    // Two officers at once: the second finds, and replaces, what the first has granted.
    await tx.select({ id: account.id }).from(account).where(eq(account.id, given.account)).for('no key update');
    const procedures = [...new Set(given.procedures)];
    const replaced = await tx
      .update(authorisation)
      .set({ withdrawnAt: now })
      .where(and(eq(authorisation.account, given.account), inArray(authorisation.procedure, procedures), isNull(authorisation.withdrawnAt)))
      .returning();
    const { account: of, until, stamp } = given;
    const granted = await tx
      .insert(authorisation)
      .values(procedures.map((procedure) => ({ id: v7(), account: of, procedure, until, stamp, grantedBy: by, at: now, withdrawnAt: null })))
      .returning();
    const rows = [...replaced.map(withdrawn), ...granted.map((g) => touched('authorisation', g.id, null, g))];
    return { granted: granted.length, change: await noteChange(tx, `${person.fullName} authorised for ${String(granted.length)} procedures`, rows, by, now) };
  });
}

/** Withdraws one. It stays in the record. */
export function withdraw(db: Database, id: string, by: string, now: Moment): Promise<{ readonly change: string }> {
  return db.transaction(async (tx) => {
    const [found] = await tx.update(authorisation).set({ withdrawnAt: now }).where(and(eq(authorisation.id, id), isNull(authorisation.withdrawnAt))).returning(); // prettier-ignore
    if (!found) throw new Coded('authorisation.unknown', 'There is no such authorisation.');
    const [person] = await tx.select({ fullName: account.fullName }).from(account).where(eq(account.id, found.account));
    const words = `${person?.fullName ?? ''} no longer authorised for ${publishedById(found.procedure).document.title}`;
    return { change: await noteChange(tx, words, [withdrawn(found)], by, now) };
  });
}

/**
 * Refuses who is not authorised for a procedure on a day.
 * @returns the stamp mark
 * @throws Coded when there is no authorisation, or it has run out
 */
export async function requireAuthorised(db: Queries, accountId: string, procedure: string, today: string): Promise<string> {
  const [held] = await db
    .select()
    .from(authorisation)
    .where(and(eq(authorisation.account, accountId), eq(authorisation.procedure, procedure), isNull(authorisation.withdrawnAt)));
  return requireInForce(held ?? null, procedure, today);
}

/**
 * The same, of an authorisation that has been looked up.
 * @param held null when there is none
 */
export function requireInForce(held: typeof authorisation.$inferSelect | null, procedure: string, today: string): string {
  const title = publishedById(procedure).document.title;
  if (!held) throw new Coded('authorisation.none', `You are not authorised for “${title}”. The officer can authorise you.`, { procedure });
  if (held.until < today)
    throw new Coded('authorisation.ranOut', `Your authorisation for “${title}” ran out on ${held.until}.`, { procedure, until: held.until });
  return held.stamp;
}

/** Authorises somebody for everything that is built in: the first officer of a new database, and the demo's people. */
export async function authoriseForAll(db: Queries, accountId: string, until: string, stamp: string, by: string, now: Moment): Promise<void> {
  await db
    .insert(authorisation)
    .values(builtIn.map(({ document }) => ({ id: v7(), account: accountId, procedure: document.id, until, stamp, grantedBy: by, at: now })));
}
