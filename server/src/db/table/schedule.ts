import type { UseTrigger } from '@grellin/core';
import { boolean, customType, index, jsonb, pgTable, text, unique, uuid } from 'drizzle-orm/pg-core';
import { account } from './account';
import { asset } from './asset';
import { instant, isoDate, key } from './columns';

export const obligation = pgTable(
  'obligation',
  {
    id: key(),
    asset: uuid('asset')
      .notNull()
      .references(() => asset.id),
    procedure: text('procedure').notNull(),
    ruleSet: text('rule_set').notNull(),
    /** Null where only what happens to the item makes it owed. */
    interval: text('interval'),
    counting: text('counting', { enum: ['rolling', 'anchored', 'window', 'once'] }).notNull(),
    anchor: isoDate('anchor').notNull(),
    early: text('early'),
    stamp: text('stamp', { enum: ['day', 'month'] })
      .notNull()
      .default('day'),
    triggers: jsonb('triggers').$type<readonly UseTrigger[]>().notNull().default([]),
    filled: text('filled', { enum: ['untilEmptied', 'months', 'blocked'] }),
    /** A law's date: it cannot be put off. */
    hard: boolean('hard').notNull().default(false),
    due: isoDate('due'),
    lastDone: isoDate('last_done'),
    /** The same as an instant, to tell a use of the same day that came after it. */
    lastDoneAt: instant('last_done_at'),
    archivedAt: instant('archived_at'),
  },
  (t) => [unique('obligation_once').on(t.asset, t.procedure), index('obligation_by_due').on(t.due, t.id)],
);

/** Why a date was moved, by whom: added to, and taken back, never erased. */
export const deferral = pgTable('deferral', {
  id: key(),
  obligation: uuid('obligation')
    .notNull()
    .references(() => obligation.id),
  /** `deferred` puts it off; `proposed` brings it forward, because the trend asks for it. */
  kind: text('kind', { enum: ['deferred', 'proposed'] }).notNull(),
  before: isoDate('before').notNull(),
  after: isoDate('after').notNull(),
  reason: text('reason').notNull(),
  by: uuid('by')
    .notNull()
    .references(() => account.id),
  at: instant('at').notNull(),
  /** Taken back since: it stays in the record. */
  archivedAt: instant('archived_at'),
});

const bytes = customType<{ data: Buffer; driverData: Buffer }>({ dataType: () => 'bytea' });

/** A certificate that somebody else wrote, with its scan: it can settle what is owed. Never erased. */
export const outsideCertificate = pgTable('outside_certificate', {
  id: key(),
  obligation: uuid('obligation')
    .notNull()
    .references(() => obligation.id),
  doneOn: isoDate('done_on').notNull(),
  issuer: text('issuer').notNull(),
  number: text('number').notNull(),
  mime: text('mime', { enum: ['application/pdf', 'image/png', 'image/jpeg'] }).notNull(),
  scan: bytes('scan').notNull(),
  nextDue: isoDate('next_due'),
  by: uuid('by')
    .notNull()
    .references(() => account.id),
  at: instant('at').notNull(),
  /** Taken back since: it stays in the record. */
  archivedAt: instant('archived_at'),
});
