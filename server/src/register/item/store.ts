import { isDeepStrictEqual } from 'node:util';
import { attributeFlaws, same, type AssetChange, type AssetRow, type BulkChange, type LastResult, type NewAsset, type NewOccasion } from '@grellin/contract';
import {
  byName,
  INSTRUMENT_CLASS,
  itemFacts,
  itemFieldNames,
  lifeEnd,
  mayBeFilled,
  oddAttributes,
  type Attributes,
  type ItemFacts,
  type ItemFieldName,
  type OccasionKind,
} from '@grellin/core';
import { and, eq, inArray, isNotNull, isNull, sql } from 'drizzle-orm';
import { v7 } from 'uuid';
import { Coded, type Moment } from '../../base';
import { asset, type ChangedRow, type Database, NEVER, NOT_MEASURED, noteChange, obligation, occasion, type Queries, standing, touched } from '../../db';
import { readinessOf, refreshStanding, refuseCondemned, type StandingEntity } from '../../standing';

export type AssetEntity = typeof asset.$inferSelect;
// The table has a column for every field of an item, of its type.
same<Pick<AssetEntity, ItemFieldName>, ItemFacts>(true);

/** What somebody did and can take back. */
export interface Changed {
  readonly change: string;
}

/** An item as the register tells of it, with how it stands on a day. */
export function assetRow(a: AssetEntity, s: StandingEntity, today: string): AssetRow {
  const last: LastResult | null =
    s.lastRecord === null
      ? null
      : {
          record: s.lastRecord,
          verdict: s.lastVerdict ?? 'void',
          word: s.lastWord ?? '',
          allowancePercent: s.used === NOT_MEASURED ? null : s.used,
          on: s.lastOn ?? '',
        };
  return {
    ...itemFacts(a),
    id: a.id,
    attributes: a.attributes,
    lifeEnds: a.lifeEnds,
    archived: a.archivedAt !== null,
    revision: a.revision,
    due: s.due === NEVER ? null : s.due,
    last,
    ...readinessOf(s, today),
  };
}

/**
 * One item as the register tells of it.
 * @throws Coded `asset.unknown`
 */
export async function assetById(db: Queries, id: string, today: string): Promise<AssetRow> {
  const [found] = await db.select({ asset, standing }).from(asset).innerJoin(standing, eq(standing.asset, asset.id)).where(eq(asset.id, id));
  if (!found) throw new Coded('asset.unknown', 'There is no such asset.');
  return assetRow(found.asset, found.standing, today);
}

/** An instrument is more than a row of the register: it is added with its range and its limits of error. */
export function refuseInstrument(kind: string): void {
  if (kind === INSTRUMENT_CLASS) throw new Coded('asset.isInstrument', 'An instrument has a range and limits of error: add it as one.');
}

/**
 * Refuses figures that nobody would expect of a class: they are asked about once more.
 * @param sure ids of attributes that are meant as they are
 * @throws Coded asset.odd
 */
export function refuseOdd(kind: string, attributes: Attributes, sure: readonly string[]): void {
  const odd = oddAttributes(kind, attributes).filter(({ id }) => !sure.includes(id));
  if (odd.length > 0) throw new Coded('asset.odd', `${odd.map((o) => o.words).join('; ')}. Is that so?`, Object.fromEntries(odd.map((o) => [o.id, o.words])));
}

/**
 * Refuses attributes that are not of the class, or that nobody would expect of it: those are asked about once more.
 * @param before as the item stands: what is not changed is not asked about again
 * @param sure ids of attributes that are meant as they are
 */
function refuseFlaws(kind: string, attributes: AssetEntity['attributes'], sure: readonly string[], before: AssetEntity['attributes'] = {}): void {
  const same = (name: string): boolean => name in attributes && isDeepStrictEqual(attributes[name], before[name]);
  const [flaw] = attributeFlaws(kind, attributes).filter((name) => !same(name));
  if (flaw !== undefined) throw new Coded('asset.attributeWrong', `${flaw} does not belong to ${kind}, or is of another kind.`, { attribute: flaw });
  refuseOdd(kind, Object.fromEntries(Object.entries(attributes).filter(([name]) => !same(name))), sure);
}

/** The last day of a life, where it has one and its beginning is known. */
export function lifeEndsOn(madeOn: string | null, life: string | null): string | null {
  return madeOn === null ? null : lifeEnd(madeOn, life);
}

/** The fields of an item as they are kept: what was left out is unknown. */
export function knownItem(given: NewAsset): ItemFacts {
  return byName<ItemFacts>(itemFieldNames, (name) => (given[name] ?? null) as ItemFacts[typeof name]);
}

/** Adds an asset. Its attributes are those of its class, each of its kind. */
export function addAsset(db: Database, given: NewAsset, by: string, now: Moment): Promise<AssetRow & Changed> {
  refuseInstrument(given.class);
  refuseFlaws(given.class, given.attributes, given.sure ?? []);
  return db.transaction(async (tx) => {
    const item = knownItem(given);
    const [made] = await tx
      .insert(asset)
      .values({ ...item, attributes: given.attributes, lifeEnds: lifeEndsOn(item.madeOn, item.life), id: v7(), createdAt: now })
      .onConflictDoNothing()
      .returning();
    if (!made) throw new Coded('asset.exists', `There is an asset ${given.tag}.`);
    const change = await noteChange(tx, `${given.tag} added`, [touched('asset', made.id, null, made)], by, now);
    await refreshStanding(tx, [made.id]);
    return { ...(await assetById(tx, made.id, now.day)), change };
  });
}

/**
 * Changes an asset. Whoever changes it names the revision that was seen, so that nobody writes over what another has just written.
 * @throws Coded when it has been changed since, or an attribute is not of its class
 */
export function changeAsset(db: Database, id: string, given: AssetChange, by: string, now: Moment): Promise<AssetRow & Changed> {
  return db.transaction(async (tx) => {
    const [held] = await tx.select().from(asset).where(eq(asset.id, id)).for('no key update');
    if (!held) throw new Coded('asset.unknown', 'There is no such asset.');
    if (held.revision !== given.revision) throw new Coded('asset.changed', 'Somebody has changed it since you looked: look again.', { id });
    const { revision, archived, sure = [], madeOn = held.madeOn, life = held.life, ...facts } = given;
    if (given.attributes) refuseFlaws(held.class, given.attributes, sure, held.attributes);
    const archivedAt = archived === undefined ? held.archivedAt : archived ? (held.archivedAt ?? now) : null;
    const [made] = await tx
      .update(asset)
      .set({ ...facts, madeOn, life, lifeEnds: lifeEndsOn(madeOn, life), archivedAt, revision: revision + 1 })
      .where(eq(asset.id, id))
      .returning();
    if (!made) throw new Coded('asset.unknown', 'There is no such asset.');
    const what = archived === true ? 'put away' : archived === false ? 'taken back into use' : 'changed';
    const change = await noteChange(tx, `${held.tag} ${what}`, [touched('asset', id, held, made)], by, now);
    await refreshStanding(tx, [id]);
    return { ...(await assetById(tx, id, now.day)), change };
  });
}

/** Changes many assets at once, or none: one change, one undo. */
export function changeMany(db: Database, given: BulkChange, by: string, now: Moment): Promise<Changed & { readonly changed: number }> {
  return db.transaction(async (tx) => {
    const ids = [...new Set(given.assets)].sort();
    const held = await tx.select().from(asset).where(inArray(asset.id, ids)).orderBy(asset.id).for('no key update');
    if (held.length !== ids.length) throw new Coded('asset.unknown', 'One of these assets is not there.');
    const rows: ChangedRow[] = [];
    for (const before of held) {
      const archivedAt = given.archived === undefined ? before.archivedAt : given.archived ? (before.archivedAt ?? now) : null;
      const place = given.place ?? before.place;
      const practice = given.practice ?? before.practice;
      const [after] = await tx.update(asset).set({ place, practice, archivedAt, revision: before.revision + 1 }).where(eq(asset.id, before.id)).returning(); // prettier-ignore
      if (after) rows.push(touched('asset', before.id, before, after));
    }
    const done = [
      ...(given.place === undefined ? [] : [`moved to ${given.place}`]),
      ...(given.archived === undefined ? [] : [given.archived ? 'put away' : 'taken back into use']),
      ...(given.practice === undefined ? [] : [given.practice ? 'marked for practice' : 'no longer for practice']),
    ];
    const change = await noteChange(tx, `${String(held.length)} items ${done.join(', ')}`, rows, by, now);
    await refreshStanding(tx, ids);
    return { change, changed: held.length };
  });
}

/** Refuses to note that something was filled whose test had fallen due by then: what may be filled is the core's word. */
async function refuseLateFilling(tx: Queries, assets: readonly string[], on: string): Promise<void> {
  const owed = await tx
    .select({ tag: asset.tag, due: obligation.due })
    .from(obligation)
    .innerJoin(asset, eq(obligation.asset, asset.id))
    .where(and(inArray(obligation.asset, [...assets]), isNull(obligation.archivedAt), isNotNull(obligation.filled)));
  const late = owed.find((o) => o.due !== null && !mayBeFilled(o.due, on));
  if (late) throw new Coded('occasion.notFilled', `${late.tag} may not be filled: its test fell due on ${late.due ?? ''}.`, { tag: late.tag });
}

const happenedInWords: Readonly<Record<OccasionKind, string>> = {
  received: 'came in',
  used: 'used',
  repaired: 'repaired',
  delivered: 'had a delivery',
  fumigated: 'fumigated',
  filled: 'filled',
  emptied: 'emptied',
};

/** Notes that something happened to assets, and what they owe for it. A day is taken at its end, unless it is today. */
export function noteOccasion(db: Database, given: NewOccasion, by: string, now: Moment): Promise<Changed & { readonly noted: number }> {
  const today = now.day;
  const { on = today } = given;
  if (on > today) throw new Coded('occasion.ahead', 'That day has not come yet.', { on });
  const at = on === today ? now : now.endOf(on);
  return db.transaction(async (tx) => {
    const ids = [...new Set(given.assets)];
    const held = await tx.select({ id: asset.id, tag: asset.tag }).from(asset).where(inArray(asset.id, ids));
    if (held.length !== ids.length) throw new Coded('asset.unknown', 'One of these assets is not there.');
    if (given.kind === 'filled') {
      for (const id of ids) await refuseCondemned(tx, id);
      await refuseLateFilling(tx, ids, on);
    }
    const noted = await tx
      .insert(occasion)
      .values(ids.map((id) => ({ id: v7(), asset: id, kind: given.kind, at, note: given.note ?? '', by, archivedAt: null })))
      .returning();
    const what = `${held.length === 1 ? (held[0]?.tag ?? '') : `${String(held.length)} items`}: ${happenedInWords[given.kind]}`;
    const change = await noteChange(tx, what, noted.map((n) => touched('occasion', n.id, null, n)), by, now); // prettier-ignore
    await refreshStanding(tx, ids);
    return { noted: ids.length, change };
  });
}

/** Places that are in use, for a person to choose from. */
export async function places(db: Queries): Promise<readonly string[]> {
  // A walk along the index from one place to the next: a hundred thousand items have a dozen places.
  const found = await db.execute<{ place: string }>(sql`
    WITH RECURSIVE t AS (
      (SELECT place FROM asset ORDER BY place LIMIT 1)
      UNION ALL
      SELECT (SELECT a.place FROM asset a WHERE a.place > t.place ORDER BY a.place LIMIT 1) FROM t WHERE t.place IS NOT NULL)
    SELECT place FROM t WHERE place IS NOT NULL LIMIT 500`);
  return found.rows.map((r) => r.place);
}
