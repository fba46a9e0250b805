import { asc } from 'drizzle-orm';
import { planned, type Transaction } from '../../db';

/** A plan is one thing, however many tests it places. */
export const THE_PLAN = 'plan';

type Placed = Omit<typeof planned.$inferSelect, 'at'> & { readonly at: string };

/** The whole of the kept plan. */
export interface PlanFacts {
  readonly placed: readonly Placed[];
}

/** As many rows as go into one statement. */
const AT_ONCE = 2000;

/** The plan as it is kept, in an order that does not depend on how it was entered. */
export async function planFacts(tx: Transaction): Promise<PlanFacts> {
  const rows = await tx.select().from(planned).orderBy(asc(planned.obligation)).for('update');
  return { placed: rows.map((r) => ({ ...r, at: r.at.toISOString() })) };
}

/** Puts a plan in place of the one before. */
export async function writePlan(tx: Transaction, { placed = [] }: Partial<PlanFacts>): Promise<void> {
  await tx.delete(planned);
  for (let i = 0; i < placed.length; i += AT_ONCE) await tx.insert(planned).values(placed.slice(i, i + AT_ONCE).map((p) => ({ ...p, at: new Date(p.at) })));
}
