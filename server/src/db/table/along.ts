import type { AlongBundle } from '@grellin/contract';
import { sql } from 'drizzle-orm';
import { bigint, index, jsonb, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core';
import { account } from './account';
import { asset } from './asset';
import { instant, key } from './columns';
import type { ClockSeen } from './run';

/** What a device took along, to work while it is away: the ticket that its runs are handed in with. */
export const along = pgTable('along', {
  id: key(),
  account: uuid('account')
    .notNull()
    .references(() => account.id),
  /** SHA-256 of the device's own cookie. */
  device: text('device').notNull(),
  /** SHA-256 of the secret that it was given. */
  secretHash: text('secret_hash').notNull(),
  takenAt: instant('taken_at').notNull(),
  until: instant('until').notNull(),
  /** Its place in the station's one order: a run that was opened away was opened no later than this, so that it takes back nothing that was found meanwhile. */
  openedOrder: bigint('opened_order', { mode: 'number' })
    .notNull()
    .default(sql`nextval('station_order')`),
  /** What the clocks showed when it was given out: no device has had more time since than they have counted. */
  clockSeen: jsonb('clock_seen').$type<ClockSeen>().notNull(),
  /** How much of that time the runs that were handed in have taken, ms. */
  spentMs: bigint('spent_ms', { mode: 'number' }).notNull().default(0),
  bundle: jsonb('bundle').$type<AlongBundle>().notNull(),
  endedAt: instant('ended_at'),
  endedBy: uuid('ended_by').references(() => account.id),
});

export const alongAsset = pgTable(
  'along_asset',
  {
    along: uuid('along')
      .notNull()
      .references(() => along.id),
    asset: uuid('asset')
      .notNull()
      .references(() => asset.id),
  },
  (t) => [primaryKey({ columns: [t.along, t.asset] }), index('along_of_asset').on(t.asset)],
);
