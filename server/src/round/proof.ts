import { carriesProof, channelsOf, provedBy, rigIn, type InstrumentCopy, type Plan, type RunProof } from '@grellin/core';
import { and, desc, eq } from 'drizzle-orm';
import type { Moment } from '../base';
import { asset, record, run, type Database } from '../db';
import type { Histories } from '../run';

export interface ProofNeeds {
  readonly db: Database;
  readonly now: () => Moment;
  readonly histories: Histories;
}

/** Gauges as they stand are the same that proved: one that was changed, adjusted or calibrated since has proved nothing. */
const same = (plan: Plan, a: Readonly<Record<string, InstrumentCopy>>, b: Readonly<Record<string, InstrumentCopy>>): boolean => {
  const read = [...new Set(plan.stages.filter((s) => s.proves).flatMap(channelsOf))].sort();
  const told = (all: Readonly<Record<string, InstrumentCopy>>): string =>
    JSON.stringify(read.map((channel) => [channel, Object.entries(all[channel] ?? {}).sort()]));
  return told(a) === told(b);
};

/** Newest records that are looked through: a rig whose proof failed this often is not looked for further back. */
const MOST = 200;

/**
 * How a round finds what was proved of its rig: by the newest sealed run of the same round and the same station day, by the same document and rules, with the same
 * gauges and the same figures in every proving stage. Where there is none, the item proves the rig itself.
 */
export function proofFor(
  { db, now, histories }: ProofNeeds,
  round: string,
): (plan: Plan, instruments: Readonly<Record<string, InstrumentCopy>>, day: string) => Promise<RunProof | null> {
  return async (plan, instruments, day) => {
    if (!plan.stages.some((s) => s.proves)) return null;
    const sealed = await db
      .select({
        number: record.number,
        run: record.run,
        head: record.head,
        at: record.sealedAt,
        startedAt: run.startedAt,
        tag: asset.tag,
        result: record.result,
      })
      .from(record)
      .innerJoin(run, eq(record.run, run.id))
      .innerJoin(asset, eq(record.asset, asset.id))
      .where(and(eq(run.round, round), eq(run.digest, plan.digest)))
      .orderBy(desc(record.sealedAt))
      .limit(MOST);
    for (const one of sealed) {
      if (now().dayOf(one.startedAt) !== day || now().dayOf(one.at) !== day) continue;
      // Whatever was proved before a rig failed is proved no longer, whichever item found it.
      if (rigIn(plan.procedure, { findings: one.result.findings, earlier: [] }) === 'failed') return null;
      // One that stood on a proof says nothing of the rig: it is not read at all.
      if (rigIn(plan.procedure, one.result) === null) continue;
      const { plan: before, state } = await histories.upToDate(db, one.run);
      // What stands on a proof proves nothing itself: the way back to the rig is one step.
      if (state.opened?.proof || !same(plan, state.opened?.instruments ?? {}, instruments)) continue;
      const stages = carriesProof(before, plan) ? provedBy(before, state) : null;
      if (stages) return { run: one.run, record: one.number, head: one.head, at: one.at.toISOString(), item: one.tag, stages: [...stages] };
    }
    return null;
  };
}
