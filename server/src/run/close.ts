import { digestText } from '@grellin/contract';
import { findingInWords, headline, rigIn, verdictWord, type EventOf, type Plan, type RunResult, type RunState } from '@grellin/core';
import { and, desc, eq, gt, inArray, ne, sql } from 'drizzle-orm';
import { v7 } from 'uuid';
import type { Moment } from '../base';
import { asset, deviceHold, record, rigDoubted, run, runAsset, type Transaction } from '../db';
import { lockAssets, refreshStanding } from '../standing';
import { closeLeaks, markFound } from '../register/leak';
import { settle } from '../register/obligation';
import type { RunEntity } from './history';
import { chain, type Head } from './chain';
import { sha256 } from './seal';
import { stripOf } from './strip';

export interface Closing {
  readonly entity: RunEntity;
  readonly plan: Plan;
  readonly state: RunState;
  readonly result: RunResult;
  /** Where its chain ends: the seal is added here. */
  readonly head: Head;
  readonly by: string;
  readonly now: Moment;
  /** The day of the test, where it was carried out away and is handed in later. */
  readonly doneOn?: string;
}

/** Writes the record of a run that has come to its end, and the next due date when it passed. */
export async function closeRun(tx: Transaction, c: Closing): Promise<void> {
  const took = (await tx.select({ asset: runAsset.asset }).from(runAsset).where(eq(runAsset.run, c.entity.id))).map((t) => t.asset);
  // From here to the end of the transaction nobody else opens or seals a run of these: their order is the order of the sequence.
  await lockAssets(tx, took);
  const coupled = await tx.select({ practice: asset.practice }).from(asset).where(inArray(asset.id, took));
  const [tested] = await tx.select().from(asset).where(eq(asset.id, c.entity.asset));
  // What is played on a rig says nothing of a real item, nor of one that is coupled to what is practised on.
  const counts = !c.result.simulated || coupled.every((t) => t.practice);
  const doneOn = c.doneOn ?? c.now.day;
  const passes = c.result.verdict === 'pass' && counts;
  const settled = new Map<string, string | null>();
  // A trailer owes for itself, and is tested with what pulls it: one pass settles for each.
  if (passes)
    for (const id of took) settled.set(id, await settle(tx, id, { procedure: c.entity.procedure, ruleSet: c.entity.ruleSet, doneOn, at: c.entity.startedAt }));
  const due = settled.get(c.entity.asset) ?? null;
  if (counts) await markFound(tx, c.entity.asset, c.entity.id, c.plan, c.state, c.result, c.by, c.now);
  if (passes) await closeLeaks(tx, c.entity, c.now);
  const first = headline(c.plan, c.result.findings);
  const numbered = await tx.execute<{ n: string }>(sql`SELECT nextval('record_number')::text AS n`);
  const number = `GR-${c.now.day.slice(0, 4)}-${(numbered.rows[0]?.n ?? '0').padStart(5, '0')}`;
  const kept = { findings: c.result.findings, earlier: c.result.earlier };
  const sealed: EventOf<'recorded'> = {
    id: v7(),
    source: 'server',
    n: (c.state.sources['server']?.n ?? 0) + 1,
    at: c.state.at,
    kind: 'recorded',
    record: number,
    verdict: c.result.verdict,
    blocks: c.result.blocks,
    holds: c.result.holds,
    condemns: c.result.condemns,
    counts,
    item: c.entity.asset,
    tag: tested?.tag ?? '',
    findings: sha256(digestText(JSON.parse(JSON.stringify(kept)))),
    edition: c.plan.procedure.edition,
    methods: [...new Set([...kept.findings, ...kept.earlier].map((f) => f.engine))].sort(),
  };
  const head = await chain(tx, c.head, sealed, c.by, c.entity.lease, false, c.now);
  await tx.update(run).set({ seq: head.seq, head: head.hash }).where(eq(run.id, c.entity.id));
  await tx.insert(record).values({
    number,
    run: c.entity.id,
    procedure: c.entity.procedure,
    asset: c.entity.asset,
    verdict: c.result.verdict,
    word: verdictWord(c.plan, c.result.verdict),
    blocks: c.result.blocks,
    holds: c.result.holds,
    condemns: c.result.condemns,
    counts,
    simulated: c.result.simulated,
    allowancePercent: c.result.findings.reduce<number | null>(
      (most, f) => (f.allowancePercent === null || !testPhase(c.plan, f.stage) ? most : Math.max(most ?? 0, f.allowancePercent)),
      null,
    ),
    summary: first ? findingInWords(first) : '',
    result: kept,
    head: head.hash,
    sealedAt: c.now,
    by: c.by,
    nextDue: due,
    strip: stripOf(c.plan, c.state, c.result.findings),
  });
  await tx.delete(deviceHold).where(eq(deviceHold.run, c.entity.id));
  const doubted = await doubtRound(tx, c, number);
  await refreshStanding(tx, [...new Set([...took, ...doubted])]);
}

function testPhase(plan: Plan, stage: string): boolean {
  return plan.stages.find((s) => s.id === stage)?.phase === 'test';
}

/** Whether a run of the round found the rig at fault after the one that proved it was sealed. */
async function failedSince(tx: Transaction, round: string, proving: string, plan: Plan): Promise<boolean> {
  const [proof] = await tx.select({ sealed: record.sealedOrder }).from(record).where(eq(record.run, proving));
  const later = await tx
    .select({ result: record.result })
    .from(record)
    .innerJoin(run, eq(record.run, run.id))
    .where(and(eq(run.round, round), gt(record.sealedOrder, proof?.sealed ?? 0)));
  return later.some((r) => rigIn(plan.procedure, r.result) === 'failed');
}

/**
 * Where a run of a round found its rig at fault, the passes since it was last proved are doubtful: their items wait for another. A rig that is found at fault was so before
 * it was found.
 * @returns the items that wait
 */
async function doubtRound(tx: Transaction, { entity, plan, state, result, now }: Closing, number: string): Promise<readonly string[]> {
  if (entity.round === null) return [];
  // One that was open while another found the rig at fault stands on a proof that was taken back.
  if (state.opened?.proof && result.verdict === 'pass' && (await failedSince(tx, entity.round, state.opened.proof.run, plan))) {
    const words = 'its test stood on a rig that was found at fault while it went on';
    await tx
      .insert(rigDoubted)
      .values({ run: entity.id, asset: entity.asset, procedure: entity.procedure, because: entity.id, words, at: now })
      .onConflictDoNothing();
  }
  if (rigIn(plan.procedure, result) !== 'failed') return [];
  const before = await tx
    .select({ run: run.id, asset: run.asset, procedure: run.procedure, verdict: record.verdict, result: record.result })
    .from(record)
    .innerJoin(run, eq(record.run, run.id))
    .where(and(eq(run.round, entity.round), ne(run.id, entity.id)))
    .orderBy(desc(record.sealedOrder));
  const proved = before.findIndex((b) => rigIn(plan.procedure, b.result) !== null);
  const since = proved < 0 ? before : before.slice(0, proved + 1);
  const passes = since.filter((b) => b.verdict === 'pass');
  if (passes.length === 0) return [];
  await lockAssets(tx, passes.map((p) => p.asset)); // prettier-ignore
  const words = `its last test stood on a rig that was found at fault afterwards, in ${number}`;
  await tx
    .insert(rigDoubted)
    .values(passes.map((p) => ({ run: p.run, asset: p.asset, procedure: p.procedure, because: entity.id, words, at: now })))
    .onConflictDoNothing();
  return passes.map((p) => p.asset);
}
