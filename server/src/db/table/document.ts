import type { FigureTable } from '@grellin/core';
import { jsonb, pgTable, text, unique, uuid } from 'drizzle-orm/pg-core';
import { account } from './account';
import { instant, isoDate } from './columns';

/** What officers publish themselves, one row an edition. The words of a row are never changed: a newer edition takes its place, or it is withdrawn with a reason. */
export const keptDocument = pgTable(
  'document',
  {
    digest: text('digest').primaryKey(),
    kind: text('kind', { enum: ['figures'] }).notNull(),
    id: text('id').notNull(),
    edition: text('edition').notNull(),
    document: jsonb('document').$type<FigureTable>().notNull(),
    from: isoDate('from_day').notNull(),
    until: isoDate('until_day'),
    publishedAt: instant('published_at').notNull(),
    publishedBy: uuid('published_by')
      .notNull()
      .references(() => account.id),
    withdrawnAt: instant('withdrawn_at'),
    withdrawnBy: uuid('withdrawn_by').references(() => account.id),
    withdrawnWhy: text('withdrawn_why'),
  },
  (t) => [unique().on(t.kind, t.id, t.edition)],
);
