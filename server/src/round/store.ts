import type { NewRound, NewRun, RoundItem, RoundTake } from '@grellin/contract';
import { inRounds, mainRole, type Procedure } from '@grellin/core';
import { and, asc, eq, inArray, isNull, or, sql } from 'drizzle-orm';
import { v7 } from 'uuid';
import { Coded, type Moment } from '../base';
import { asset, type Database, type Queries, record, rigDoubted, round, run } from '../db';
import { publishedById } from '../procedure';
import { instrumentsById } from '../register/instrument';
import { openRun, type OpeningNeeds } from '../run';
import { gaugesBefore, gaugesOf } from './gauges';
import { addItems, owedIn, refuseOtherRules, leaveOut, stillOpen, takeItems, takeToOpen } from './items';
import { proofFor, type ProofNeeds } from './proof';

export type RoundEntity = typeof round.$inferSelect;

/** @throws Coded `round.unknown` */
export async function entityOf(db: Queries, id: string): Promise<RoundEntity> {
  const [found] = await db.select().from(round).where(eq(round.id, id));
  if (!found) throw new Coded('round.unknown', 'There is no such round.');
  return found;
}

/**
 * Begins a round, with what it is to test.
 * @throws Coded `procedure.unknown`, `round.coupled`, `instrument.unknown`, and as {@link gaugesBefore} and {@link addItems} do
 */
export async function openRound(tx: Queries, given: NewRound, by: string, now: Moment): Promise<{ readonly id: string }> {
  const { document } = publishedById(given.procedure);
  const rules = document.ruleSets.find((r) => r.id === given.ruleSet);
  if (!rules) throw new Coded('procedure.unknown', 'There is no such rule set.', { ruleSet: given.ruleSet });
  if (!inRounds(document, rules))
    throw new Coded('round.coupled', `${document.title} couples items, or asks of each what is of its day: each is tested by itself.`);
  const named = given.instruments && { instruments: given.instruments, rig: given.rig ?? null };
  const wanted = [...new Set(Object.values(named?.instruments ?? {}))];
  const there = await instrumentsById(tx, wanted);
  if (wanted.some((id) => !there.has(id))) throw new Coded('instrument.unknown', 'There is no such instrument.');
  const gauges = named ?? (await gaugesBefore(tx, given, now.day));
  const entity = { id: v7(), procedure: given.procedure, ruleSet: given.ruleSet, ...gauges, openedBy: by, openedAt: now, closedAt: null, closedBy: null };
  await tx.insert(round).values(entity);
  await addItems(tx, entity, given.assets ?? [], by);
  return { id: entity.id };
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
  const owed = await owedIn(db, r, [item.id]);
  refuseOtherRules(owed, r);
  const mine = owed.find((o) => o.ruleSet === r.ruleSet);
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

export interface RoundNeedsOfOpening extends OpeningNeeds, ProofNeeds {}

/**
 * Opens the run of the next item: by the round's rules, on its gauges, with what was proved of the rig this day.
 * @throws Coded as {@link refuseNext} and `openRun` do, `round.closed`, `round.noItem`, `round.manyItems`
 */
export async function openInRound(
  needs: RoundNeedsOfOpening,
  id: string,
  { code, proveAgain, takeOver }: RoundItem,
  holder: { readonly account: string; readonly device: string },
): Promise<{ readonly id: string; readonly secret: string }> {
  const r = stillOpen(await entityOf(needs.db, id));
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
  await needs.db.transaction((tx) => takeToOpen(tx, r, item.id, holder.account, takeOver === true, needs.now()));
  const find = proveAgain === true ? () => Promise.resolve(null) : proofFor(needs, id);
  return openRun(needs, given, holder, { id, proofFor: find });
}

/** Puts more items on the list of a round. @throws Coded as {@link addItems} does */
export async function addToRound(db: Database, id: string, assets: readonly string[], by: string): Promise<{ readonly added: number }> {
  return db.transaction(async (tx) => ({ added: await addItems(tx, await entityOf(tx, id), assets, by) }));
}

/** Takes an item off the list of a round. @throws Coded as {@link leaveOut} does */
export async function leaveOutOfRound(db: Database, id: string, item: string): Promise<void> {
  await db.transaction(async (tx) => leaveOut(tx, await entityOf(tx, id), item));
}

/** Gives items of a round to somebody, all of them or none. @throws Coded as {@link takeItems} does */
export async function takeInRound(db: Database, id: string, take: RoundTake, me: { readonly id: string; readonly role: string }, now: Moment): Promise<void> {
  await db.transaction(async (tx) => takeItems(tx, await entityOf(tx, id), take, me, now));
}
