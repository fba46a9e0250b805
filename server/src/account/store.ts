import { createHash, randomBytes } from 'node:crypto';
import type { AccountRole, Me, NewAccount } from '@grellin/contract';
import { and, count, eq, gt, lt, or } from 'drizzle-orm';
import { v7 } from 'uuid';
import type { Queries } from '../db/database';
import { Coded } from '../errors';
import { hashPassword, passwordFits } from './password';
import { account, session, signInFailure } from './table';

const SESSION_MS = 12 * 3_600_000;
/** Failures allowed in the window, for one name and for one address. */
const WINDOW_MS = 15 * 60_000;
const MOST_FOR_NAME = 8;
const MOST_FOR_ADDRESS = 60;

const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');

const meOf = (a: typeof account.$inferSelect): Me => ({ id: a.id, name: a.name, fullName: a.fullName, role: a.role });

/** Signs in: counts failures in the database, so that any number of servers limit together. */
export async function signIn(
  db: Queries,
  name: string,
  password: string,
  address: string,
  now: Date,
): Promise<{ readonly token: string; readonly me: Me; readonly maxAgeS: number }> {
  const since = new Date(now.getTime() - WINDOW_MS);
  const failures = async (column: typeof signInFailure.name | typeof signInFailure.address, value: string): Promise<number> =>
    (
      await db
        .select({ n: count() })
        .from(signInFailure)
        .where(and(eq(column, value), gt(signInFailure.at, since)))
    )[0]?.n ?? 0;
  if ((await failures(signInFailure.name, name)) >= MOST_FOR_NAME || (await failures(signInFailure.address, address)) >= MOST_FOR_ADDRESS)
    throw new Coded('signIn.tooMany', 'Too many attempts. Wait a quarter of an hour.');
  const [found] = await db.select().from(account).where(eq(account.name, name));
  if (!(await passwordFits(found?.passwordHash, password)) || !found) {
    await db.insert(signInFailure).values({ name, address, at: now });
    throw new Coded('signIn.wrong', 'Name or password is wrong.');
  }
  await db.delete(signInFailure).where(or(eq(signInFailure.name, name), lt(signInFailure.at, since)));
  await db.delete(session).where(lt(session.expiresAt, now));
  const token = randomBytes(32).toString('base64url');
  await db.insert(session).values({ tokenHash: hashOf(token), account: found.id, expiresAt: new Date(now.getTime() + SESSION_MS) });
  return { token, me: meOf(found), maxAgeS: SESSION_MS / 1000 };
}

/** Who a session's token belongs to, if it is still good. */
export async function sessionOf(db: Queries, token: string, now: Date): Promise<Me | null> {
  const [found] = await db
    .select({ account })
    .from(session)
    .innerJoin(account, eq(session.account, account.id))
    .where(and(eq(session.tokenHash, hashOf(token)), gt(session.expiresAt, now)));
  return found ? meOf(found.account) : null;
}

export async function signOut(db: Queries, token: string): Promise<void> {
  await db.delete(session).where(eq(session.tokenHash, hashOf(token)));
}

export async function hasDemoAccounts(db: Queries): Promise<boolean> {
  return (await db.select({ id: account.id }).from(account).where(eq(account.demo, true)).limit(1)).length > 0;
}

/** Makes an account. */
export async function createAccount(db: Queries, given: NewAccount & { readonly role: AccountRole }, demo: boolean, now: Date): Promise<Me> {
  const made = await db
    .insert(account)
    .values({ id: v7(), name: given.name, fullName: given.fullName, role: given.role, passwordHash: await hashPassword(given.password), demo, createdAt: now })
    .onConflictDoNothing({ target: account.name })
    .returning();
  if (!made[0]) throw new Coded('account.exists', `There is an account ${given.name} already.`);
  return meOf(made[0]);
}
