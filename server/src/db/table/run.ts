import type { RunEvent } from '@grellin/core';
import { sql } from 'drizzle-orm';
import { type AnyPgColumn, bigint, boolean, index, integer, jsonb, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core';
import { account } from './account';
import { along } from './along';
import { asset } from './asset';
import { instant } from './columns';
import { instrument } from './instrument';
import { procedure } from './procedure';
import { round } from './round';
import { obligation } from './schedule';
import type { ClockReading } from '../../base';

/** What the clocks showed when a run's newest event was stored, with the database's own, which all its servers share. */
export interface ClockSeen extends ClockReading {
  readonly databaseMs: number;
}

export const run = pgTable('run', {
  /** UUIDv7, so that runs lie in order of time. */
  id: uuid('id').primaryKey(),
  procedure: text('procedure').notNull(),
  digest: text('digest')
    .notNull()
    .references(() => procedure.digest),
  ruleSet: text('rule_set').notNull(),
  /** The asset in the procedure's first role. */
  asset: uuid('asset')
    .notNull()
    .references(() => asset.id),
  obligation: uuid('obligation').references(() => obligation.id),
  retestOf: uuid('retest_of'),
  round: uuid('round').references(() => round.id),
  /** What its device had taken along, where it was carried out away. */
  along: uuid('along').references((): AnyPgColumn => along.id),
  openedBy: uuid('opened_by')
    .notNull()
    .references(() => account.id),
  startedAt: instant('started_at').notNull(),
  /** Its place in the station's one order of openings and sealings, which no clock decides: a pass releases what was sealed before it was opened. */
  openedOrder: bigint('opened_order', { mode: 'number' })
    .notNull()
    .default(sql`nextval('station_order')`),
  /** What the run's clock showed when its newest event was stored, ms, and what the clocks that it goes on by showed then. */
  clockMs: bigint('clock_ms', { mode: 'number' }).notNull().default(0),
  clockSeen: jsonb('clock_seen').$type<ClockSeen>(),
  clock: text('clock', { enum: ['live', 'simulated'] }).notNull(),
  /** An instrument's clock counts the run's time; otherwise the server's does. */
  paced: boolean('paced').notNull().default(false),
  /** The simulated instrument whose rig stands for the item, where nothing of it is read. */
  rig: uuid('rig').references(() => instrument.id),
  /** Raised by every takeover; events under an older one are kept but never folded in. */
  lease: integer('lease').notNull(),
  leaseBy: uuid('lease_by')
    .notNull()
    .references(() => account.id),
  /** Position and hash of the newest event. */
  seq: integer('seq').notNull(),
  head: text('head').notNull(),
  closed: boolean('closed').notNull(),
  blocks: boolean('blocks').notNull(),
  /** Begun in its test stage: until it is closed its items are held back. */
  begun: boolean('begun').notNull().default(false),
});

/** Every lease that was given out, to whom and where. The application may only insert and select here. */
export const runLease = pgTable(
  'run_lease',
  {
    run: uuid('run')
      .notNull()
      .references(() => run.id),
    lease: integer('lease').notNull(),
    account: uuid('account')
      .notNull()
      .references(() => account.id),
    device: text('device').notNull(),
    /** SHA-256 of the secret; null for a lease from before leases had one. */
    secretHash: text('secret_hash'),
    givenAt: instant('given_at').notNull(),
  },
  (t) => [primaryKey({ columns: [t.run, t.lease] })],
);

/** The open run that a device belongs to: the key sees to it that there is one at most. */
export const deviceHold = pgTable('device_hold', {
  device: text('device').primaryKey(),
  run: uuid('run')
    .notNull()
    .references(() => run.id),
});

export const runAsset = pgTable(
  'run_asset',
  {
    run: uuid('run')
      .notNull()
      .references(() => run.id),
    role: text('role').notNull(),
    asset: uuid('asset')
      .notNull()
      .references(() => asset.id),
  },
  (t) => [primaryKey({ columns: [t.run, t.role] })],
);

export const runInstrument = pgTable(
  'run_instrument',
  {
    run: uuid('run')
      .notNull()
      .references(() => run.id),
    channel: text('channel').notNull(),
    instrument: uuid('instrument')
      .notNull()
      .references(() => instrument.id),
    /** What the device's clock showed when the run's clock stood at zero, ms. */
    zeroMs: bigint('zero_ms', { mode: 'number' }),
  },
  (t) => [primaryKey({ columns: [t.run, t.channel] }), index('run_of_instrument').on(t.instrument)],
);

/** The application may only insert and select here. Partitioned by run id. */
export const runEvent = pgTable(
  'run_event',
  {
    run: uuid('run').notNull(),
    seq: integer('seq').notNull(),
    eventId: text('event_id').notNull(),
    lease: integer('lease').notNull(),
    late: boolean('late').notNull(),
    by: uuid('by').notNull(),
    storedAt: instant('stored_at').notNull(),
    previous: text('previous').notNull(),
    hash: text('hash').notNull(),
    /** Edition of the envelope that was hashed. */
    version: integer('version').notNull().default(1),
    event: jsonb('event').$type<RunEvent>().notNull(),
  },
  (t) => [primaryKey({ columns: [t.run, t.seq] })],
);
