import { LONGEST_PAGE, type AssetRow, type RegisterPage, type RegisterQuery, type RegisterSort } from '@grellin/contract';
import { and, asc, desc, eq, inArray, sql, type SQL } from 'drizzle-orm';
import type { PgColumn } from 'drizzle-orm/pg-core';
import { COUNTED, cursorOf, inPattern, keyOf, LEAST_LETTERS, PAGE, type PageKey } from '../../base';
import { asset, kitAsset, type Queries, standing } from '../../db';
import { inState } from '../../standing';
import { assetRow } from './store';

/** What each order goes by, and the column that tells two alike apart. Each has an index of its own. */
const orders: Readonly<Record<RegisterSort, { readonly by: PgColumn; readonly then: PgColumn; readonly type: 'text' | 'date' | 'integer' }>> = {
  tag: { by: asset.tag, then: asset.id, type: 'text' },
  title: { by: asset.title, then: asset.tag, type: 'text' },
  serial: { by: asset.serial, then: asset.tag, type: 'text' },
  place: { by: asset.place, then: asset.tag, type: 'text' },
  due: { by: standing.due, then: standing.asset, type: 'date' },
  used: { by: standing.used, then: standing.asset, type: 'integer' },
};

/** The conditions that a query sets, apart from where its page begins. */
export function registerConditions(query: RegisterQuery, today: string): SQL[] {
  const found: SQL[] = [sql`${standing.archived} = ${query.archived === 'true'}`];
  const q = query.q?.trim() ?? '';
  if (q.length >= LEAST_LETTERS) found.push(sql`${asset.search} LIKE ${`%${inPattern(q)}%`}`);
  else if (q !== '') found.push(sql`lower(${asset.tag}) LIKE ${`${inPattern(q)}%`}`);
  if (query.class !== undefined) found.push(eq(asset.class, query.class));
  if (query.place !== undefined) found.push(eq(asset.place, query.place));
  if (query.state !== undefined) found.push(inState(query.state, today));
  if (query.dueBy !== undefined) found.push(sql`${standing.due} <= ${query.dueBy}`);
  if (query.kit !== undefined) found.push(sql`EXISTS (SELECT 1 FROM ${kitAsset} WHERE ${kitAsset.kit} = ${query.kit} AND ${kitAsset.asset} = ${asset.id})`);
  return found;
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
    const [value, id] = keyOf(query.after, type, then === asset.tag ? 'text' : 'uuid');
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
  const value = (f: (typeof found)[number]): PageKey => {
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
