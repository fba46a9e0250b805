import type { ClockView, OpenRunRow, PositionedEvent, RunRow, RunView } from '@grellin/contract';
import { and, asc, desc, eq, gt, sql } from 'drizzle-orm';
import { type ClockReading, Coded } from '../base';
import { account, asset, type Database, instrument, preparedOnce, type Queries, record, run, runAsset, runEvent, runInstrument } from '../db';
import { publishedByDigest } from '../procedure';
import { instrumentById, instrumentFacts, instrumentRow, withItem } from '../register/instrument';
import { lockRun } from './asked';
import { runClock } from './clock';
import type { RunEntity } from './history';
import { giveLease, type Holder } from './lease';
import { NOTIFY_CHANNEL } from './live';

const asking = (db: Queries) =>
  db.select({ run, asset, by: account.fullName }).from(run).innerJoin(asset, eq(run.asset, asset.id)).innerJoin(account, eq(run.openedBy, account.id));
type Found = Awaited<ReturnType<typeof asking>>[number];
const byId = preparedOnce((db) => asking(db).where(sql`${run.id} = ${sql.placeholder('id')}::uuid`).prepare('run_by_id')); // prettier-ignore
const open = preparedOnce((db) => asking(db).where(eq(run.closed, false)).orderBy(desc(run.startedAt)).limit(200).prepare('runs_open')); // prettier-ignore

async function rows(db: Queries, found: readonly Found[]): Promise<{ readonly row: RunRow; readonly entity: RunEntity }[]> {
  return Promise.all(
    found.map(async ({ run: r, asset: a, by }) => {
      const document = await publishedByDigest(db, r.digest);
      const row: RunRow = {
        id: r.id,
        procedure: r.procedure,
        title: document.title,
        ruleSet: document.ruleSets.find((s) => s.id === r.ruleSet)?.title ?? r.ruleSet,
        asset: a.id,
        tag: a.tag,
        assetTitle: a.title,
        startedAt: r.startedAt.toISOString(),
        clock: r.clock,
        blocks: r.blocks,
        by,
      };
      return { row, entity: r };
    }),
  );
}

/** The runs that are still open, the newest first. */
export async function openRuns(db: Queries): Promise<readonly RunRow[]> {
  return (await rows(db, await open(db).execute())).map((r) => r.row);
}

/** The open runs, each with what its clock shows. */
export async function openRunsWithClocks(db: Queries, now: ClockReading): Promise<readonly OpenRunRow[]> {
  const found = await rows(db, await open(db).execute());
  return Promise.all(found.map(async ({ row, entity }) => ({ ...row, clockMs: (await runClock(db, entity, now)).atMs })));
}

/** What a run's clock shows. */
export async function clockOf(db: Queries, id: string, now: ClockReading): Promise<ClockView> {
  const [entity] = await db.select().from(run).where(eq(run.id, id));
  if (!entity) throw new Coded('run.unknown', 'There is no such run.');
  return { clockMs: (await runClock(db, entity, now)).atMs };
}

/** A run as the bench needs it to begin: everything but its events. */
export async function runView(db: Queries, id: string): Promise<RunView> {
  const [found] = await rows(db, await byId(db).execute({ id }));
  if (!found) throw new Coded('run.unknown', 'There is no such run.');
  const { row, entity } = found;
  const assets = await db.select({ role: runAsset.role, asset }).from(runAsset).innerJoin(asset, eq(runAsset.asset, asset.id)).where(eq(runAsset.run, id));
  const instruments = await db
    .select({ channel: runInstrument.channel, instrument: instrumentFacts })
    .from(runInstrument)
    .innerJoin(instrument, eq(runInstrument.instrument, instrument.id))
    .innerJoin(...withItem)
    .where(eq(runInstrument.run, id));
  const rig = entity.rig === null ? null : await instrumentById(db, entity.rig);
  const [sealed] = await db.select({ number: record.number }).from(record).where(eq(record.run, id));
  return {
    ...row,
    digest: entity.digest,
    document: await publishedByDigest(db, entity.digest),
    lease: entity.lease,
    closed: entity.closed,
    record: sealed?.number ?? null,
    assets: Object.fromEntries(assets.map(({ role, asset: a }) => [role, { id: a.id, tag: a.tag, serial: a.serial, title: a.title }])),
    instruments: Object.fromEntries(instruments.map((i) => [i.channel, instrumentRow(i.instrument)])),
    rig: rig ? instrumentRow(rig) : null,
    round: entity.round,
  };
}

export interface Batch {
  readonly lease: number;
  readonly closed: boolean;
  readonly events: readonly PositionedEvent[];
}

/**
 * What has been stored after a position, up to a number of events. One statement, so one moment: whoever is given the sealing event is told with it that
 * the run is closed.
 */
export async function batchAfter(db: Queries, id: string, seq: number, most: number): Promise<Batch> {
  const found = await db
    .select({ lease: run.lease, closed: run.closed, stored: runEvent })
    .from(run)
    .leftJoin(runEvent, and(eq(runEvent.run, run.id), gt(runEvent.seq, seq)))
    .where(eq(run.id, id))
    .orderBy(asc(runEvent.seq))
    .limit(most);
  const [first] = found;
  if (!first) throw new Coded('run.unknown', 'There is no such run.');
  const events = found.flatMap(({ stored: e }) => (e ? [{ seq: e.seq, lease: e.lease, late: e.late, event: e.event }] : []));
  return { lease: first.lease, closed: first.closed, events };
}

/** Takes a run over: the lease is raised, and what the earlier holder still sends is kept but never folded in. */
export function takeOver(db: Database, id: string, holder: Holder, now: Date): Promise<{ readonly lease: number; readonly secret: string }> {
  return db.transaction(async (tx) => {
    const entity = await lockRun(tx, id);
    if (entity.closed) throw new Coded('run.closed', 'The run is closed.');
    const lease = entity.lease + 1;
    await tx
      .update(run)
      .set({ lease, leaseBy: holder.account })
      .where(and(eq(run.id, id)));
    const secret = await giveLease(tx, id, lease, holder, now);
    await tx.execute(sql`SELECT pg_notify(${NOTIFY_CHANNEL}, ${`${id}:${entity.seq}`})`);
    return { lease, secret };
  });
}
