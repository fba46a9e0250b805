import type { Attributes } from '@grellin/core';
import { boolean, jsonb, pgTable, text } from 'drizzle-orm/pg-core';
import { instant, key } from '../db/columns';

export const asset = pgTable('asset', {
  id: key(),
  tag: text('tag').notNull().unique(),
  serial: text('serial').notNull(),
  class: text('class').notNull(),
  title: text('title').notNull(),
  place: text('place').notNull(),
  /** Simulated runs settle the dues of practice assets only. */
  practice: boolean('practice').notNull(),
  attributes: jsonb('attributes').$type<Attributes>().notNull(),
  createdAt: instant('created_at').notNull(),
});
