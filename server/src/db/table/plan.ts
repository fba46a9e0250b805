import { boolean, doublePrecision, integer, jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core';
import { account } from './account';
import { instant, key } from './columns';
import { obligation } from './schedule';

/** Where tests are done: a bench, or a place that somebody goes to. */
export const planBench = pgTable('plan_bench', {
  id: key(),
  name: text('name').notNull().unique(),
  /** Procedures that it can be rigged for; empty for any. */
  setups: jsonb('setups').$type<readonly string[]>().notNull(),
  hoursAWeek: doublePrecision('hours_a_week').notNull(),
  archivedAt: instant('archived_at'),
});

/** The plan as it was kept: the week of each test, and where. What a person has put somewhere stays there when the rest is planned anew. */
export const planned = pgTable('planned', {
  obligation: uuid('obligation')
    .primaryKey()
    .references(() => obligation.id),
  /** Counted from 1970's first Monday. */
  week: integer('week').notNull(),
  bench: uuid('bench')
    .notNull()
    .references(() => planBench.id),
  fixed: boolean('fixed').notNull(),
  by: uuid('by')
    .notNull()
    .references(() => account.id),
  at: instant('at').notNull(),
});
