import type { NewRound, NewRun, RoundItem, RoundRow, RoundRun, RoundView } from '@grellin/contract';
import { inRounds, mustBeFitted, mainRole, rigIn, sameDimension, type Opened, type Procedure } from '@grellin/core';
import { and, asc, desc, eq, gte, inArray, isNull, or, sql } from 'drizzle-orm';
import { v7 } from 'uuid';
import { Coded, type Moment } from '../base';
import { account, asset, type Database, obligation, type Queries, record, rigDoubted, round, run, runEvent } from '../db';
import { publishedById } from '../procedure';
import { fittedTo, instrumentsById } from '../register/instrument';
import { openRun, type OpeningNeeds } from '../run';
import { proofFor, type ProofNeeds } from './proof';

type RoundEntity = typeof round.$inferSelect;

const RECENT_DAYS = 3;
const DAY_MS = 86_400_000;
const MOST = 40;

async function entityOf(db: Queries, id: string): Promise<RoundEntity> {
  const [found] = await db.select().from(round).where(eq(round.id, id));
  if (!found) throw new Coded('round.unknown', 'There is no such round.');
  return found;
}

/**
 * Begins a round.
 * @throws Coded `procedure.unknown`, `round.coupled`, `instrument.unknown`
 */
export async function openRound(db: Database, given: NewRound, by: string, now: Moment): Promise<{ readonly id: string }> {
  const { document } = publishedById(given.procedure);
  const rules = document.ruleSets.find((r) => r.id === given.ruleSet);
  if (!rules) throw new Coded('procedure.unknown', 'There is no such rule set.', { ruleSet: given.ruleSet });
  if (!inRounds(document, rules))
    throw new Coded('round.coupled', `${document.title} couples items, or asks of each what is of its day: each is tested by itself.`);
  const wanted = [...new Set(Object.values(given.instruments))];
  const there = await instrumentsById(db, wanted);
  if (wanted.some((id) => !there.has(id))) throw new Coded('instrument.unknown', 'There is no such instrument.');
  const id = v7();
  await db.insert(round).values({
    id,
    procedure: given.procedure,
    ruleSet: given.ruleSet,
    instruments: given.instruments,
    rig: given.rig ?? null,
    openedBy: by,
    openedAt: now,
  });
  return { id };
}

/** Ends a round. Ending it twice is harmless. @throws Coded `round.unknown` */
export async function closeRound(db: Database, id: string, by: string, now: Moment): Promise<{ readonly id: string }> {
  const { closedAt } = await entityOf(db, id);
  if (closedAt === null)
    await db
      .update(round)
      .set({ closedAt: now, closedBy: by })
      .where(and(eq(round.id, id), isNull(round.closedAt)));
  return { id };
}

const plain = sql<string>`regexp_replace(upper(${asset.serial}), '[^A-Z0-9]', '', 'g')`;

/** The item that a code was read from: by its tag, or by its serial however it is set apart. Of those alone that the round can test. */
async function itemOf(db: Queries, document: Procedure, code: string): Promise<typeof asset.$inferSelect> {
  const said = code.trim();
  const bare = said.toUpperCase().replace(/[^A-Z0-9]/g, '');
  const classes = document.roles[mainRole(document)]?.classes ?? [];
  const found = await db
    .select()
    .from(asset)
    .where(
      and(
        isNull(asset.archivedAt),
        inArray(asset.class, [...classes]),
        or(sql`upper(${asset.tag}) = ${said.toUpperCase()}`, bare === '' ? sql`false` : sql`${plain} = ${bare}`),
      ),
    )
    .orderBy(asc(asset.tag))
    .limit(5);
  const [only, other] = found;
  if (!only) throw new Coded('round.noItem', `No item of this kind has the serial or tag “${said}”.`, { code: said });
  if (other)
    throw new Coded('round.manyItems', `Several items bear “${said}”: ${found.map((a) => a.tag).join(', ')}. Scan or type the tag.`, {
      tags: found.map((a) => a.tag).join(' '),
    });
  return only;
}

/** What keeps an item from being the next of a round: other rules that it owes, a run that is open, a pass that it has in it. */
async function refuseNext(db: Queries, r: RoundEntity, item: typeof asset.$inferSelect): Promise<string | undefined> {
  const owed = await db
    .select()
    .from(obligation)
    .where(and(eq(obligation.asset, item.id), eq(obligation.procedure, r.procedure), isNull(obligation.archivedAt)));
  const mine = owed.find((o) => o.ruleSet === r.ruleSet);
  if (owed.length > 0 && !mine)
    throw new Coded('round.otherRules', `${item.tag} owes this test by other rules: it is tested by itself.`, { ruleSet: owed[0]?.ruleSet ?? '' });
  const [running] = await db
    .select({ id: run.id })
    .from(run)
    .where(and(eq(run.asset, item.id), eq(run.procedure, r.procedure), eq(run.closed, false)));
  if (running) throw new Coded('round.running', `A run of ${item.tag} is open: go on with that one.`, { run: running.id });
  const [passed] = await db
    .select({ number: record.number })
    .from(record)
    .innerJoin(run, eq(record.run, run.id))
    .leftJoin(rigDoubted, eq(rigDoubted.run, run.id))
    // A pass that stands on a rig which was found at fault is tested again.
    .where(and(eq(run.round, r.id), eq(record.asset, item.id), eq(record.verdict, 'pass'), isNull(rigDoubted.run)));
  if (passed) throw new Coded('round.passed', `${item.tag} has passed in this round already.`, { record: passed.number });
  return mine?.id;
}

const lastWord = (tag: string): string => (tag.split(/[ .-]/).at(-1) ?? '').toLowerCase();

/** The round's gauges; in the place of one that is fitted to another item the one that this item has of the kind. */
async function gaugesOf(db: Queries, r: RoundEntity, item: typeof asset.$inferSelect, document: Procedure): Promise<Record<string, string>> {
  const bound = await instrumentsById(db, Object.values(r.instruments));
  const own = (await fittedTo(db, item.id)).filter((i) => i.archivedAt === null);
  const found: Record<string, string> = {};
  for (const [channel, id] of Object.entries(r.instruments)) {
    const gauge = bound.get(id);
    if (gauge?.fittedTo === null || gauge?.fittedTo === undefined || gauge.fittedTo === item.id) found[channel] = id;
    else {
      const kin = own.filter((i) => sameDimension(i.low.unit, document.channels[channel]?.unit ?? '') && !Object.values(found).includes(i.id));
      // Of several the one that is called alike: `BA-07 remote` stands on the next set where `BA-03 remote` stood on the first.
      const alike = kin.length === 1 ? kin : kin.filter((i) => lastWord(i.tag) === lastWord(gauge.tag));
      const [only, other] = alike;
      if (only && !other) found[channel] = only.id;
      else if (mustBeFitted(document, channel, (c) => r.instruments[c] !== undefined))
        throw new Coded(
          'round.noGauge',
          `${item.tag} has ${kin.length > 0 ? 'several gauges, none called alike,' : 'no gauge of its own'} for ${document.channels[channel]?.title ?? channel}: it is tested by itself.`,
          { channel },
        );
    }
  }
  return found;
}

export interface RoundNeedsOfOpening extends OpeningNeeds, ProofNeeds {}

/**
 * Opens the run of the next item: by the round's rules, on its gauges, with what was proved of the rig this day.
 * @throws Coded as {@link refuseNext} and `openRun` do, `round.closed`, `round.noItem`, `round.manyItems`
 */
export async function openInRound(
  needs: RoundNeedsOfOpening,
  id: string,
  { code, proveAgain }: RoundItem,
  holder: { readonly account: string; readonly device: string },
): Promise<{ readonly id: string; readonly secret: string }> {
  const r = await entityOf(needs.db, id);
  if (r.closedAt !== null) throw new Coded('round.closed', 'This round has been ended.');
  const { document } = publishedById(r.procedure);
  const item = await itemOf(needs.db, document, code);
  const owed = await refuseNext(needs.db, r, item);
  const role = mainRole(document);
  const instruments = await gaugesOf(needs.db, r, item, document);
  const given: NewRun = {
    procedure: r.procedure,
    ruleSet: r.ruleSet,
    assets: { [role]: item.id },
    instruments,
    ...(r.rig === null ? {} : { rig: r.rig }),
    ...(owed === undefined ? {} : { obligation: owed }),
  };
  const find = proveAgain === true ? () => Promise.resolve(null) : proofFor(needs, id);
  return openRun(needs, given, holder, { id, proofFor: find });
}

function rowOf(r: RoundEntity, by: string, runs: readonly { readonly verdict: string | null }[]): RoundRow {
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
    counts: { pass: count('pass'), fail: count('fail'), other: count('undecided', 'void'), open: count(null) },
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
  return found.map(({ round: r, by }) =>
    rowOf(
      r,
      by,
      runs.filter((x) => x.round === r.id),
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
    ...rowOf(r, who?.name ?? '', runs),
    runs: runs.map((one, i) => ({ ...one, doubted: doubtOf(runs, rig, i) })),
    instruments: Object.entries(r.instruments).map(([channel, i]) => ({
      channel: document.channels[channel]?.title ?? channel,
      tag: gauges.get(i)?.tag ?? '',
    })),
    proves: document.stages.some((s) => s.proves),
  };
}
