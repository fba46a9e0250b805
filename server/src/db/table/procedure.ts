import type { Procedure } from '@grellin/core';
import { jsonb, pgTable, text } from 'drizzle-orm/pg-core';
import { instant } from './columns';

/** Every published procedure, kept by digest for ever, so that a run can be judged again as it was. */
export const procedure = pgTable('procedure', {
  digest: text('digest').primaryKey(),
  id: text('id').notNull(),
  edition: text('edition').notNull(),
  document: jsonb('document').$type<Procedure>().notNull(),
  publishedAt: instant('published_at').notNull(),
});
