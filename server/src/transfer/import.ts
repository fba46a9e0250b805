import { Malformed, newAssetSchema, parse, type ImportReport, type NewAsset, type RowFate } from '@grellin/contract';
import { INSTRUMENT_CLASS } from '@grellin/core';
import Papa from 'papaparse';
import { eq, inArray } from 'drizzle-orm';
import { v7 } from 'uuid';
import { lifeEndsOn, type AssetEntity } from '../asset/store';
import { asset } from '../asset/table';
import { noteChange, touched } from '../change/store';
import type { ChangedRow } from '../change/table';
import type { Database, Queries } from '../db/database';
import { Coded } from '../errors';
import { refreshStanding } from '../standing/store';
import { assetFrom } from './columns';

/** Rows that are looked at before the server answers somebody else. */
const SLICE = 250;
const AT_ONCE = 1000;
const MOST_ROWS = 200_000;

interface ReadRow {
  /** As a spreadsheet counts: the first line is the columns. */
  readonly line: number;
  readonly asset: NewAsset;
  readonly flaws: { readonly column: string; readonly message: string }[];
}

const breath = (): Promise<void> => new Promise((go) => setImmediate(go));

/** Which name of a schema's path stands in which column. */
const columnOf = (path: string): string => ({ madeOn: 'made_on' })[path] ?? path;

async function readRows(csv: string, columns: Readonly<Record<string, string>>): Promise<readonly ReadRow[]> {
  const parsed = Papa.parse<Record<string, string>>(csv.replace(/^\uFEFF/, ''), { header: true, skipEmptyLines: 'greedy' });
  const quotes = parsed.errors.find((e) => e.type === 'Quotes');
  if (quotes)
    throw new Coded('import.csv', `The file is no CSV: ${quotes.message}, row ${String((quotes.row ?? 0) + 2)}.`, { row: String((quotes.row ?? 0) + 2) });
  const there = new Set(parsed.meta.fields ?? []);
  for (const column of Object.values(columns))
    if (!there.has(column) || column in {}) throw new Coded('import.column', `The file has no column “${column}”.`, { column });
  if (parsed.data.length > MOST_ROWS) throw new Coded('import.long', `At most ${String(MOST_ROWS)} rows at once.`, { rows: String(parsed.data.length) });
  const rows: ReadRow[] = [];
  const tags = new Map<string, number>();
  for (const [i, fields] of parsed.data.entries()) {
    if (i % SLICE === 0) await breath();
    const { asset: given, flaws: first } = assetFrom((field) => (Object.hasOwn(columns, field) ? (fields[columns[field] ?? ''] ?? '') : undefined));
    const flaws = [...first];
    try {
      parse(newAssetSchema, given);
    } catch (error) {
      if (!(error instanceof Malformed)) throw error;
      for (const f of error.flaws) if (!flaws.some((x) => x.column === columnOf(f.path))) flaws.push({ column: columnOf(f.path), message: f.message });
    }
    if (given.class === INSTRUMENT_CLASS) flaws.push({ column: 'class', message: 'has a range and limits of error: it is added as an instrument' });
    const line = i + 2;
    const before = tags.get(given.tag);
    if (before !== undefined) flaws.push({ column: 'tag', message: `stands in row ${String(before)} already` });
    else tags.set(given.tag, line);
    rows.push({ line, asset: given, flaws });
  }
  return rows;
}

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
 * @param columns the file's column by field of the register
 * @throws Coded for a file that is no CSV, a column that is not there, or one that lacks what every item has
 */
export async function importRegister(
  db: Database,
  csv: string,
  columns: Readonly<Record<string, string>>,
  write: boolean,
  by: string,
  now: Date,
): Promise<ImportReport> {
  for (const field of ['tag', 'serial', 'class', 'title', 'place'] as const)
    if (!Object.hasOwn(columns, field)) throw new Coded('import.unmatched', `No column is matched to the ${field}.`, { field });
  const rows = await readRows(csv, columns);
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
