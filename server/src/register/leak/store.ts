import type { LeakRow, NewLeak } from '@grellin/contract';
import { type Plan, type RunResult, type RunState, byKind, routeOf } from '@grellin/core';
import { and, asc, eq, isNull, sql } from 'drizzle-orm';
import { v7 } from 'uuid';
import { Coded, type Moment } from '../../base';
import { account, leak, type Queries, run, type Transaction, type Transactional } from '../../db';
import { lockAssets } from '../../standing';

/** The next number on the asset, whose row is held to the end of the transaction, so that no two leaks get the same. */
async function nextNumber(tx: Transaction, assetId: string): Promise<number> {
  await lockAssets(tx, [assetId]);
  const [found] = await tx
    .select({ most: sql<number>`coalesce(max(${leak.number}), 0)::int` })
    .from(leak)
    .where(eq(leak.asset, assetId));
  return (found?.most ?? 0) + 1;
}

/** The leaks of an asset, those that are open first. */
export async function leaksOf(db: Queries, assetId: string): Promise<readonly LeakRow[]> {
  const rows = await db.select({ leak, by: account.fullName }).from(leak).innerJoin(account, eq(leak.by, account.id)).where(eq(leak.asset, assetId)).orderBy(asc(leak.number)); // prettier-ignore
  return rows
    .map(({ leak: l, by }) => ({ ...l, by, foundAt: l.foundAt.toISOString(), closedAt: l.closedAt?.toISOString() ?? null }))
    .sort((a, b) => Number(a.closedAt !== null) - Number(b.closedAt !== null));
}

/** Marks a leak that was found after a run had failed. */
export function markLeak(db: Transactional, given: NewLeak, by: string, now: Moment): Promise<string> {
  return db.transaction(async (tx) => {
    const [failed] = await tx.select().from(run).where(eq(run.id, given.run));
    if (!failed) throw new Coded('run.unknown', 'There is no such run.');
    if (!failed.blocks) throw new Coded('record.notBlocking', 'This run found nothing that leaks.');
    const id = v7();
    await tx.insert(leak).values({ ...given, id, asset: failed.asset, number: await nextNumber(tx, failed.asset), foundAt: now, by });
    return id;
  });
}

/** The places of a route that the run found to leak, marked as its record is written. */
export async function markFound(
  tx: Transaction,
  assetId: string,
  runId: string,
  plan: Plan,
  state: RunState,
  result: RunResult,
  by: string,
  now: Moment,
): Promise<void> {
  const failed = new Set(result.findings.filter((f) => f.verdict === 'fail').flatMap((f) => f.evidence));
  for (const { id, method } of plan.stages) {
    const spots = state.attempts[id]?.at(-1)?.spots;
    const outline = byKind({ survey: (m) => m.outline }, method);
    if (outline === undefined || !spots) continue;
    for (const place of routeOf(method)) {
      const seen = spots[place.id];
      if (!seen || !failed.has(seen.event)) continue;
      const number = await nextNumber(tx, assetId);
      await tx.insert(leak).values({
        id: v7(),
        asset: assetId,
        run: runId,
        number,
        outline,
        x: null,
        y: null,
        place: place.text,
        grade: seen.grade,
        foundAt: now,
        by,
      });
    }
  }
}

/** A pass after the repair closes what was found by the same procedure, or marked after it had failed, before the run that passed was opened. */
export async function closeLeaks(tx: Transaction, passed: typeof run.$inferSelect, now: Moment): Promise<void> {
  await tx
    .update(leak)
    .set({ closedBy: passed.id, closedAt: now })
    .where(
      and(
        eq(leak.asset, passed.asset),
        isNull(leak.closedBy),
        sql`EXISTS (SELECT 1 FROM run failed JOIN record r ON r.run = failed.id
          WHERE failed.id = ${leak.run} AND failed.procedure = ${passed.procedure} AND r.sealed_order < ${passed.openedOrder})`,
      ),
    );
}
