import { sql } from 'drizzle-orm';
import { boolean, index, integer, pgTable, text, uuid } from 'drizzle-orm/pg-core';
import { asset } from './asset';
import { isoDate } from './columns';

/** Stands for no due date and for no allowance in the order of a list. */
export const NEVER = '9999-12-31';
export const NOT_MEASURED = -1;
/** Stands for a procedure where any would do. */
export const ANYTHING = '*';

/**
 * How every asset stands, apart from what day it is: written anew in the transaction of whatever changes it, so that a morning's list reads rows and does not
 * work through three years of records. It holds nothing that could not be worked out again.
 */
export const standing = pgTable(
  'standing',
  {
    asset: uuid('asset')
      .primaryKey()
      .references(() => asset.id),
    condemnedBy: text('condemned_by'),
    blockedBy: text('blocked_by'),
    heldBy: text('held_by'),
    lifeEnds: isoDate('life_ends'),
    /** The earliest calendar date that it owes, and the procedure. */
    due: isoDate('due').notNull(),
    dueProcedure: text('due_procedure'),
    /** The last day on which nothing that it owes forbids its use: later than `due` where it was filled before that; and what forbids it then. */
    usableUntil: isoDate('usable_until').notNull(),
    usableProcedure: text('usable_procedure'),
    /** The procedure that it owes before its next use. */
    owedNow: text('owed_now'),
    owes: boolean('owes').notNull(),
    /** A procedure that it owes and has never passed; `ANYTHING` where it owes nothing and has passed nothing. */
    untested: text('untested'),
    lastRecord: text('last_record'),
    lastVerdict: text('last_verdict', { enum: ['pass', 'fail', 'undecided', 'void'] }),
    lastWord: text('last_word'),
    lastOn: isoDate('last_on'),
    used: integer('used').notNull(),
    archived: boolean('archived').notNull(),
  },
  (t) => [
    index('standing_by_due').on(t.due, t.asset),
    index('standing_use_up')
      .on(t.due, t.asset)
      .where(sql`usable_until > due`),
    index('standing_by_used').on(t.used, t.asset),
    index('standing_blocked')
      .on(t.asset)
      .where(sql`blocked_by IS NOT NULL`),
    index('standing_condemned')
      .on(t.asset)
      .where(sql`condemned_by IS NOT NULL`),
    index('standing_held')
      .on(t.asset)
      .where(sql`held_by IS NOT NULL`),
    index('standing_untested')
      .on(t.due, t.asset)
      .where(sql`untested IS NOT NULL`),
    index('standing_life')
      .on(t.lifeEnds)
      .where(sql`life_ends IS NOT NULL`),
    index('standing_owed')
      .on(t.asset)
      .where(sql`owed_now IS NOT NULL`),
  ],
);
