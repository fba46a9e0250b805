import { and, desc, eq, isNull, sql } from 'drizzle-orm';
import { v7 } from 'uuid';
import { account } from '../account/table';
import { asset, kit } from '../asset/table';
import type { Database, Queries, Transaction } from '../db/database';
import { Coded } from '../errors';
import { obligation } from '../schedule/table';
import { refreshStanding } from '../standing/store';
import { change, type ChangedRow } from './table';

type Values = Readonly<Record<string, unknown>>;

/** Instants come back from JSON as text. */
const instants: ReadonlySet<string> = new Set(['archivedAt', 'createdAt', 'lastDoneAt']);

/** What of a row is kept: everything that can be stored again. Counters and what the database makes itself are left out. */
function kept(row: Values): Values {
  return Object.fromEntries(Object.entries(row).filter(([name]) => name !== 'search' && name !== 'revision'));
}

/** One touched row, as it is noted. */
export function touched(table: ChangedRow['table'], id: string, before: Values | null, after: Values): ChangedRow {
  return { table, id, before: before && kept(before), after: kept(after) };
}

/** Notes a change in the transaction that makes it. @returns its id, for the undo */
export async function noteChange(tx: Queries, what: string, rows: readonly ChangedRow[], by: string, now: Date): Promise<string> {
  const id = v7();
  await tx.insert(change).values({ id, what, rows, by, at: now });
  return id;
}

const asStored = (values: Values): Record<string, unknown> =>
  Object.fromEntries(Object.entries(values).map(([name, value]) => [name, instants.has(name) && typeof value === 'string' ? new Date(value) : value]));

const same = (a: Values, b: Values): boolean => Object.keys(b).every((name) => JSON.stringify(a[name] ?? null) === JSON.stringify(b[name] ?? null));

async function restore(tx: Transaction, row: ChangedRow, now: Date): Promise<void> {
  const overtaken = new Coded('change.overtaken', 'It has been changed again since: undo that first.', { id: row.id });
  // What was made is not erased: it is put away.
  const back = row.before ? asStored(row.before) : { archivedAt: now };
  if (row.table === 'asset') {
    const [held] = await tx.select().from(asset).where(eq(asset.id, row.id)).for('update');
    if (!held || !same(JSON.parse(JSON.stringify(kept(held))) as Values, row.after)) throw overtaken;
    await tx.update(asset).set({ ...back, revision: held.revision + 1 }).where(eq(asset.id, row.id)); // prettier-ignore
  } else if (row.table === 'obligation') {
    const [held] = await tx.select().from(obligation).where(eq(obligation.id, row.id)).for('update');
    if (!held || !same(JSON.parse(JSON.stringify(kept(held))) as Values, row.after)) throw overtaken;
    await tx.update(obligation).set(back).where(eq(obligation.id, row.id));
  } else {
    const [held] = await tx.select().from(kit).where(eq(kit.id, row.id)).for('update');
    if (!held || !same(JSON.parse(JSON.stringify(kept(held))) as Values, row.after)) throw overtaken;
    await tx.update(kit).set(back).where(eq(kit.id, row.id));
  }
}

/** The assets whose standing a change can move. */
async function concerned(tx: Transaction, rows: readonly ChangedRow[]): Promise<string[]> {
  const owed = rows.filter((r) => r.table === 'obligation').map((r) => r.id);
  const found = owed.length === 0 ? [] : await tx.select({ asset: obligation.asset }).from(obligation).where(sql`${obligation.id} = ANY(${sql.param(owed)}::uuid[])`); // prettier-ignore
  return [...new Set([...rows.filter((r) => r.table === 'asset').map((r) => r.id), ...found.map((f) => f.asset)])];
}

/**
 * Takes a change back: every row is as it was before it, or nothing is done.
 * @throws Coded when there is no such change, it was undone already, or something has been changed again since
 */
export function undoChange(db: Database, id: string, by: string, now: Date): Promise<{ readonly what: string }> {
  return db.transaction(async (tx) => {
    const [found] = await tx.select().from(change).where(eq(change.id, id)).for('update');
    if (!found) throw new Coded('change.unknown', 'There is no such change.');
    if (found.undoneAt) throw new Coded('change.undone', 'It has been undone already.');
    for (const row of [...found.rows].reverse()) await restore(tx, row, now);
    await tx.update(change).set({ undoneAt: now, undoneBy: by }).where(eq(change.id, id));
    await refreshStanding(tx, await concerned(tx, found.rows));
    return { what: found.what };
  });
}

/** The newest changes that can still be undone. */
export async function listChanges(db: Queries): Promise<readonly { id: string; what: string; by: string; at: string; rows: number }[]> {
  const found = await db
    .select({ id: change.id, what: change.what, by: account.fullName, at: change.at, rows: sql<number>`jsonb_array_length(${change.rows})` })
    .from(change)
    .innerJoin(account, eq(change.by, account.id))
    .where(and(isNull(change.undoneAt)))
    .orderBy(desc(change.at))
    .limit(50);
  return found.map((c) => ({ ...c, at: c.at.toISOString() }));
}
