import type { ImportReport, NewAsset, RowFate } from '@grellin/contract';
import { eq, inArray } from 'drizzle-orm';
import { v7 } from 'uuid';
import { Coded, type Moment } from '../base';
import { asset, type ChangedRow, type Database, noteChange, type Queries, touched } from '../db';
import { refreshStanding } from '../standing';
import { type AssetEntity, lifeEndsOn } from '../register/item';
import type { ReadRow } from './read';

const AT_ONCE = 1000;

const facts = (a: Pick<AssetEntity, 'serial' | 'title' | 'place' | 'practice' | 'attributes' | 'madeOn' | 'life'>): string =>
  JSON.stringify([a.serial, a.title, a.place, a.practice, Object.entries(a.attributes).sort(), a.madeOn, a.life]);

/** The asset with what the file says of it; what no column stands for stays as it is. */
function merged(held: AssetEntity, given: NewAsset, columns: Readonly<Record<string, string>>): AssetEntity {
  const has = (field: string): boolean => Object.hasOwn(columns, field);
  const madeOn = has('made_on') ? (given.madeOn ?? null) : held.madeOn;
  const life = has('life') ? (given.life ?? null) : held.life;
  return {
    ...held,
    serial: has('serial') ? given.serial : held.serial,
    title: has('title') ? given.title : held.title,
    place: has('place') ? given.place : held.place,
    practice: has('practice') ? given.practice : held.practice,
    attributes: { ...held.attributes, ...given.attributes },
    madeOn,
    life,
    lifeEnds: lifeEndsOn(madeOn, life),
  };
}

async function heldByTag(db: Queries, tags: readonly string[]): Promise<ReadonlyMap<string, AssetEntity>> {
  const found = new Map<string, AssetEntity>();
  for (let i = 0; i < tags.length; i += AT_ONCE) {
    const rows = await db
      .select()
      .from(asset)
      .where(inArray(asset.tag, tags.slice(i, i + AT_ONCE)));
    for (const r of rows) found.set(r.tag, r);
  }
  return found;
}

/**
 * Takes a register's file in, or says what it would do: the fate of every row, and what is wrong by row and column. When it writes, it writes all good rows
 * in one transaction or none.
 * @param read reads the rows, off the thread that answers requests
 * @param columns the file's column by field of the register
 * @throws Coded for a file that is no CSV, a column that is not there, or one that lacks what every item has
 */
export async function importRegister(
  db: Database,
  read: (csv: string, columns: Readonly<Record<string, string>>) => Promise<readonly ReadRow[]>,
  csv: string,
  columns: Readonly<Record<string, string>>,
  write: boolean,
  by: string,
  now: Moment,
): Promise<ImportReport> {
  for (const field of ['tag', 'serial', 'class', 'title', 'place'] as const)
    if (!Object.hasOwn(columns, field)) throw new Coded('import.unmatched', `No column is matched to the ${field}.`, { field });
  const rows = await read(csv, columns);
  return db.transaction(async (tx) => {
    const held = await heldByTag(tx, rows.map((r) => r.asset.tag)); // prettier-ignore
    const fates: RowFate[] = [];
    const fresh: (typeof asset.$inferInsert)[] = [];
    const changed: { readonly before: AssetEntity; readonly after: AssetEntity }[] = [];
    for (const { line, asset: given, flaws } of rows) {
      const before = held.get(given.tag);
      if (before && before.class !== given.class) flaws.push({ column: 'class', message: `${given.tag} is a ${before.class} already` });
      if (flaws.length > 0) fates.push({ row: line, tag: given.tag, fate: 'bad', flaws });
      else if (!before) {
        fates.push({ row: line, tag: given.tag, fate: 'new', flaws });
        const { madeOn = null, life = null } = given;
        fresh.push({ ...given, madeOn, life, lifeEnds: lifeEndsOn(madeOn, life), id: v7(), createdAt: now });
      } else {
        const after = merged(before, given, columns);
        const same = facts(before) === facts(after);
        fates.push({ row: line, tag: given.tag, fate: same ? 'same' : 'changed', flaws });
        if (!same) changed.push({ before, after });
      }
    }
    const count = (fate: RowFate['fate']): number => fates.filter((f) => f.fate === fate).length;
    const report = { rows: rows.length, new: count('new'), changed: count('changed'), same: count('same'), bad: count('bad'), fates, written: write };
    if (!write || fresh.length + changed.length === 0) return { ...report, change: null };
    for (let i = 0; i < fresh.length; i += AT_ONCE) await tx.insert(asset).values(fresh.slice(i, i + AT_ONCE));
    for (const { after } of changed) {
      const { serial, title, place, practice, attributes, madeOn, life, lifeEnds } = after;
      await tx
        .update(asset)
        .set({ serial, title, place, practice, attributes, madeOn, life, lifeEnds, revision: after.revision + 1 })
        .where(eq(asset.id, after.id));
    }
    const noted: ChangedRow[] = [
      // What a file brought in is put away again as a whole: nothing else of it has to be kept for that.
      ...fresh.map((f): ChangedRow => ({ table: 'asset', id: f.id, before: null, after: { archivedAt: null } })),
      ...changed.map(({ before, after }) => touched('asset', before.id, before, after)),
    ];
    const change = await noteChange(tx, `${String(fresh.length)} items added and ${String(changed.length)} changed from a file`, noted, by, now);
    await refreshStanding(
      tx,
      noted.map((n) => n.id),
    );
    return { ...report, change };
  });
}
