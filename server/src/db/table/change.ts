import { index, jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core';
import { account } from './account';
import { instant, key } from './columns';

/** What a change may touch: each has its way back in `restorable`. */
export type ChangedTable = 'account' | 'asset' | 'obligation' | 'kit' | 'occasion' | 'deferral' | 'outside' | 'authorisation' | 'bench' | 'plan';

/** One row that a change touched: what it held before and after. Null before it was there. */
export interface ChangedRow {
  readonly table: ChangedTable;
  readonly id: string;
  readonly before: Readonly<Record<string, unknown>> | null;
  readonly after: Readonly<Record<string, unknown>>;
}

/** Every change of the register, so that it can be undone, and so that it is known who made it. */
export const change = pgTable(
  'change',
  {
    id: key(),
    what: text('what').notNull(),
    rows: jsonb('rows').$type<readonly ChangedRow[]>().notNull(),
    by: uuid('by')
      .notNull()
      .references(() => account.id),
    at: instant('at').notNull(),
    undoneAt: instant('undone_at'),
    undoneBy: uuid('undone_by').references(() => account.id),
  },
  (t) => [index('change_newest').on(t.at)],
);
