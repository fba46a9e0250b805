import type { AccountRole, ChangeRow } from '@grellin/contract';
import canonicalize from 'canonicalize';
import { desc, eq, isNull, sql } from 'drizzle-orm';
import { Coded } from '../base';
import { account, change, type ChangedRow, type Database, isTaken, kept, type Queries, type Transaction, type Values } from '../db';
import { refreshStanding } from '../standing';
import { restorable } from './restorable';

/** Instants come back from JSON as text. */
const instants: ReadonlySet<string> = new Set(['archivedAt', 'createdAt', 'disabledAt', 'lastDoneAt', 'withdrawnAt', 'at']);

const asStored = (values: Values): Record<string, unknown> =>
  Object.fromEntries(Object.entries(values).map(([name, value]) => [name, instants.has(name) && typeof value === 'string' ? new Date(value) : value]));

/** The database keeps no order of names within what it stores as JSON: it must not matter here. */
const same = (a: Values, b: Values): boolean => Object.keys(b).every((name) => canonicalize(a[name] ?? null) === canonicalize(b[name] ?? null));

async function restore(tx: Transaction, row: ChangedRow, now: Date): Promise<void> {
  const { find, write, away } = restorable[row.table];
  const held = await find(tx, row.id);
  const overtaken = new Coded('change.overtaken', 'It has been changed again since: undo that first.', { id: row.id });
  if (!held || !same(JSON.parse(JSON.stringify(kept(held))) as Values, row.after)) throw overtaken;
  // What was made is not erased: it is put away. A name may have been given to another since.
  await write(tx, row.id, row.before ? asStored(row.before) : { [away]: now }).catch((e: unknown) => {
    throw isTaken(e) ? overtaken : e;
  });
}

/** The assets whose standing a change can move. */
async function concerned(tx: Transaction, rows: readonly ChangedRow[]): Promise<string[]> {
  const tables = [...new Set(rows.map((r) => r.table))];
  const found = await Promise.all(tables.map((table) => restorable[table].assets(tx, rows.filter((r) => r.table === table).map((r) => r.id)))); // prettier-ignore
  return [...new Set(found.flat())];
}

/**
 * Takes a change back: every row is as it was before it, or nothing is done. An officer may take back anybody's, everybody else their own.
 * @throws Coded when there is no such change, it was undone already, it is another's, or something has been changed again since
 */
export function undoChange(db: Database, id: string, who: { readonly id: string; readonly role: AccountRole }, now: Date): Promise<{ readonly what: string }> {
  return db.transaction(async (tx) => {
    const [found] = await tx.select().from(change).where(eq(change.id, id)).for('update');
    if (!found) throw new Coded('change.unknown', 'There is no such change.');
    if (who.role !== 'officer' && found.by !== who.id) throw new Coded('change.notYours', 'Somebody else made this change: the officer can take it back.');
    if (found.undoneAt) throw new Coded('change.undone', 'It has been undone already.');
    for (const row of [...found.rows].reverse()) await restore(tx, row, now);
    await tx.update(change).set({ undoneAt: now, undoneBy: who.id }).where(eq(change.id, id));
    await refreshStanding(tx, await concerned(tx, found.rows));
    return { what: found.what };
  });
}

/** The newest changes that can still be undone. */
export async function listChanges(db: Queries): Promise<readonly ChangeRow[]> {
  const found = await db
    .select({ id: change.id, what: change.what, by: account.fullName, at: change.at, rows: sql<number>`jsonb_array_length(${change.rows})` })
    .from(change)
    .innerJoin(account, eq(change.by, account.id))
    .where(isNull(change.undoneAt))
    .orderBy(desc(change.at))
    .limit(50);
  return found.map((c) => ({ ...c, at: c.at.toISOString() }));
}
