import { bigserial, boolean, pgTable, text, uuid } from 'drizzle-orm/pg-core';
import { instant, key } from '../db/columns';

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
