import type { AssetView, SeriesView } from '@grellin/contract';
import { outlook, type Lists } from '@grellin/core';
import { and, asc, desc, eq, gt, isNull, sql } from 'drizzle-orm';
import type { Moment } from '../../base';
import { account, along, alongAsset, kit, kitAsset, occasion, type Queries, record, runAsset } from '../../db';
import { publishedById } from '../../procedure';
import { assetById } from '../../register/item';
import { fittedTo, instrumentRow } from '../../register/instrument';
import { leaksOf } from '../../register/leak';
import { obligationsOf } from '../../register/obligation';
import { asAllowance } from '../../run';
import { recordsOf } from '../../record';

/** As many tests as a trend looks back at, and as many strips as can be told apart. */
const MOST_POINTS = 200;
const MOST_STRIPS = 24;
const MOST_OCCASIONS = 30;

/**
 * An item's tests by procedure: what each used of its allowance, the strips over one another, and what that foretells. A series begins anew after a repair,
 * and where a leak was found: what came before is another item's story.
 */
async function seriesOf(db: Queries, id: string, now: Moment, due: ReadonlyMap<string, string | null>): Promise<readonly SeriesView[]> {
  const found = await db
    .select({
      procedure: record.procedure,
      number: record.number,
      sealedAt: record.sealedAt,
      allowancePercent: record.allowancePercent,
      verdict: record.verdict,
      blocks: record.blocks,
      strip: record.strip,
    })
    .from(record)
    .innerJoin(runAsset, eq(runAsset.run, record.run))
    .where(and(eq(runAsset.asset, id), eq(record.counts, true)))
    .orderBy(desc(record.sealedAt))
    .limit(MOST_POINTS);
  const repairs = await db
    .select({ at: occasion.at })
    .from(occasion)
    .where(and(eq(occasion.asset, id), eq(occasion.kind, 'repaired'), isNull(occasion.archivedAt)))
    .orderBy(desc(occasion.at))
    .limit(1);
  const tests = found.reverse();
  const procedures = [...new Set(tests.map((t) => t.procedure))];
  return procedures.flatMap((procedure): SeriesView[] => {
    const measured = tests.filter((t) => t.procedure === procedure && t.allowancePercent !== null && (t.verdict === 'pass' || t.verdict === 'fail'));
    if (measured.length === 0) return [];
    const points = measured.map((t) => ({ record: t.number, on: now.dayOf(t.sealedAt), percent: t.allowancePercent ?? 0, verdict: t.verdict }));
    const since = Math.max(repairs[0]?.at.getTime() ?? 0, ...measured.filter((t) => t.blocks).map((t) => t.sealedAt.getTime()));
    const fresh = measured.filter((t) => t.sealedAt.getTime() > since).map((t) => ({ on: now.dayOf(t.sealedAt), percent: t.allowancePercent ?? 0 }));
    return [
      {
        procedure,
        title: publishedById(procedure).document.title,
        points,
        strips: measured
          .slice(-MOST_STRIPS)
          .filter((t) => (t.strip?.length ?? 0) > 1)
          .map((t) => ({ record: t.number, on: now.dayOf(t.sealedAt), points: asAllowance(t.strip ?? [], t.allowancePercent ?? 0) })),
        outlook: outlook(fresh, now.day, due.get(procedure) ?? null),
      },
    ];
  });
}

/** What was told of the day when an item was tested last, by procedure. */
async function lastTold(db: Queries, id: string): Promise<Readonly<Record<string, Lists>>> {
  const { rows } = await db.execute<{ procedure: string; lists: Lists }>(sql`
    SELECT DISTINCT ON (run.procedure) run.procedure, e.event -> 'lists' AS lists FROM run_asset ra JOIN run ON run.id = ra.run JOIN run_event e ON e.run = run.id AND e.seq = 1
    WHERE ra.asset = ${id}::uuid AND e.event -> 'lists' IS NOT NULL ORDER BY run.procedure, run.opened_order DESC`);
  return Object.fromEntries(rows.map((r) => [r.procedure, r.lists]));
}

/** Who has taken an item along just now, and until when. */
async function alongWith(db: Queries, assetId: string, now: Moment): Promise<readonly { readonly by: string; readonly until: string }[]> {
  const found = await db
    .select({ by: account.fullName, until: along.until })
    .from(alongAsset)
    .innerJoin(along, eq(along.id, alongAsset.along))
    .innerJoin(account, eq(account.id, along.account))
    .where(and(eq(alongAsset.asset, assetId), isNull(along.endedAt), gt(along.until, now)))
    .orderBy(along.until);
  return found.map((f) => ({ by: f.by, until: f.until.toISOString() }));
}

/** All that is known of one asset. What does not need one another is asked for at the same time. */
export async function assetView(db: Queries, id: string, now: Moment): Promise<AssetView> {
  const today = now.day;
  const row = await assetById(db, id, today);
  const owed = obligationsOf(db, id);
  const [obligations, series, fitted, records, leaks, happened, kits, told, away] = await Promise.all([
    owed,
    owed.then((all) => seriesOf(db, id, now, new Map(all.map((o) => [o.procedure, o.due])))),
    fittedTo(db, id),
    recordsOf(db, id),
    leaksOf(db, id),
    db
      .select({ kind: occasion.kind, at: occasion.at, note: occasion.note, by: account.fullName })
      .from(occasion)
      .innerJoin(account, eq(occasion.by, account.id))
      .where(and(eq(occasion.asset, id), isNull(occasion.archivedAt)))
      .orderBy(desc(occasion.at))
      .limit(MOST_OCCASIONS),
    db
      .select({ id: kit.id, name: kit.name })
      .from(kitAsset)
      .innerJoin(kit, eq(kitAsset.kit, kit.id))
      .where(and(eq(kitAsset.asset, id), isNull(kit.archivedAt)))
      .orderBy(asc(kit.name)),
    lastTold(db, id),
    alongWith(db, id, now),
  ]);
  return {
    ...row,
    obligations,
    instruments: fitted.map((i) => instrumentRow(i)),
    records,
    leaks,
    series,
    occasions: happened.map((h) => ({ ...h, at: h.at.toISOString() })),
    kits,
    told,
    along: away,
  };
}
