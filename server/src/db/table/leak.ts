import type { Grade } from '@grellin/core';
import { doublePrecision, integer, pgTable, text, unique, uuid } from 'drizzle-orm/pg-core';
import { account } from './account';
import { asset } from './asset';
import { instant, key } from './columns';
import { run } from './run';

/** A marked place on an asset, with how hard it bubbled: found in a run, closed by a retest that passes. */
export const leak = pgTable(
  'leak',
  {
    id: key(),
    asset: uuid('asset')
      .notNull()
      .references(() => asset.id),
    run: uuid('run')
      .notNull()
      .references(() => run.id),
    /** Counts on the asset, for ever: the tag on the item says it. */
    number: integer('number').notNull(),
    /** The drawing it is marked on, and where, in shares of its width and height; null where only words say it. */
    outline: text('outline'),
    x: doublePrecision('x'),
    y: doublePrecision('y'),
    place: text('place').notNull(),
    grade: text('grade').$type<Grade>().notNull(),
    foundAt: instant('found_at').notNull(),
    by: uuid('by')
      .notNull()
      .references(() => account.id),
    /** The run that proved the repair. */
    closedBy: uuid('closed_by').references(() => run.id),
    closedAt: instant('closed_at'),
  },
  (t) => [unique().on(t.asset, t.number)],
);
