import { createHash, timingSafeEqual } from 'node:crypto';
import type { AccountChange, AccountRole, FirstOfficer, Me, NewAccount, NewPerson } from '@grellin/contract';
import { addDays } from '@grellin/core';
import { eq, sql } from 'drizzle-orm';
import { v7 } from 'uuid';
import { Coded, type Moment } from '../base';
import { account, type Database, noteChange, type Queries, touched, type Transaction } from '../db';
import { authoriseForAll } from './authorisation';
import { countTry, forgetTries } from './delay';
import { accountFacts, requireOfficer } from './facts';
import { hashPassword, oneTimePassword, passwordFits, requireUncommon } from './password';
import { beginSession, endSessions, meOf, SESSION_MS, type Origin } from './session';

export { signOut } from './session';

/** An authorisation that nobody else could grant lasts so long. */
const FIRST_DAYS = 365;

/** Signs in. Tries are counted in the database, so that any number of servers slow a guesser together. */
export async function signIn(
  db: Database,
  name: string,
  password: string,
  from: Origin,
  now: Date,
): Promise<{ readonly token: string; readonly me: Me; readonly maxAgeS: number }> {
  await countTry(db, name, from.address, now);
  const [found] = await db.select().from(account).where(eq(account.name, name));
  // A disabled account is told apart to nobody.
  if (!(await passwordFits(found?.passwordHash, password)) || !found || found.disabledAt) throw new Coded('signIn.wrong', 'Name or password is wrong.');
  await forgetTries(db, name, from.address);
  return { token: await beginSession(db, found.id, from, now), me: meOf(found), maxAgeS: SESSION_MS / 1000 };
}

/** Whether there are accounts whose passwords stand in the README: such a server is shown to its own machine only. */
export async function hasDemoAccounts(db: Queries): Promise<boolean> {
  return (await db.select({ id: account.id }).from(account).where(eq(account.demo, true)).limit(1)).length > 0;
}

/** Whether nobody has an account yet: the first officer is made then. */
export async function isEmpty(db: Queries): Promise<boolean> {
  return (await db.select({ id: account.id }).from(account).limit(1)).length === 0;
}

/** Makes an account. */
export async function createAccount(
  db: Queries,
  given: NewAccount & { readonly role: AccountRole },
  demo: boolean,
  now: Moment,
  mustChange = false,
): Promise<Me> {
  const made = await db
    .insert(account)
    .values({
      id: v7(),
      name: given.name,
      fullName: given.fullName,
      role: given.role,
      passwordHash: await hashPassword(given.password),
      demo,
      createdAt: now,
      mustChange,
      disabledAt: null,
    })
    .onConflictDoNothing({ target: account.name })
    .returning();
  if (!made[0]) throw new Coded('account.exists', `There is an account ${given.name} already.`);
  return meOf(made[0]);
}

const sha256 = (text: string): Buffer => createHash('sha256').update(text).digest();

/**
 * Makes the first officer of an empty database, who may carry out and grant everything.
 * @param token what the start command printed; null where it printed none
 * @throws Coded when there is an account already, or the token is another
 */
export async function createFirstOfficer(db: Database, given: FirstOfficer, token: string | null, now: Moment): Promise<void> {
  if (token === null || !timingSafeEqual(sha256(token), sha256(given.token)))
    throw new Coded('first.token', 'This is not the word that the start command printed.');
  requireUncommon(given.password, [given.name, given.fullName]);
  await db.transaction(async (tx) => {
    // Two at once: the second finds the first.
    await tx.execute(sql`LOCK TABLE account IN SHARE ROW EXCLUSIVE MODE`);
    if (!(await isEmpty(tx))) throw new Coded('first.done', 'There are accounts already: sign in.');
    const made = await createAccount(tx, { ...given, role: 'officer' }, false, now);
    await authoriseForAll(tx, made.id, addDays(now.day, FIRST_DAYS), given.name.toUpperCase(), made.id, now);
  });
}

export interface WithPassword {
  readonly id: string;
  /** To be read out once: it is kept nowhere, and has to be changed at the first sign-in. */
  readonly password: string;
}

/** Adds a person, who signs in with a one-time password. */
export function addPerson(db: Database, given: NewPerson, by: string, now: Moment): Promise<WithPassword & { readonly change: string }> {
  const password = oneTimePassword();
  return db.transaction(async (tx) => {
    const made = await createAccount(tx, { ...given, password }, false, now, true);
    const facts = await accountFacts(tx, made.id);
    const change = await noteChange(tx, `${given.fullName} added as ${given.role}`, [touched('account', made.id, null, facts ?? {})], by, now);
    return { id: made.id, password, change };
  });
}

async function lockAccount(tx: Transaction, id: string): Promise<typeof account.$inferSelect> {
  const [held] = await tx.select().from(account).where(eq(account.id, id)).for('update');
  if (!held) throw new Coded('account.unknown', 'There is no such person.');
  return held;
}

/** Renames somebody, sets the role, disables or enables. A disabled account's sessions end. @returns the change, and the sessions that ended */
export function changePerson(
  db: Database,
  id: string,
  given: AccountChange,
  by: string,
  now: Moment,
): Promise<{ readonly change: string; readonly ended: readonly string[] }> {
  return db.transaction(async (tx) => {
    // One after the other, so that two officers cannot disable one another.
    await tx.execute(sql`LOCK TABLE account IN SHARE ROW EXCLUSIVE MODE`);
    const held = await lockAccount(tx, id);
    const before = await accountFacts(tx, id);
    const { disabled, ...facts } = given;
    const disabledAt = disabled === undefined ? held.disabledAt : disabled ? (held.disabledAt ?? now) : null;
    if (facts.name !== undefined && facts.name !== held.name) {
      const [taken] = await tx.select({ id: account.id }).from(account).where(eq(account.name, facts.name));
      if (taken) throw new Coded('account.exists', `There is an account ${facts.name} already.`);
    }
    await tx.update(account).set({ ...facts, disabledAt }).where(eq(account.id, id)); // prettier-ignore
    await requireOfficer(tx);
    const ended = disabledAt === null ? [] : await endSessions(tx, id);
    const what = disabled === true ? 'disabled' : disabled === false ? 'enabled' : 'changed';
    const after = await accountFacts(tx, id);
    return { change: await noteChange(tx, `${held.fullName} ${what}`, [touched('account', id, before, after ?? {})], by, now), ended };
  });
}

/** Gives somebody a one-time password; the old one opens nothing any more, and all sessions end. */
export function resetPassword(db: Database, id: string): Promise<WithPassword & { readonly ended: readonly string[] }> {
  const password = oneTimePassword();
  return db.transaction(async (tx) => {
    await lockAccount(tx, id);
    await tx.update(account).set({ passwordHash: await hashPassword(password), mustChange: true }).where(eq(account.id, id)); // prettier-ignore
    return { id, password, ended: await endSessions(tx, id) };
  });
}

/** Changes one's own password; every other session of the person ends. @returns those that ended */
export async function changePassword(
  db: Database,
  id: string,
  given: { readonly old: string; readonly password: string },
  session: string,
  from: Origin,
  now: Date,
): Promise<readonly string[]> {
  const [held] = await db.select().from(account).where(eq(account.id, id));
  if (!held) throw new Coded('account.unknown', 'There is no such person.');
  // Whoever finds a screen unlocked must not guess the password at it either.
  await countTry(db, held.name, from.address, now);
  if (!(await passwordFits(held.passwordHash, given.old))) throw new Coded('password.wrong', 'The old password is wrong.');
  await forgetTries(db, held.name, from.address);
  if (given.password.normalize('NFC') === given.old.normalize('NFC')) throw new Coded('password.same', 'The new password is the old one.');
  requireUncommon(given.password, [held.name, held.fullName]);
  const passwordHash = await hashPassword(given.password);
  return db.transaction(async (tx) => {
    await tx.update(account).set({ passwordHash, mustChange: false }).where(eq(account.id, id));
    return endSessions(tx, id, session);
  });
}
