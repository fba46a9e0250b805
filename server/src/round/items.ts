import { MOST_IN_ROUND, type RoundItemRow, type RoundStand, type RoundTake } from '@grellin/contract';
import { mainRole } from '@grellin/core';
import { and, asc, eq, inArray, isNull, max, ne, or, sql } from 'drizzle-orm';
import { Coded, type Moment } from '../base';
import { account, asset, obligation, type Queries, record, rigDoubted, round, roundItem, run } from '../db';
import { publishedById } from '../procedure';

type RoundEntity = typeof round.$inferSelect;
type Person = { readonly id: string; readonly role: string };

/** Refuses what is asked of a round that was ended. */
export function stillOpen(r: RoundEntity): RoundEntity {
  if (r.closedAt !== null) throw new Coded('round.closed', 'This round has been ended.');
  return r;
}

/** What items owe by the procedure of a round, by whatever rules. */
export async function owedIn(db: Queries, r: Pick<RoundEntity, 'procedure'>, assets: readonly string[]) {
  return db
    .select({ id: obligation.id, asset: obligation.asset, tag: asset.tag, ruleSet: obligation.ruleSet })
    .from(obligation)
    .innerJoin(asset, eq(asset.id, obligation.asset))
    .where(and(inArray(obligation.asset, [...assets]), eq(obligation.procedure, r.procedure), isNull(obligation.archivedAt)))
    .orderBy(asc(asset.tag));
}

/** Refuses items that owe this test by other rules and not by those of the round: whoever chose them is told before anything is coupled to a rig. */
export function refuseOtherRules(owed: Awaited<ReturnType<typeof owedIn>>, r: Pick<RoundEntity, 'ruleSet'>): void {
  const here = new Set(owed.filter((o) => o.ruleSet === r.ruleSet).map((o) => o.asset));
  const others = owed.filter((o) => !here.has(o.asset));
  const [first] = others;
  if (!first) return;
  const tags = [...new Set(others.map((o) => o.tag))];
  const said = tags.length > 3 ? `${tags.slice(0, 3).join(', ')} and ${String(tags.length - 3)} more` : tags.join(', ');
  const words = tags.length > 1 ? 'owe this test by other rules: they are tested by themselves' : 'owes this test by other rules: it is tested by itself';
  throw new Coded('round.otherRules', `${said} ${words}.`, { ruleSet: first.ruleSet, tags: tags.join(' ') });
}

/**
 * Puts items on the list of a round, behind what is on it; what is on it already stays where it is.
 * @returns how many were added
 * @throws Coded `round.closed`, `round.noItem` where one is not there, is put away or cannot be tested by it, `round.otherRules`, `round.full`
 */
export async function addItems(tx: Queries, r: RoundEntity, assets: readonly string[], by: string): Promise<number> {
  stillOpen(r);
  const wanted = [...new Set(assets)];
  if (wanted.length === 0) return 0;
  const { document } = publishedById(r.procedure);
  const classes = [...(document.roles[mainRole(document)]?.classes ?? [])];
  const there = await tx
    .select({ id: asset.id })
    .from(asset)
    .where(and(inArray(asset.id, wanted), isNull(asset.archivedAt), inArray(asset.class, classes)));
  if (there.length < wanted.length) throw new Coded('round.noItem', 'One of these items is not there, was put away, or cannot be tested in this round.');
  refuseOtherRules(await owedIn(tx, r, wanted), r);
  // One after another: two people who add at the same time get places of their own.
  await tx.select({ id: round.id }).from(round).where(eq(round.id, r.id)).for('no key update');
  const [last] = await tx
    .select({ place: max(roundItem.place), n: sql<number>`count(*)::int` })
    .from(roundItem)
    .where(eq(roundItem.round, r.id));
  const on = new Set((await tx.select({ id: roundItem.asset }).from(roundItem).where(eq(roundItem.round, r.id))).map((i) => i.id));
  const fresh = wanted.filter((id) => !on.has(id));
  if (fresh.length === 0) return 0;
  if ((last?.n ?? 0) + fresh.length > MOST_IN_ROUND)
    throw new Coded('round.full', `A round takes on ${String(MOST_IN_ROUND)} items at most: begin another one.`, { most: String(MOST_IN_ROUND) });
  const from = (last?.place ?? 0) + 1;
  const added = await tx
    .insert(roundItem)
    .values(fresh.map((id, i) => ({ round: r.id, asset: id, place: from + i, addedBy: by })))
    .onConflictDoNothing()
    .returning({ id: roundItem.asset });
  return added.length;
}

/** Takes an item off the list. @throws Coded `round.closed`, `round.noItem`, `round.begun` */
export async function leaveOut(tx: Queries, r: RoundEntity, item: string): Promise<void> {
  stillOpen(r);
  const [begun] = await tx
    .select({ id: run.id })
    .from(run)
    .where(and(eq(run.round, r.id), eq(run.asset, item)))
    .limit(1);
  if (begun) throw new Coded('round.begun', 'It was begun in this round: it stays on its list.');
  const gone = await tx
    .delete(roundItem)
    .where(and(eq(roundItem.round, r.id), eq(roundItem.asset, item)))
    .returning({ id: roundItem.asset });
  if (gone.length === 0) throw new Coded('round.noItem', 'It is not on the list of this round.');
}

/**
 * Gives items of a round to somebody, or puts them back. What nobody has may be taken or given to anybody; what somebody has is handed on or put back by whoever has
 * it or by an officer, and taken over by whoever goes on with it. All of them or none.
 * @throws Coded `round.closed`, `account.unknown`, `round.notYours`, `round.taken` where one of them is no longer with whom it was thought to be
 */
export async function takeItems(tx: Queries, r: RoundEntity, { assets, from, to }: RoundTake, me: Person, now: Moment): Promise<void> {
  stillOpen(r);
  const mine = from === null || from === me.id || me.role === 'officer';
  if (!mine && to !== me.id)
    throw new Coded('round.notYours', 'Somebody else has these: whoever has them hands them on, or an officer does. You may take them over yourself.');
  if (to !== null && to !== me.id) {
    const [other] = await tx.select().from(account).where(eq(account.id, to));
    if (!other || other.disabledAt !== null || other.role === 'reader') throw new Coded('account.unknown', 'There is nobody of that name who tests.');
  }
  const wanted = [...new Set(assets)];
  const taken = await tx
    .update(roundItem)
    .set({ takenBy: to, takenAt: to === null ? null : now })
    .where(and(eq(roundItem.round, r.id), inArray(roundItem.asset, wanted), sql`${roundItem.takenBy} IS NOT DISTINCT FROM ${from}`))
    .returning({ asset: roundItem.asset });
  if (taken.length === wanted.length) return;
  const [other] = await tx
    .select({ tag: asset.tag, by: account.fullName })
    .from(roundItem)
    .innerJoin(asset, eq(asset.id, roundItem.asset))
    .leftJoin(account, eq(account.id, roundItem.takenBy))
    .where(and(eq(roundItem.round, r.id), inArray(roundItem.asset, wanted.filter((id) => !taken.some((t) => t.asset === id))))); // prettier-ignore
  if (!other) throw new Coded('round.noItem', 'One of these items is not on the list of this round.');
  throw new Coded(
    'round.taken',
    other.by === null ? `${other.tag} was put back meanwhile.` : `${other.by} has ${other.tag} meanwhile.`,
    other.by === null ? {} : { by: other.by },
  );
}

/** Whoever opens the run of an item has it: what another has is opened by saying so. @throws Coded `round.taken`, and as {@link addItems} does */
export async function takeToOpen(tx: Queries, r: RoundEntity, item: string, me: string, takeOver: boolean, now: Moment): Promise<void> {
  await addItems(tx, r, [item], me);
  const free = sql`(${roundItem.takenBy} IS NULL OR ${roundItem.takenBy} = ${me})`;
  const got = await tx
    .update(roundItem)
    .set({ takenBy: me, takenAt: now })
    .where(and(eq(roundItem.round, r.id), eq(roundItem.asset, item), takeOver ? undefined : free))
    .returning({ asset: roundItem.asset });
  if (got.length > 0) return;
  const [holder] = await tx
    .select({ by: account.fullName })
    .from(roundItem)
    .innerJoin(account, eq(account.id, roundItem.takenBy))
    .where(and(eq(roundItem.round, r.id), eq(roundItem.asset, item)));
  throw new Coded('round.taken', `${holder?.by ?? 'Somebody else'} has this item in this round. Take it over to go on with it.`, { by: holder?.by ?? '' });
}

function grouped<T>(all: readonly T[], by: (one: T) => string): ReadonlyMap<string, readonly T[]> {
  const found = new Map<string, T[]>();
  for (const one of all) found.set(by(one), [...(found.get(by(one)) ?? []), one]);
  return found;
}

/** What a round's list needs of each of its runs. */
interface RunOf {
  readonly id: string;
  readonly asset: string;
  readonly closed: boolean;
  readonly number: string | null;
  readonly verdict: string | null;
  readonly doubted: boolean;
}

function standOf(runs: readonly RunOf[], elsewhere: string | null): Pick<RoundItemRow, 'stands' | 'run' | 'record'> {
  const open = runs.find((x) => !x.closed);
  // A pass that stands on a rig which was found at fault is no pass of the round.
  const passed = runs.find((x) => x.verdict === 'pass' && !x.doubted);
  const newest = runs.at(-1);
  const as = (stands: RoundStand, of: RunOf | undefined): Pick<RoundItemRow, 'stands' | 'run' | 'record'> => ({ stands, run: of?.id ?? null, record: of?.number ?? null }); // prettier-ignore
  if (open) return as('open', open);
  if (passed) return as('passed', passed);
  if (newest) return as(newest.verdict === 'fail' ? 'failed' : 'again', newest);
  return elsewhere === null ? as('left', undefined) : { stands: 'elsewhere', run: null, record: elsewhere };
}

/** The lists of rounds: what each is to test, in order, how it stands and who has it. */
export async function itemsOf(db: Queries, rounds: readonly RoundEntity[]): Promise<ReadonlyMap<string, readonly RoundItemRow[]>> {
  const ids = rounds.map((r) => r.id);
  if (ids.length === 0) return new Map();
  const [listed, runs, others] = await Promise.all([
    db
      .select({ item: roundItem, asset, name: account.fullName })
      .from(roundItem)
      .innerJoin(asset, eq(asset.id, roundItem.asset))
      .leftJoin(account, eq(account.id, roundItem.takenBy))
      .where(inArray(roundItem.round, ids))
      .orderBy(asc(roundItem.place), asc(asset.tag)),
    db
      .select({ round: run.round, id: run.id, asset: run.asset, closed: run.closed, number: record.number, verdict: record.verdict, doubted: rigDoubted.run })
      .from(run)
      .leftJoin(record, eq(record.run, run.id))
      .leftJoin(rigDoubted, eq(rigDoubted.run, run.id))
      .where(inArray(run.round, ids))
      .orderBy(asc(run.openedOrder)),
    // By the same rules, in another round or in none, since this one began.
    db
      .select({ round: roundItem.round, asset: roundItem.asset, number: record.number, verdict: record.verdict, doubted: rigDoubted.run })
      .from(roundItem)
      .innerJoin(round, eq(round.id, roundItem.round))
      .innerJoin(run, and(eq(run.asset, roundItem.asset), eq(run.procedure, round.procedure), eq(run.ruleSet, round.ruleSet)))
      .innerJoin(record, eq(record.run, run.id))
      .leftJoin(rigDoubted, eq(rigDoubted.run, run.id))
      .where(and(inArray(roundItem.round, ids), sql`${record.sealedAt} > ${round.openedAt}`, or(isNull(run.round), ne(run.round, roundItem.round))))
      .orderBy(asc(record.sealedOrder)),
  ]);
  const key = (of: string | null, item: string): string => `${of ?? ''} ${item}`;
  const mine = grouped(runs, (x) => key(x.round, x.asset));
  // The newest decides: what passed elsewhere and then leaked is left, and so is what stands on a rig that was found at fault.
  const elsewhere = new Map(others.map((o) => [key(o.round, o.asset), o.verdict === 'pass' && o.doubted === null ? o.number : null]));
  return grouped(
    listed.map(({ item, asset: a, name }) => ({
      round: item.round,
      asset: a.id,
      tag: a.tag,
      serial: a.serial,
      title: a.title,
      place: a.place,
      takenBy: item.takenBy === null ? null : { id: item.takenBy, name: name ?? '' },
      takenAt: item.takenAt?.toISOString() ?? null,
      ...standOf(
        (mine.get(key(item.round, a.id)) ?? []).map((x) => ({ ...x, doubted: x.doubted !== null })),
        elsewhere.get(key(item.round, a.id)) ?? null,
      ),
    })),
    (i) => i.round,
  );
}

/** Nobody has come to it yet, or it is to be done again. */
export const isLeft = (item: Pick<RoundItemRow, 'stands'>): boolean => item.stands === 'left' || item.stands === 'again';
