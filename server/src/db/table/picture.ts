import { customType, index, integer, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core';
import { account } from './account';
import { instant } from './columns';
import { run } from './run';

const bytes = customType<{ data: Buffer; driverData: Buffer }>({ dataType: () => 'bytea' });

/** A picture, byte for byte, under the SHA-256 of its bytes. The application may only insert and select here. */
export const picture = pgTable(
  'picture',
  {
    sha256: text('sha256').primaryKey(),
    bytes: bytes('bytes').notNull(),
    width: integer('width').notNull(),
    height: integer('height').notNull(),
    by: uuid('by')
      .notNull()
      .references(() => account.id),
    at: instant('at').notNull(),
  },
  (t) => [index('picture_of_person').on(t.by, t.at)],
);

/** Which runs tell of a picture: no event may name one that is not kept. The application may only insert and select here. */
export const runPicture = pgTable(
  'run_picture',
  {
    run: uuid('run')
      .notNull()
      .references(() => run.id),
    picture: text('picture')
      .notNull()
      .references(() => picture.sha256),
  },
  (t) => [primaryKey({ columns: [t.run, t.picture] }), index('run_of_picture').on(t.picture)],
);
