import { bigserial, boolean, index, pgTable, text, uuid } from 'drizzle-orm/pg-core';
import { instant, isoDate, key } from '../db/columns';

export const account = pgTable('account', {
  id: key(),
  name: text('name').notNull().unique(),
  fullName: text('full_name').notNull(),
  role: text('role', { enum: ['officer', 'tester', 'reader'] }).notNull(),
  passwordHash: text('password_hash').notNull(),
  demo: boolean('demo').notNull(),
  createdAt: instant('created_at').notNull(),
});

export const session = pgTable('session', {
  /** SHA-256 of the cookie's token: a stolen table opens no session. */
  tokenHash: text('token_hash').primaryKey(),
  account: uuid('account')
    .notNull()
    .references(() => account.id),
  expiresAt: instant('expires_at').notNull(),
});

export const signInFailure = pgTable('sign_in_failure', {
  id: bigserial('id', { mode: 'number' }).primaryKey(),
  name: text('name').notNull(),
  address: text('address').notNull(),
  at: instant('at').notNull(),
});

/** Who may carry out which procedure, until when, and with which stamp. A row is withdrawn, not erased. */
export const authorisation = pgTable(
  'authorisation',
  {
    id: key(),
    account: uuid('account')
      .notNull()
      .references(() => account.id),
    procedure: text('procedure').notNull(),
    until: isoDate('until').notNull(),
    /** The tester's own mark, as it is stamped or written. */
    stamp: text('stamp').notNull(),
    grantedBy: uuid('granted_by')
      .notNull()
      .references(() => account.id),
    at: instant('at').notNull(),
    withdrawnAt: instant('withdrawn_at'),
  },
  (t) => [index('authorisation_of').on(t.account, t.procedure)],
);

/** The secret under which a person's calendar can be read without signing in; only its SHA-256 is kept. */
export const calendarFeed = pgTable('calendar_feed', {
  account: uuid('account')
    .primaryKey()
    .references(() => account.id),
  secretHash: text('secret_hash').notNull().unique(),
  createdAt: instant('created_at').notNull(),
});
