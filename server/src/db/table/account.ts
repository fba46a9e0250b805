import { sql } from 'drizzle-orm';
import { boolean, index, integer, pgTable, primaryKey, text, uniqueIndex, uuid } from 'drizzle-orm/pg-core';
import { instant, isoDate, key } from './columns';

export const account = pgTable('account', {
  id: key(),
  name: text('name').notNull().unique(),
  fullName: text('full_name').notNull(),
  role: text('role', { enum: ['officer', 'tester', 'reader'] }).notNull(),
  passwordHash: text('password_hash').notNull(),
  demo: boolean('demo').notNull(),
  createdAt: instant('created_at').notNull(),
  /** Signed in with a one-time password: nothing else can be done before it is changed. */
  mustChange: boolean('must_change').notNull().default(false),
  disabledAt: instant('disabled_at'),
});

export const session = pgTable('session', {
  /** SHA-256 of the cookie's token: a stolen table opens no session. */
  tokenHash: text('token_hash').primaryKey(),
  account: uuid('account')
    .notNull()
    .references(() => account.id),
  expiresAt: instant('expires_at').notNull(),
  /** What a person names a session by, to end it: it opens nothing. */
  id: uuid('id')
    .notNull()
    .unique()
    .default(sql`gen_random_uuid()`),
  createdAt: instant('created_at').notNull().defaultNow(),
  seenAt: instant('seen_at').notNull().defaultNow(),
  address: text('address').notNull().default(''),
  agent: text('agent').notNull().default(''),
});

/** Wrong tries of one name from one address, and when the next may be made. */
export const signInDelay = pgTable(
  'sign_in_delay',
  {
    name: text('name').notNull(),
    address: text('address').notNull(),
    failures: integer('failures').notNull(),
    nextAt: instant('next_at').notNull(),
  },
  (t) => [primaryKey({ columns: [t.name, t.address] })],
);

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
  (t) => [
    index('authorisation_of').on(t.account, t.procedure),
    uniqueIndex('authorisation_in_force')
      .on(t.account, t.procedure)
      .where(sql`withdrawn_at IS NULL`),
  ],
);

/** The secret under which a person's calendar can be read without signing in; only its SHA-256 is kept. */
export const calendarFeed = pgTable('calendar_feed', {
  account: uuid('account')
    .primaryKey()
    .references(() => account.id),
  secretHash: text('secret_hash').notNull().unique(),
  createdAt: instant('created_at').notNull(),
});
