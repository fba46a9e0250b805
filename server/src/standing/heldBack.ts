import type { BeyondUse, Lift } from '@grellin/contract';
import { daysBetween } from '@grellin/core';
import { eq } from 'drizzle-orm';
import { Coded, type Moment } from '../base';
import { asset, type Database, holdLifted, putBeyondUse, record, runAsset, standing, type Transaction } from '../db';
import { lockAssets } from './lock';
import { refreshStanding } from './store';

/**
 * Lifts what a record without a result holds back: an officer's word with its reason, which stands beside the record for ever. What failed is not lifted.
 * @throws Coded `record.unknown`, `hold.none`, `hold.lifted`
 */
export async function liftHold(db: Database, number: string, given: Lift, by: string, now: Moment): Promise<void> {
  await db.transaction(async (tx) => {
    const [found] = await tx.select({ run: record.run, holds: record.holds, blocks: record.blocks, condemns: record.condemns }).from(record).where(eq(record.number, number)); // prettier-ignore
    if (!found) throw new Coded('record.unknown', 'There is no such record.');
    if (found.blocks || found.condemns) throw new Coded('hold.failed', 'It failed: only a repair and a test that passes release it.', { record: number });
    if (!found.holds) throw new Coded('hold.none', 'This record holds nothing back.', { record: number });
    const took = (await tx.select({ asset: runAsset.asset }).from(runAsset).where(eq(runAsset.run, found.run))).map((t) => t.asset);
    await lockAssets(tx, took);
    const [lifted] = await tx.insert(holdLifted).values({ record: number, reason: given.reason, by, at: now }).onConflictDoNothing().returning();
    if (!lifted) throw new Coded('hold.lifted', 'That has been lifted already.', { record: number });
    await refreshStanding(tx, took);
  });
}

/**
 * Refuses whatever a condemned item may no longer be used for.
 * @throws Coded `asset.condemned`
 */
export async function refuseCondemned(tx: Pick<Transaction, 'select'>, assetId: string): Promise<void> {
  const [found] = await tx.select({ tag: asset.tag, why: standing.condemnedBy }).from(asset).innerJoin(standing, eq(standing.asset, asset.id)).where(eq(asset.id, assetId)); // prettier-ignore
  const why = found?.why ?? null;
  if (found && why !== null) throw new Coded('asset.condemned', `${found.tag} is ${why}: it is looked at, and nothing else.`, { tag: found.tag });
}

/**
 * Notes how a condemned item was put beyond use. It stays condemned.
 * @throws Coded `asset.notCondemned`, `asset.beyondUse`, `occasion.ahead`
 */
export async function noteBeyondUse(db: Database, assetId: string, given: BeyondUse, by: string, now: Moment): Promise<void> {
  if (daysBetween(now.day, given.on) > 0) throw new Coded('occasion.ahead', 'That day has not come yet.', { on: given.on });
  await db.transaction(async (tx) => {
    await lockAssets(tx, [assetId]);
    const [found] = await tx.select({ why: standing.condemnedBy }).from(standing).where(eq(standing.asset, assetId));
    if (found?.why == null) throw new Coded('asset.notCondemned', 'Only what is condemned is put beyond use.');
    const [noted] = await tx
      .insert(putBeyondUse)
      .values({ ...given, asset: assetId, by, at: now })
      .onConflictDoNothing()
      .returning();
    if (!noted) throw new Coded('asset.beyondUse', 'How it was put beyond use is written down already.');
    await refreshStanding(tx, [assetId]);
  });
}
