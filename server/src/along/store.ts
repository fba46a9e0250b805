import type { AlongRow, AlongState } from '@grellin/contract';
import { and, count, desc, eq, gt, isNull, sql } from 'drizzle-orm';
import { Coded, type Moment } from '../base';
import { account, along, type Database, type Queries, run } from '../db';
import { hashOfSecret } from '../run';

const state = (a: Pick<typeof along.$inferSelect, 'endedAt' | 'until'>, disabledAt: Date | null, now: Date): AlongState =>
  disabledAt ? 'disabled' : a.endedAt ? 'ended' : a.until <= now ? 'ranOut' : 'inForce';

/** The devices that are away, those that will come back last at the top. */
export async function listAlong(db: Queries, now: Moment): Promise<readonly AlongRow[]> {
  const handed = db
    .select({ along: run.along, runs: count().as('runs') })
    .from(run)
    .groupBy(run.along)
    .as('handed');
  const found = await db
    .select({ along, by: account.fullName, disabledAt: account.disabledAt, runs: sql<string | null>`${handed.runs}` })
    .from(along)
    .innerJoin(account, eq(account.id, along.account))
    .leftJoin(handed, eq(handed.along, along.id))
    .where(and(isNull(along.endedAt), gt(along.until, now)))
    .orderBy(desc(along.until))
    .limit(200);
  return found.map(({ along: a, by, disabledAt, runs }) => ({
    id: a.id,
    by,
    takenAt: a.takenAt.toISOString(),
    until: a.until.toISOString(),
    tags: a.bundle.assets.map((x) => x.tag),
    handedIn: Number(runs ?? 0),
    state: state(a, disabledAt, now),
  }));
}

/**
 * How it stands with what a device took along, for the device itself.
 * @throws Coded `along.unknown`
 */
export async function alongState(db: Queries, id: string, secret: string, now: Moment): Promise<AlongState> {
  const [found] = await db.select({ along, disabledAt: account.disabledAt }).from(along).innerJoin(account, eq(account.id, along.account)).where(eq(along.id, id)); // prettier-ignore
  if (found?.along.secretHash !== hashOfSecret(secret)) throw new Coded('along.unknown', 'Nothing of the kind was taken along.');
  return state(found.along, found.disabledAt, now);
}

/**
 * Ends what a device took along: it is wiped when it next hears of the server, and nothing more is taken from it.
 * @throws Coded `along.unknown`
 */
export async function endAlong(db: Database, id: string, by: string, now: Moment): Promise<{ readonly id: string }> {
  const [ended] = await db.update(along).set({ endedAt: now, endedBy: by }).where(and(eq(along.id, id), isNull(along.endedAt))).returning({ id: along.id }); // prettier-ignore
  if (!ended) throw new Coded('along.unknown', 'Nothing of the kind was taken along.');
  return ended;
}
