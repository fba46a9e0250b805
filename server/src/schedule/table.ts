import { pgTable, text, unique, uuid } from 'drizzle-orm/pg-core';
import { asset } from '../asset/table';
import { isoDate, key } from '../db/columns';

export const obligation = pgTable(
  'obligation',
  {
    id: key(),
    asset: uuid('asset')
      .notNull()
      .references(() => asset.id),
    procedure: text('procedure').notNull(),
    ruleSet: text('rule_set').notNull(),
    interval: text('interval').notNull(),
    counting: text('counting', { enum: ['rolling', 'anchored'] }).notNull(),
    anchor: isoDate('anchor').notNull(),
    due: isoDate('due').notNull(),
    lastDone: isoDate('last_done'),
  },
  (t) => [unique('obligation_once').on(t.asset, t.procedure)],
);
