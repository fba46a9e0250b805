import { digestText } from '@grellin/contract';
import { findingInWords, headline, verdictWord, type EventOf, type Plan, type RunResult, type RunState } from '@grellin/core';
import { eq, sql } from 'drizzle-orm';
import { v7 } from 'uuid';
import type { Moment } from '../base';
import { asset, deviceHold, record, run, runAsset, type Transaction } from '../db';
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
}

/** Writes the record of a run that has come to its end, and the next due date when it passed. */
export async function closeRun(tx: Transaction, c: Closing): Promise<void> {
  const took = (await tx.select({ asset: runAsset.asset }).from(runAsset).where(eq(runAsset.run, c.entity.id))).map((t) => t.asset);
  // From here to the end of the transaction nobody else opens or seals a run of these: their order is the order of the sequence.
  await lockAssets(tx, took);
  const [tested] = await tx.select().from(asset).where(eq(asset.id, c.entity.asset));
  const counts = !c.result.simulated || tested?.practice === true;
  const doneOn = c.now.day;
  const due =
    c.result.verdict === 'pass' && counts
      ? await settle(tx, c.entity.asset, { procedure: c.entity.procedure, ruleSet: c.entity.ruleSet, doneOn, at: c.entity.startedAt })
      : null;
  if (counts) await markFound(tx, c.entity.asset, c.entity.id, c.plan, c.state, c.result, c.by, c.now);
  if (c.result.verdict === 'pass' && counts) await closeLeaks(tx, c.entity, c.now);
  const first = headline(c.plan, c.result.findings);
  const numbered = await tx.execute<{ n: string }>(sql`SELECT nextval('record_number')::text AS n`);
  const number = `GR-${doneOn.slice(0, 4)}-${(numbered.rows[0]?.n ?? '0').padStart(5, '0')}`;
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
  await refreshStanding(tx, took);
}

function testPhase(plan: Plan, stage: string): boolean {
  return plan.stages.find((s) => s.id === stage)?.phase === 'test';
}
