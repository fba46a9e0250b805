import { integer, pgTable, text } from 'drizzle-orm/pg-core';

/** The station itself: one row. */
export const station = pgTable('station', {
  id: integer('id').primaryKey(),
  name: text('name').notNull(),
  /** IANA name of its time zone: days, due dates and documents are by it. */
  zone: text('zone').notNull(),
});
