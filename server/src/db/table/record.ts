import type { Finding } from '@grellin/core';
import { sql } from 'drizzle-orm';
import { bigint, boolean, customType, index, integer, jsonb, pgTable, text, uuid } from 'drizzle-orm/pg-core';
import { account } from './account';
import { asset } from './asset';
import { instant, isoDate, key } from './columns';
import { run } from './run';

export interface SealedResult {
  readonly findings: readonly Finding[];
  readonly earlier: readonly Finding[];
}

/** What a closed run showed, as it was sealed. The application may only insert and select here. */
export const record = pgTable(
  'record',
  {
    number: text('number').primaryKey(),
    run: uuid('run')
      .notNull()
      .unique()
      .references(() => run.id),
    procedure: text('procedure').notNull(),
    asset: uuid('asset')
      .notNull()
      .references(() => asset.id),
    verdict: text('verdict', { enum: ['pass', 'fail', 'undecided', 'void'] }).notNull(),
    word: text('word').notNull(),
    blocks: boolean('blocks').notNull(),
    /** It was begun in its test stage and did not pass: its items are held back until a test of the same kind passes, or an officer lifts it. */
    holds: boolean('holds').notNull().default(false),
    /** It found the item beyond what may ever be used again. */
    condemns: boolean('condemns').notNull().default(false),
    /** False for a simulated run on an asset that is not for practice: it settles nothing. */
    counts: boolean('counts').notNull(),
    simulated: boolean('simulated').notNull(),
    allowancePercent: integer('allowance_percent'),
    summary: text('summary').notNull(),
    result: jsonb('result').$type<SealedResult>().notNull(),
    head: text('head').notNull(),
    sealedAt: instant('sealed_at').notNull(),
    /** Its place in the station's one order of openings and sealings. */
    sealedOrder: bigint('sealed_order', { mode: 'number' })
      .notNull()
      .default(sql`nextval('station_order')`),
    by: uuid('by')
      .notNull()
      .references(() => account.id),
    nextDue: isoDate('next_due'),
    /** The hold that decided: minutes from its start, and values in the limit's unit. Null in records from before it was kept. */
    strip: jsonb('strip').$type<readonly (readonly [number, number])[]>(),
  },
  (t) => [
    index('record_order').on(t.sealedOrder),
    index('record_of_person').on(t.by, t.sealedOrder),
    index('record_of_procedure').on(t.procedure, t.sealedOrder),
  ],
);

/** An officer's word that what a record holds back may be used all the same, with the reason. The application may only insert and select here. */
export const holdLifted = pgTable('hold_lifted', {
  record: text('record')
    .primaryKey()
    .references(() => record.number),
  reason: text('reason').notNull(),
  by: uuid('by')
    .notNull()
    .references(() => account.id),
  at: instant('at').notNull(),
});

/** How a condemned item was put beyond use, and by whom. The application may only insert and select here. */
/** A pass of a round that stands on a rig which was found at fault afterwards: its item waits for a later pass, as after a bad instrument. Only added to. */
export const rigDoubted = pgTable(
  'rig_doubted',
  {
    run: uuid('run')
      .primaryKey()
      .references(() => run.id),
    asset: uuid('asset')
      .notNull()
      .references(() => asset.id),
    procedure: text('procedure').notNull(),
    /** The run that found the rig at fault. */
    because: uuid('because')
      .notNull()
      .references(() => run.id),
    words: text('words').notNull(),
    at: instant('at').notNull(),
  },
  (t) => [index('rig_doubted_by_asset').on(t.asset)],
);

export const putBeyondUse = pgTable('put_beyond_use', {
  asset: uuid('asset')
    .primaryKey()
    .references(() => asset.id),
  /** Destroyed, or made unable to hold pressure at the owner's direction. */
  how: text('how', { enum: ['destroyed', 'disabled'] }).notNull(),
  on: isoDate('on').notNull(),
  /** Who did it, and how, in words. */
  words: text('words').notNull(),
  by: uuid('by')
    .notNull()
    .references(() => account.id),
  at: instant('at').notNull(),
});

const bytes = customType<{ data: Buffer; driverData: Buffer }>({ dataType: () => 'bytea' });

/** A certificate or tag as it was issued, byte for byte. The application may only insert and select here. */
export const paper = pgTable(
  'paper',
  {
    id: key(),
    record: text('record')
      .notNull()
      .references(() => record.number),
    kind: text('kind', { enum: ['certificate', 'tag'] }).notNull(),
    /** Head of the run's chain when it was issued: an amendment since asks for a new one. */
    head: text('head').notNull(),
    sha256: text('sha256').notNull(),
    bytes: bytes('bytes').notNull(),
    issuedAt: instant('issued_at').notNull(),
    by: uuid('by')
      .notNull()
      .references(() => account.id),
  },
  (t) => [index('paper_of').on(t.record, t.kind, t.head)],
);
