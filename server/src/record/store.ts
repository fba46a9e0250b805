import type { RecordRow, RecordView } from '@grellin/contract';
import { asc, desc, eq, inArray } from 'drizzle-orm';
import { Coded } from '../base';
import { account, asset, instrument, type Queries, record, run, runAsset, runInstrument } from '../db';
import { publishedByDigest } from '../procedure';
import { instrumentFacts, withItem } from '../register/instrument';
import { eventsAfter, type Histories, stripOf } from '../run';

/** What a list shows of a record; its findings stay where they are. */
const listed = {
  record: {
    number: record.number,
    run: record.run,
    procedure: record.procedure,
    verdict: record.verdict,
    word: record.word,
    blocks: record.blocks,
    allowancePercent: record.allowancePercent,
    simulated: record.simulated,
    sealedAt: record.sealedAt,
    nextDue: record.nextDue,
  },
  asset: { id: asset.id, tag: asset.tag, title: asset.title, practice: asset.practice },
  run: { digest: run.digest, ruleSet: run.ruleSet },
  by: account.fullName,
} as const;

interface Listed {
  readonly record: Pick<typeof record.$inferSelect, keyof (typeof listed)['record']>;
  readonly asset: Pick<typeof asset.$inferSelect, keyof (typeof listed)['asset']>;
  readonly run: Pick<typeof run.$inferSelect, keyof (typeof listed)['run']>;
  readonly by: string;
}

async function rowOf(db: Queries, { record: r, asset: a, run: source, by }: Listed): Promise<RecordRow> {
  const document = await publishedByDigest(db, source.digest);
  return {
    number: r.number,
    run: r.run,
    procedure: r.procedure,
    procedureTitle: document.title,
    ruleSetTitle: document.ruleSets.find((s) => s.id === source.ruleSet)?.title ?? source.ruleSet,
    asset: a.id,
    tag: a.tag,
    assetTitle: a.title,
    verdict: r.verdict,
    word: r.word,
    blocks: r.blocks,
    allowancePercent: r.allowancePercent,
    simulated: r.simulated,
    practice: a.practice,
    sealedAt: r.sealedAt.toISOString(),
    by,
    nextDue: r.nextDue,
  };
}

function joined(db: Queries) {
  return db
    .select({ record, asset, run, by: account.fullName })
    .from(record)
    .innerJoin(asset, eq(record.asset, asset.id))
    .innerJoin(run, eq(record.run, run.id))
    .innerJoin(account, eq(record.by, account.id));
}

/** The log, newest first; with an asset, the records of every run that it took part in. */
export async function listRecords(db: Queries, assetId?: string): Promise<readonly RecordRow[]> {
  const query = db
    .select(listed)
    .from(record)
    .innerJoin(asset, eq(record.asset, asset.id))
    .innerJoin(run, eq(record.run, run.id))
    .innerJoin(account, eq(record.by, account.id));
  const found = await (
    assetId === undefined ? query : query.where(inArray(record.run, db.select({ run: runAsset.run }).from(runAsset).where(eq(runAsset.asset, assetId))))
  )
    .orderBy(desc(record.sealedAt))
    .limit(1000);
  return Promise.all(found.map((f) => rowOf(db, f)));
}

/** What becomes of the item, in words. */
function dispositionOf(r: RecordRow): string {
  if (r.blocks) return 'Not to be used. Repair, then retest in a run of its own.';
  if (r.verdict !== 'pass') return 'Does not release the item: the test has to be done again.';
  if (r.simulated && !r.practice) return 'Simulated on an item that is not for practice: nothing is settled by it.';
  return 'Released for use.';
}

/**
 * A record with all that its page and its certificate show: findings, instruments, the run as it was.
 * @throws Coded `record.unknown`
 */
export async function recordView(db: Queries, histories: Histories, number: string): Promise<RecordView> {
  const [found] = await joined(db).where(eq(record.number, number));
  if (!found) throw new Coded('record.unknown', 'There is no such record.');
  const row = await rowOf(db, found);
  const { plan, state } = await histories.upToDate(db, row.run);
  const instruments = await db
    .select({ channel: runInstrument.channel, instrument: instrumentFacts })
    .from(runInstrument)
    .innerJoin(instrument, eq(runInstrument.instrument, instrument.id))
    .innerJoin(...withItem)
    .where(eq(runInstrument.run, row.run))
    .orderBy(asc(runInstrument.channel));
  const noted = (await eventsAfter(db, row.run, 0)).filter((e) => e.event.kind === 'amended' && !e.late);
  const people =
    noted.length === 0
      ? []
      : await db
          .select({ id: account.id, fullName: account.fullName })
          .from(account)
          .where(
            inArray(
              account.id,
              noted.map((e) => e.by),
            ),
          );
  return {
    ...row,
    document: plan.procedure,
    serial: found.asset.serial,
    head: found.record.head,
    findings: found.record.result.findings,
    earlier: found.record.result.earlier,
    attempts: Object.values(state.attempts).reduce((n, a) => n + a.length - 1, 0),
    disposition: dispositionOf(row),
    notes: noted.map((e) => ({
      note: e.event.kind === 'amended' ? e.event.note : '',
      at: e.storedAt.toISOString(),
      by: people.find((p) => p.id === e.by)?.fullName ?? '',
    })),
    instruments: instruments.map(({ channel, instrument: i }) => {
      const copy = state.opened?.instruments[channel];
      return {
        channel: plan.procedure.channels[channel]?.title ?? channel,
        tag: i.tag,
        title: i.title,
        calibrationDue: copy?.calibrationDue ?? null,
        fitted: copy?.fitted ?? false,
      };
    }),
    strip: found.record.strip ?? stripOf(plan, state, found.record.result.findings),
  };
}
