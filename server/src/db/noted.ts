import { v7 } from 'uuid';
import type { Queries } from './database';
import { change, type ChangedRow, type ChangedTable } from './table/change';

/** What is kept of a row, by the names of its columns. */
export type Values = Readonly<Record<string, unknown>>;

/** What of a row is kept: everything that can be stored again. Counters, files, and what the database makes itself are left out. */
export function kept(row: object): Values {
  return Object.fromEntries(Object.entries(row).filter(([name, value]) => name !== 'search' && name !== 'revision' && !Buffer.isBuffer(value)));
}

/** One touched row, as it is noted. */
export function touched(table: ChangedTable, id: string, before: object | null, after: object): ChangedRow {
  return { table, id, before: before && kept(before), after: kept(after) };
}

/** Notes a change in the transaction that makes it. @returns its id, for the undo */
export async function noteChange(tx: Queries, what: string, rows: readonly ChangedRow[], by: string, now: Date): Promise<string> {
  const id = v7();
  await tx.insert(change).values({ id, what, rows, by, at: now });
  return id;
}
