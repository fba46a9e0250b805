import { and, count, eq, isNull } from 'drizzle-orm';
import { Coded } from '../base';
import { account, type Queries, type Transaction } from '../db';

/** What of an account is told, noted and put back: never its password. */
export async function accountFacts(db: Queries, id: string): Promise<Readonly<Record<string, unknown>> | null> {
  const { name, fullName, role, disabledAt } = account;
  const [held] = await db.select({ name, fullName, role, disabledAt }).from(account).where(eq(account.id, id));
  return held ?? null;
}

/** Somebody must be left who can let others in. */
export async function requireOfficer(tx: Transaction): Promise<void> {
  const [left] = await tx
    .select({ n: count() })
    .from(account)
    .where(and(eq(account.role, 'officer'), isNull(account.disabledAt)));
  if ((left?.n ?? 0) === 0) throw new Coded('account.lastOfficer', 'This is the last officer who can sign in: make another one first.');
}
