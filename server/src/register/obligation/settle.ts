import { dueAfter, type ScheduleRule } from '@grellin/core';
import { and, eq, isNull } from 'drizzle-orm';
import { obligation, type Queries } from '../../db';

export type ObligationEntity = typeof obligation.$inferSelect;

/** The rule that an obligation counts by; null where only what happens makes it owed. */
export function ruleOf(o: Pick<ObligationEntity, 'interval' | 'counting' | 'anchor' | 'early' | 'stamp'>): ScheduleRule | null {
  if (o.interval === null) return null;
  return { interval: o.interval, counting: o.counting, anchor: o.anchor, stamp: o.stamp, ...(o.early === null ? {} : { early: o.early }) };
}

/** The due day after a test on a day; null where no calendar counts. */
export function dueAfterTest(o: Pick<ObligationEntity, 'interval' | 'counting' | 'anchor' | 'early' | 'stamp' | 'due'>, doneOn: string): string | null {
  const rule = ruleOf(o);
  return rule && dueAfter(rule, doneOn, o.due ?? undefined);
}

/** A pass moves the due date of what the asset owes; nothing else does. @returns the next due date, where there is one */
export async function settle(tx: Queries, assetId: string, procedure: string, doneOn: string, at: Date): Promise<string | null> {
  const [owed] = await tx
    .select()
    .from(obligation)
    .where(and(eq(obligation.asset, assetId), eq(obligation.procedure, procedure), isNull(obligation.archivedAt)));
  if (!owed) return null;
  const due = dueAfterTest(owed, doneOn);
  await tx.update(obligation).set({ due, lastDone: doneOn, lastDoneAt: at }).where(eq(obligation.id, owed.id));
  return due;
}
