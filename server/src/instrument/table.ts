import type { Quantity } from '@grellin/core';
import { boolean, doublePrecision, jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core';
import { asset } from '../asset/table';
import { isoDate, key } from '../db/columns';

export const instrument = pgTable('instrument', {
  id: key(),
  tag: text('tag').notNull().unique(),
  title: text('title').notNull(),
  /** A gauge fitted to an item; null for a test instrument. */
  fittedTo: uuid('fitted_to').references(() => asset.id),
  low: jsonb('low').$type<Quantity>().notNull(),
  high: jsonb('high').$type<Quantity>().notNull(),
  resolution: jsonb('resolution').$type<Quantity>().notNull(),
  accuracy: jsonb('accuracy').$type<Quantity>().notNull(),
  correlation: doublePrecision('correlation').notNull(),
  calibrationDue: isoDate('calibration_due'),
  /** Where its readings come from, `entry/device/input`; the entry is a name in the server's allow-list. Null: read by eye. */
  address: text('address'),
  simulated: boolean('simulated').notNull(),
  /** The simulated rig behind it. */
  rig: text('rig'),
});
