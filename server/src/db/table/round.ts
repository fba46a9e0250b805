import { jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core';
import { account } from './account';
import { instant, key } from './columns';
import { instrument } from './instrument';

/** Items that are tested one after another, by the same rules with the same gauges: what is proved of the rig is proved once. */
export const round = pgTable('round', {
  id: key(),
  procedure: text('procedure').notNull(),
  ruleSet: text('rule_set').notNull(),
  /** Ids of instruments by channel. */
  instruments: jsonb('instruments').$type<Readonly<Record<string, string>>>().notNull(),
  rig: uuid('rig').references(() => instrument.id),
  openedBy: uuid('opened_by')
    .notNull()
    .references(() => account.id),
  openedAt: instant('opened_at').notNull(),
  closedAt: instant('closed_at'),
  closedBy: uuid('closed_by').references(() => account.id),
});
