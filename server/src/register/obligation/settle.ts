import { same } from '@grellin/contract';
import { dueAfter, type DueRule } from '@grellin/core';
import { and, eq, isNull } from 'drizzle-orm';
import { obligation, type Queries } from '../../db';

export type ObligationEntity = typeof obligation.$inferSelect;

// A row of what is owed carries the whole rule.
same<Pick<ObligationEntity, keyof DueRule>, DueRule>(true);

/** A test that was passed, and when. */
export interface Passed {
  readonly procedure: string;
  readonly ruleSet: string;
  readonly doneOn: string;
  readonly at: Date;
}

/**
 * A pass moves the due date of what the asset owes; nothing else does. It is a pass by the rules that are owed: any others would let whoever tests choose the
 * school that the item passes.
 * @returns the next due date, where there is one
 */
export async function settle(tx: Queries, assetId: string, passed: Passed): Promise<string | null> {
  const { procedure, ruleSet, doneOn, at } = passed;
  const [owed] = await tx
    .select()
    .from(obligation)
    .where(and(eq(obligation.asset, assetId), eq(obligation.procedure, procedure), eq(obligation.ruleSet, ruleSet), isNull(obligation.archivedAt)));
  if (!owed) return null;
  // What was done away and is handed in late moves nothing back.
  if (owed.lastDoneAt !== null && owed.lastDoneAt > at) return owed.due;
  const due = dueAfter(owed, doneOn, owed.due);
  await tx.update(obligation).set({ due, lastDone: doneOn, lastDoneAt: at }).where(eq(obligation.id, owed.id));
  return due;
}
