import type { ImportReport, NewAsset, RowFate } from '@grellin/contract';
import { byName, isNeeded, itemFacts, itemFieldNames, itemFields, type ItemFacts } from '@grellin/core';
import { inArray, sql } from 'drizzle-orm';
import { v7 } from 'uuid';
import { Coded, type Moment } from '../base';
import { asset, type ChangedRow, type Database, noteChange, type Queries, touched } from '../db';
import { refreshStanding } from '../standing';
import { type AssetEntity, knownItem, lifeEndsOn } from '../register/item';
import type { ReadRow } from './read';

const AT_ONCE = 1000;

/** Everything that a file can say of an item, as one text: what changes nothing in it changes nothing. */
const facts = (a: AssetEntity): string => JSON.stringify([itemFacts(a), Object.entries(a.attributes).sort()]);

/** The asset with what the file says of it; what no column stands for stays as it is. */
function merged(held: AssetEntity, given: NewAsset, columns: Readonly<Record<string, string>>): AssetEntity {
  const said = byName<ItemFacts>(itemFieldNames, (name) =>
    itemFields[name].changes !== 'never' && Object.hasOwn(columns, itemFields[name].column) ? knownItem(given)[name] : held[name],
  );
  return { ...held, ...said, attributes: { ...held.attributes, ...given.attributes }, lifeEnds: lifeEndsOn(said.madeOn, said.life) };
}

/** What a file may change of an item, as the statement that changes it takes it from its row. */
const overwritten = Object.fromEntries(
  [...itemFieldNames, 'attributes' as const, 'lifeEnds' as const, 'revision' as const].map((name) => [name, sql.raw(`excluded.${asset[name].name}`)]),
);

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
  for (const field of itemFieldNames.filter(isNeeded).map((name) => itemFields[name].column))
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
        fresh.push({ ...given, lifeEnds: lifeEndsOn(given.madeOn ?? null, given.life ?? null), id: v7(), createdAt: now });
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
    for (let i = 0; i < changed.length; i += AT_ONCE)
      await tx
        .insert(asset)
        .values(changed.slice(i, i + AT_ONCE).map(({ after }) => ({ ...after, revision: after.revision + 1 })))
        .onConflictDoUpdate({ target: asset.id, set: overwritten });
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
