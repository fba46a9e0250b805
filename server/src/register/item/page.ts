import { isText, isUuid, LONGEST_PAGE, type AssetRow, type RegisterPage, type RegisterQuery, type RegisterSort } from '@grellin/contract';
import { and, asc, desc, eq, inArray, sql, type SQL } from 'drizzle-orm';
import type { PgColumn } from 'drizzle-orm/pg-core';
import { Coded } from '../../base';
import { asset, kitAsset, type Queries, standing } from '../../db';
import { inState } from '../../standing';
import { assetRow } from './store';

/** How many rows a page has when nobody says. */
const PAGE = 50;
/** A list is counted up to here and no further: what it says then is “more than”. */
const COUNTED = 1000;
/** Trigrams need this many letters; fewer are taken for the beginning of a tag. */
const LEAST_LETTERS = 3;

/** What each order goes by, and the column that tells two alike apart. Each has an index of its own. */
const orders: Readonly<Record<RegisterSort, { readonly by: PgColumn; readonly then: PgColumn; readonly type: string }>> = {
  tag: { by: asset.tag, then: asset.id, type: 'text' },
  title: { by: asset.title, then: asset.tag, type: 'text' },
  serial: { by: asset.serial, then: asset.tag, type: 'text' },
  place: { by: asset.place, then: asset.tag, type: 'text' },
  due: { by: standing.due, then: standing.asset, type: 'date' },
  used: { by: standing.used, then: standing.asset, type: 'integer' },
};

const like = (text: string): string => text.toLowerCase().replace(/[\\%_]/g, '\\$&');

/** The conditions that a query sets, apart from where its page begins. */
export function registerConditions(query: RegisterQuery, today: string): SQL[] {
  const found: SQL[] = [sql`${standing.archived} = ${query.archived === 'true'}`];
  const q = query.q?.trim() ?? '';
  if (q.length >= LEAST_LETTERS) found.push(sql`${asset.search} LIKE ${`%${like(q)}%`}`);
  else if (q !== '') found.push(sql`lower(${asset.tag}) LIKE ${`${like(q)}%`}`);
  if (query.class !== undefined) found.push(eq(asset.class, query.class));
  if (query.place !== undefined) found.push(eq(asset.place, query.place));
  if (query.state !== undefined) found.push(inState(query.state, today));
  if (query.kit !== undefined) found.push(sql`EXISTS (SELECT 1 FROM ${kitAsset} WHERE ${kitAsset.kit} = ${query.kit} AND ${kitAsset.asset} = ${asset.id})`);
  return found;
}

type Key = readonly [string | number, string];

const cursorOf = (key: Key): string => Buffer.from(JSON.stringify(key)).toString('base64url');

/** What the first half of a key must be, by the type of its column. */
const isOf: Readonly<Record<string, (value: unknown) => boolean>> = {
  text: (v) => typeof v === 'string' && isText(v),
  integer: (v) => typeof v === 'number' && Number.isSafeInteger(v) && Math.abs(v) < 2 ** 31,
  date: (v) => typeof v === 'string' && /^\d{4}-\d\d-\d\d$/.test(v) && !Number.isNaN(Date.parse(v)),
};

/** A cursor comes back from outside: nothing of it is believed. */
function keyOf(cursor: string, type: string, then: 'tag' | 'id'): Key {
  try {
    const key: unknown = JSON.parse(Buffer.from(cursor, 'base64url').toString());
    if (Array.isArray(key) && key.length === 2) {
      const [value, other] = key as readonly unknown[];
      if (isOf[type]?.(value) && typeof other === 'string' && (then === 'tag' ? isText(other) : isUuid(other))) return [value as string | number, other];
    }
  } catch {
    // said below
  }
  throw new Coded('page.cursor', 'This page does not begin anywhere: ask for the first one.');
}

/**
 * One page of the register, by key and not by number: the page after a thousand others costs what the first one does.
 * @throws Coded for a cursor that is none
 */
export async function registerPage(db: Queries, query: RegisterQuery, today: string): Promise<RegisterPage> {
  const { by, then, type } = orders[query.sort ?? 'tag'];
  const down = query.down === 'true';
  const limit = Math.min(LONGEST_PAGE, Math.max(1, Number(query.limit ?? PAGE)));
  const conditions = registerConditions(query, today);
  const after: SQL[] = [];
  if (query.after !== undefined) {
    const [value, id] = keyOf(query.after, type, then === asset.tag ? 'tag' : 'id');
    const other = then === asset.tag ? sql`${id}` : sql`${id}::uuid`;
    after.push(sql`(${by}, ${then}) ${sql.raw(down ? '<' : '>')} (${value}::${sql.raw(type)}, ${other})`);
  }
  const found = await db
    .select({ asset, standing })
    .from(asset)
    .innerJoin(standing, eq(standing.asset, asset.id))
    .where(and(...conditions, ...after))
    .orderBy(...(down ? [desc(by), desc(then)] : [asc(by), asc(then)]))
    .limit(limit + 1);
  // How many there are is told once, and only up to a bound: counting a hundred thousand rows for a number that nobody reads costs more than the page.
  const whole = query.after === undefined && found.length <= limit;
  const counted =
    query.after === undefined && !whole
      ? await db.execute<{ n: string }>(
          sql`SELECT count(*) AS n FROM (SELECT 1 FROM ${asset} JOIN ${standing} ON ${standing.asset} = ${asset.id} WHERE ${and(...conditions)} LIMIT ${COUNTED + 1}) AS few`,
        )
      : null;
  const rows = found.slice(0, limit).map((f) => assetRow(f.asset, f.standing, today));
  const last = found.length > limit ? found[limit - 1] : undefined;
  const value = (f: (typeof found)[number]): Key => {
    const s = query.sort ?? 'tag';
    const first = s === 'due' ? f.standing.due : s === 'used' ? f.standing.used : f.asset[s];
    return [first, then === asset.tag ? f.asset.tag : f.asset.id];
  };
  const n = counted ? Number(counted.rows[0]?.n ?? 0) : whole ? found.length : null;
  return {
    rows,
    next: last ? cursorOf(value(last)) : null,
    count: n === null ? null : Math.min(n, COUNTED),
    more: n !== null && n > COUNTED,
  };
}

/** Assets by their ids, in no order. */
export async function assetsByIds(db: Queries, ids: readonly string[], today: string): Promise<readonly AssetRow[]> {
  if (ids.length === 0) return [];
  const found = await db
    .select({ asset, standing })
    .from(asset)
    .innerJoin(standing, eq(standing.asset, asset.id))
    .where(inArray(asset.id, [...ids]));
  return found.map((f) => assetRow(f.asset, f.standing, today));
}
