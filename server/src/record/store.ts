import type { RecordPicture, RecordRow, RecordView } from '@grellin/contract';
import {
  awayInWords,
  curvesOf,
  itemsInWords,
  picturedInWords,
  readingTables,
  reasonGiven,
  proofInWords,
  tablesInWords,
  toldInWords,
  usable,
  type Plan,
  type RunState,
} from '@grellin/core';
import { asc, desc, eq, inArray } from 'drizzle-orm';
import { Coded } from '../base';
import { account, asset, holdLifted, instrument, type Queries, record, run, runAsset, runInstrument, standing } from '../db';
import { publishedByDigest } from '../procedure';
import { instrumentFacts, withItem } from '../register/instrument';
import { readinessOf } from '../standing';
import { eventsAfter, type Histories } from '../run';

/** What a list shows of a record; its findings stay where they are. */
const columns = {
  record: {
    number: record.number,
    run: record.run,
    procedure: record.procedure,
    verdict: record.verdict,
    word: record.word,
    blocks: record.blocks,
    holds: record.holds,
    condemns: record.condemns,
    allowancePercent: record.allowancePercent,
    simulated: record.simulated,
    sealedAt: record.sealedAt,
    sealedOrder: record.sealedOrder,
    nextDue: record.nextDue,
  },
  asset: { id: asset.id, tag: asset.tag, title: asset.title, practice: asset.practice },
  run: { digest: run.digest, ruleSet: run.ruleSet },
  by: account.fullName,
} as const;

interface Listed {
  readonly record: Pick<typeof record.$inferSelect, keyof (typeof columns)['record']>;
  readonly asset: Pick<typeof asset.$inferSelect, keyof (typeof columns)['asset']>;
  readonly run: Pick<typeof run.$inferSelect, keyof (typeof columns)['run']>;
  readonly by: string;
}

/** A record as a list shows it. */
export async function rowOf(db: Queries, { record: r, asset: a, run: source, by }: Listed): Promise<RecordRow> {
  const document = await publishedByDigest(db, source.digest);
  return {
    number: r.number,
    run: r.run,
    procedure: r.procedure,
    procedureTitle: document.title,
    ruleSet: source.ruleSet,
    ruleSetTitle: document.ruleSets.find((s) => s.id === source.ruleSet)?.title ?? source.ruleSet,
    asset: a.id,
    tag: a.tag,
    assetTitle: a.title,
    verdict: r.verdict,
    word: r.word,
    blocks: r.blocks,
    holds: r.holds,
    condemns: r.condemns,
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

/** What a list of records is taken from. */
export function listed(db: Queries) {
  return db
    .select(columns)
    .from(record)
    .innerJoin(asset, eq(record.asset, asset.id))
    .innerJoin(run, eq(record.run, run.id))
    .innerJoin(account, eq(record.by, account.id));
}

/** The records of every run that an asset took part in, newest first. */
export async function recordsOf(db: Queries, assetId: string): Promise<readonly RecordRow[]> {
  const found = await listed(db)
    .where(inArray(record.run, db.select({ run: runAsset.run }).from(runAsset).where(eq(runAsset.asset, assetId))))
    .orderBy(desc(record.sealedAt))
    .limit(1000);
  return Promise.all(found.map((f) => rowOf(db, f)));
}

type Stands = Pick<RecordView, 'standing' | 'lifted'>;

/** What becomes of the item, in words: what this test says of it, and how it stands by all of them. */
function dispositionOf(r: RecordRow, counts: boolean, { standing: stands, lifted }: Stands): string {
  if (r.condemns) return 'Condemned: never to be used again, whatever it passes. Destroy it, or make it unable to hold pressure as its owner directs.';
  if (r.blocks) return 'Not to be used. Repair, then retest in a run of its own.';
  if (r.simulated && !counts) return 'Simulated, and not all of what was tested is for practice: nothing is settled by it.';
  if (lifted) return `Came to no result. What it held back was lifted by ${lifted.by} on ${lifted.at.slice(0, 10)}: ${lifted.reason}`;
  if (r.holds) return 'Held back: the test came to no result, and must be passed before the item is used again.';
  if (r.verdict !== 'pass') return 'Settles nothing: it ended before the item was put to its test.';
  if (usable(stands.readiness)) return `Passed this test. On ${stands.on} the item may be used: ${stands.why}.`;
  return `Passed this test, and still may not be used on ${stands.on}: ${stands.why}.`;
}

async function standsOn(db: Queries, item: string, today: string): Promise<RecordView['standing']> {
  const [found] = await db.select().from(standing).where(eq(standing.asset, item));
  if (!found) throw new Coded('asset.unknown', 'There is no such asset.');
  return { ...readinessOf(found, today), on: today };
}

async function liftedOf(db: Queries, number: string): Promise<RecordView['lifted']> {
  const [found] = await db.select({ reason: holdLifted.reason, by: account.fullName, at: holdLifted.at }).from(holdLifted).innerJoin(account, eq(holdLifted.by, account.id)).where(eq(holdLifted.record, number)); // prettier-ignore
  return found ? { ...found, at: found.at.toISOString() } : null;
}

/** What people said of a run in words of their own and in pictures, with who and when it was stored. What came late is no part of the record. */
async function saidOf(db: Queries, id: string, plan: Plan, { pictures }: Pick<RunState, 'pictures'>): Promise<Pick<RecordView, 'reasons' | 'pictures'>> {
  const said = (await eventsAfter(db, id, 0)).filter((e) => !e.late);
  const names = new Map((await db.select({ id: account.id, name: account.fullName }).from(account).where(inArray(account.id, [...new Set(said.map((e) => e.by))]))).map((p) => [p.id, p.name])); // prettier-ignore
  const whose = ({ by, storedAt }: (typeof said)[number]) => ({ at: storedAt.toISOString(), by: names.get(by) ?? '' });
  const stand = new Set(pictures.map((p) => p.id));
  return {
    reasons: said.flatMap((e) => {
      const told = reasonGiven(plan, e.event);
      return told ? [{ ...told, ...whose(e) }] : [];
    }),
    pictures: said.flatMap((e): RecordPicture[] => {
      if (e.event.kind !== 'pictured' || !stand.has(e.event.id)) return [];
      return [{ sha256: e.event.picture, title: picturedInWords(plan, e.event), note: e.event.note ?? null, ...whose(e) }];
    }),
  };
}

/**
 * A record with all that its page and its certificate show: findings, instruments, the run as it was.
 * @throws Coded `record.unknown`
 */
export async function recordView(db: Queries, histories: Histories, number: string, today: string): Promise<RecordView> {
  const [found] = await joined(db).where(eq(record.number, number));
  if (!found) throw new Coded('record.unknown', 'There is no such record.');
  const row = await rowOf(db, found);
  const [stands, lifted] = await Promise.all([standsOn(db, row.asset, today), liftedOf(db, number)]);
  const { plan, state } = await histories.upToDate(db, row.run);
  const instruments = await db
    .select({ channel: runInstrument.channel, instrument: instrumentFacts })
    .from(runInstrument)
    .innerJoin(instrument, eq(runInstrument.instrument, instrument.id))
    .innerJoin(...withItem)
    .where(eq(runInstrument.run, row.run))
    .orderBy(asc(runInstrument.channel));
  const { reasons, pictures } = await saidOf(db, row.run, plan, state);
  const away = state.opened && awayInWords(state.opened);
  return {
    ...row,
    document: plan.procedure,
    serial: found.asset.serial,
    head: found.record.head,
    findings: found.record.result.findings,
    earlier: found.record.result.earlier,
    attempts: Object.values(state.attempts).reduce((n, a) => n + a.length - 1, 0),
    standing: stands,
    lifted,
    disposition: dispositionOf(row, found.record.counts, { standing: stands, lifted }),
    reasons,
    pictures,
    told: [
      ...(state.opened ? [itemsInWords(plan.procedure, state.opened.assets)] : []),
      ...(away ? [away] : []),
      ...(state.opened?.proof ? [proofInWords(state.opened.proof)] : []),
      ...tablesInWords(state.opened?.tables ?? {}),
      ...toldInWords(plan.procedure, state.opened?.lists ?? {}),
      ...readingTables(plan, state),
    ],
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
    curves: curvesOf(plan, state),
  };
}
