import { createHash, randomBytes } from 'node:crypto';
import type { Me, SessionRow } from '@grellin/contract';
import { and, desc, eq, gt, inArray, isNull, lt, ne, sql, type SQL } from 'drizzle-orm';
import { v7 } from 'uuid';
import { account, preparedOnce, type Queries, session } from '../db';

export const SESSION_MS = 12 * 3_600_000;
/** When a session was last used is kept no more exactly than this. */
const SEEN_MS = 60_000;

const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');

export const meOf = (a: typeof account.$inferSelect): Me => ({ id: a.id, name: a.name, fullName: a.fullName, role: a.role, mustChange: a.mustChange });

/** From where somebody signs in. */
export interface Origin {
  readonly address: string;
  /** What the browser says of itself. */
  readonly agent: string;
}

/** Begins a session. @returns its token, which is kept nowhere */
export async function beginSession(db: Queries, accountId: string, from: Origin, now: Date): Promise<string> {
  await db.delete(session).where(lt(session.expiresAt, now));
  const token = randomBytes(32).toString('base64url');
  const agent = from.agent.slice(0, 200);
  const expiresAt = new Date(now.getTime() + SESSION_MS);
  await db
    .insert(session)
    .values({ id: v7(), tokenHash: hashOf(token), account: accountId, expiresAt, createdAt: now, seenAt: now, address: from.address, agent });
  return token;
}

const asking = preparedOnce((db) =>
  db
    .select({ account, session })
    .from(session)
    .innerJoin(account, eq(session.account, account.id))
    .where(and(eq(session.tokenHash, sql.placeholder('token')), gt(session.expiresAt, sql.placeholder('now')), isNull(account.disabledAt)))
    .prepare('session_of'),
);

/** Who a session's token belongs to, if it is still good and the account is not disabled. */
export async function sessionOf(db: Queries, token: string, now: Date): Promise<{ readonly id: string; readonly me: Me } | null> {
  const [found] = await asking(db).execute({ token: hashOf(token), now });
  if (!found) return null;
  if (now.getTime() - found.session.seenAt.getTime() > SEEN_MS) await db.update(session).set({ seenAt: now }).where(eq(session.id, found.session.id));
  return { id: found.session.id, me: meOf(found.account) };
}

/** Of some sessions, those that are still in force. */
export async function sessionsInForce(db: Queries, ids: readonly string[], now: Date): Promise<ReadonlySet<string>> {
  const found = await db
    .select({ id: session.id })
    .from(session)
    .innerJoin(account, eq(session.account, account.id))
    .where(and(inArray(session.id, [...ids]), gt(session.expiresAt, now), isNull(account.disabledAt)));
  return new Set(found.map((f) => f.id));
}

/** The sessions of somebody, the newest first. */
export async function listSessions(db: Queries, accountId: string, current: string | null, now: Date): Promise<readonly SessionRow[]> {
  const found = await db
    .select()
    .from(session)
    .where(and(eq(session.account, accountId), gt(session.expiresAt, now)))
    .orderBy(desc(session.seenAt));
  return found.map(({ id, createdAt, seenAt, address, agent }) => ({
    id,
    createdAt: createdAt.toISOString(),
    seenAt: seenAt.toISOString(),
    address,
    agent,
    current: id === current,
  }));
}

const end = async (db: Queries, which: SQL | undefined): Promise<readonly string[]> => (await db.delete(session).where(which).returning()).map((s) => s.id);

/** Ends one of somebody's sessions. @returns whether there was one */
export async function endSession(db: Queries, accountId: string, id: string): Promise<boolean> {
  return (await end(db, and(eq(session.account, accountId), eq(session.id, id)))).length > 0;
}

/** Ends all of somebody's sessions, but for one. */
export function endSessions(db: Queries, accountId: string, except?: string): Promise<readonly string[]> {
  return end(db, and(eq(session.account, accountId), ...(except === undefined ? [] : [ne(session.id, except)])));
}

/** Ends the session that a token opens. @returns the sessions that ended, for streams to be shut */
export async function signOut(db: Queries, token: string): Promise<readonly string[]> {
  return end(db, eq(session.tokenHash, hashOf(token)));
}
