import { index, integer, jsonb, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core';
import { account } from './account';
import { asset } from './asset';
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

/** What a round is to test, in the order in which it is gone to, and who has it. A plan of work, and no record: what came of it stands in the runs. */
export const roundItem = pgTable(
  'round_item',
  {
    round: uuid('round')
      .notNull()
      .references(() => round.id),
    asset: uuid('asset')
      .notNull()
      .references(() => asset.id),
    place: integer('place').notNull(),
    addedBy: uuid('added_by')
      .notNull()
      .references(() => account.id),
    takenBy: uuid('taken_by').references(() => account.id),
    takenAt: instant('taken_at'),
  },
  (t) => [primaryKey({ columns: [t.round, t.asset] }), index('round_item_of_asset').on(t.asset)],
);
