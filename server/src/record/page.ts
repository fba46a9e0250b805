import { LONGEST_PAGE, type LogPage, type LogQuery } from '@grellin/contract';
import { and, desc, eq, sql, type SQL } from 'drizzle-orm';
import { COUNTED, cursorOf, inPattern, keyOf, LEAST_LETTERS, PAGE } from '../base';
import { asset, type Queries, record, runInstrument } from '../db';
import { listed, rowOf } from './store';

/** How a record’s number begins. */
const NUMBER = /^gr-/i;

/** The conditions that a question sets, apart from where its page begins. A day is the station’s, from its midnight to the next. */
function conditionsOf(query: LogQuery, zone: string): SQL[] {
  const found: SQL[] = [];
  const q = query.q?.trim() ?? '';
  const begins = sql`${record.number} LIKE ${`${inPattern(q).toUpperCase()}%`}`;
  const ofItem = q.length < LEAST_LETTERS ? sql`lower(${asset.tag}) LIKE ${`${inPattern(q)}%`}` : sql`${asset.search} LIKE ${`%${inPattern(q)}%`}`;
  // Either of them has its index, both together have none: only what looks like a number is looked for among the numbers.
  if (q !== '') found.push(NUMBER.test(q) ? sql`(${begins} OR ${ofItem})` : ofItem);
  if (query.from !== undefined) found.push(sql`${record.sealedAt} >= (${query.from}::date)::timestamp AT TIME ZONE ${zone}`);
  if (query.to !== undefined) found.push(sql`${record.sealedAt} < (${query.to}::date + 1)::timestamp AT TIME ZONE ${zone}`);
  if (query.verdict !== undefined) found.push(eq(record.verdict, query.verdict));
  if (query.procedure !== undefined) found.push(eq(record.procedure, query.procedure));
  if (query.by !== undefined) found.push(eq(record.by, query.by));
  if (query.simulated !== undefined) found.push(eq(record.simulated, query.simulated === 'true'));
  if (query.gauge !== undefined)
    found.push(sql`EXISTS (SELECT 1 FROM ${runInstrument} WHERE ${runInstrument.run} = ${record.run} AND ${runInstrument.instrument} = ${query.gauge}::uuid)`);
  return found;
}

/**
 * One page of the log, newest first, by the order in which the station sealed.
 * @throws Coded `page.cursor`
 */
export async function logPage(db: Queries, query: LogQuery, zone: string): Promise<LogPage> {
  const limit = Math.min(LONGEST_PAGE, Math.max(1, Number(query.limit ?? PAGE)));
  const conditions = conditionsOf(query, zone);
  const after = query.after === undefined ? [] : [sql`${record.sealedOrder} < ${keyOf(query.after, 'bigint', 'text')[0]}::bigint`];
  const found = await listed(db)
    .where(and(...conditions, ...after))
    .orderBy(desc(record.sealedOrder))
    .limit(limit + 1);
  const whole = query.after === undefined && found.length <= limit;
  const counted =
    query.after === undefined && !whole
      ? await db.execute<{ n: string }>(
          sql`SELECT count(*) AS n FROM (SELECT 1 FROM ${record} JOIN ${asset} ON ${asset.id} = ${record.asset} WHERE ${and(...conditions) ?? sql`true`} LIMIT ${COUNTED + 1}) AS few`,
        )
      : null;
  const n = counted ? Number(counted.rows[0]?.n ?? 0) : whole ? found.length : null;
  const last = found.length > limit ? found[limit - 1]?.record : undefined;
  return {
    rows: await Promise.all(found.slice(0, limit).map((f) => rowOf(db, f))),
    next: last ? cursorOf([last.sealedOrder, last.number]) : null,
    count: n === null ? null : Math.min(n, COUNTED),
    more: n !== null && n > COUNTED,
  };
}
