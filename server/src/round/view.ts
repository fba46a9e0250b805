import type { RoundItemRow, RoundRow, RoundRun, RoundView } from '@grellin/contract';
import { rigIn, type Opened } from '@grellin/core';
import { and, asc, desc, eq, gte, inArray, isNull, or } from 'drizzle-orm';
import { account, asset, type Queries, record, round, run, runEvent } from '../db';
import { publishedById } from '../procedure';
import { instrumentsById } from '../register/instrument';
import { isLeft, itemsOf } from './items';
import { entityOf, type RoundEntity } from './store';

const RECENT_DAYS = 3;
const DAY_MS = 86_400_000;
const MOST = 40;

function rowOf(r: RoundEntity, by: string, runs: readonly { readonly verdict: string | null }[], items: readonly RoundItemRow[]): RoundRow {
  const { document } = publishedById(r.procedure);
  const count = (...verdicts: readonly (string | null)[]): number => runs.filter((x) => verdicts.includes(x.verdict)).length;
  return {
    id: r.id,
    procedure: r.procedure,
    title: document.title,
    ruleSet: r.ruleSet,
    ruleSetTitle: document.ruleSets.find((s) => s.id === r.ruleSet)?.title ?? r.ruleSet,
    openedAt: r.openedAt.toISOString(),
    by,
    closedAt: r.closedAt?.toISOString() ?? null,
    counts: { pass: count('pass'), fail: count('fail'), other: count('undecided', 'void'), open: count(null), left: items.filter(isLeft).length },
  };
}

/** Rounds that are open, and those that were ended in the last days; the newest first. */
export async function listRounds(db: Queries): Promise<readonly RoundRow[]> {
  const found = await db
    .select({ round, by: account.fullName })
    .from(round)
    .innerJoin(account, eq(round.openedBy, account.id))
    .where(or(isNull(round.closedAt), gte(round.closedAt, new Date(Date.now() - RECENT_DAYS * DAY_MS))))
    .orderBy(desc(round.openedAt))
    .limit(MOST);
  if (found.length === 0) return [];
  const runs = await db
    .select({ round: run.round, verdict: record.verdict })
    .from(run)
    .leftJoin(record, eq(record.run, run.id))
    .where(inArray(run.round, found.map((f) => f.round.id))); // prettier-ignore
  const items = await itemsOf(
    db,
    found.map((f) => f.round),
  );
  return found.map(({ round: r, by }) =>
    rowOf(
      r,
      by,
      runs.filter((x) => x.round === r.id),
      items.get(r.id) ?? [],
    ),
  );
}

/** The record that found the rig at fault after an item was tested on it, with no proof in between. A rig that is found at fault was so before it was found. */
function doubtOf(runs: readonly RoundRun[], rig: readonly ReturnType<typeof rigIn>[], i: number): string | null {
  if (runs[i]?.record === null) return null;
  const next = rig.findIndex((x, k) => k > i && x !== null);
  return rig[next] === 'failed' ? (runs[next]?.record ?? null) : null;
}

/** A round with its sheet: every item of it in the order in which it was begun. @throws Coded `round.unknown` */
export async function roundView(db: Queries, id: string): Promise<RoundView> {
  const r = await entityOf(db, id);
  const items = (await itemsOf(db, [r])).get(id) ?? [];
  const [who] = await db.select({ name: account.fullName }).from(account).where(eq(account.id, r.openedBy));
  const rows = await db
    .select({ run, asset, record, by: account.fullName, opened: runEvent.event })
    .from(run)
    .innerJoin(asset, eq(run.asset, asset.id))
    .innerJoin(account, eq(run.openedBy, account.id))
    .innerJoin(runEvent, and(eq(runEvent.run, run.id), eq(runEvent.seq, 1)))
    .leftJoin(record, eq(record.run, run.id))
    .where(eq(run.round, id))
    .orderBy(asc(run.openedOrder));
  const { document } = publishedById(r.procedure);
  const runs = rows.map((x): RoundRun => ({
    run: x.run.id,
    asset: x.asset.id,
    tag: x.asset.tag,
    serial: x.asset.serial,
    title: x.asset.title,
    startedAt: x.run.startedAt.toISOString(),
    by: x.by,
    record: x.record?.number ?? null,
    verdict: x.record?.verdict ?? null,
    word: x.record?.word ?? 'open',
    summary: x.record?.summary ?? '',
    sealedAt: x.record?.sealedAt.toISOString() ?? null,
    nextDue: x.record?.nextDue ?? null,
    provedIn: (x.opened as unknown as Opened).proof?.record ?? null,
    doubted: null,
  }));
  const rig = rows.map((x) => x.record && rigIn(document, x.record.result));
  const gauges = await instrumentsById(db, Object.values(r.instruments));
  return {
    ...rowOf(r, who?.name ?? '', runs, items),
    items,
    runs: runs.map((one, i) => ({ ...one, doubted: doubtOf(runs, rig, i) })),
    instruments: Object.entries(r.instruments).map(([channel, i]) => ({
      channel: document.channels[channel]?.title ?? channel,
      tag: gauges.get(i)?.tag ?? '',
    })),
    proves: document.stages.some((s) => s.proves),
  };
}
