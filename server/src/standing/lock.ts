import { sql } from 'drizzle-orm';
import type { Transaction } from '../db';

/**
 * Holds the rows of some assets to the end of the transaction, in the order of their ids, so that whoever decides how they stand does so one after the
 * other. What else refers to them may still be written.
 */
export async function lockAssets(tx: Pick<Transaction, 'execute'>, assets: readonly string[]): Promise<void> {
  if (assets.length === 0) return;
  await tx.execute(sql`SELECT id FROM asset WHERE id = ANY(${sql.param([...new Set(assets)])}::uuid[]) ORDER BY id FOR NO KEY UPDATE`);
}
