import type { Attributes } from '@grellin/core';
import { sql } from 'drizzle-orm';
import { boolean, index, integer, jsonb, pgTable, primaryKey, text, uuid } from 'drizzle-orm/pg-core';
import { account } from './account';
import { instant, isoDate, key } from './columns';

export const asset = pgTable(
  'asset',
  {
    id: key(),
    tag: text('tag').notNull().unique(),
    serial: text('serial').notNull(),
    class: text('class').notNull(),
    title: text('title').notNull(),
    place: text('place').notNull(),
    /** Simulated runs settle the dues of practice assets only. */
    practice: boolean('practice').notNull(),
    attributes: jsonb('attributes').$type<Attributes>().notNull(),
    /** A day, or a month where the day is not known. */
    madeOn: text('made_on'),
    /** ISO 8601 duration. */
    life: text('life'),
    lifeEnds: isoDate('life_ends'),
    archivedAt: instant('archived_at'),
    /** Counts its changes: whoever changes it says which one was seen. */
    revision: integer('revision').notNull().default(1),
    createdAt: instant('created_at').notNull(),
    /** What the find box looks in. */
    search: text('search').generatedAlwaysAs(sql`lower(tag || ' ' || serial || ' ' || title || ' ' || place)`),
  },
  (t) => [
    index('asset_by_class').on(t.class, t.tag),
    index('asset_by_place').on(t.place, t.tag),
    index('asset_by_title').on(t.title, t.tag),
    index('asset_by_serial').on(t.serial, t.tag),
    // What goes along with another is looked for by the tag that the other one names.
    index('asset_carries')
      .on(sql`(attributes ->> 'cylinder')`)
      .where(sql`class = 'breathing-set'`),
    index('asset_search').using('gin', sql`${t.search} gin_trgm_ops`),
  ],
);

/** What happened to an item: it came, it was used, it was repaired. Only added to. */
export const occasion = pgTable(
  'occasion',
  {
    id: key(),
    asset: uuid('asset')
      .notNull()
      .references(() => asset.id),
    kind: text('kind', { enum: ['received', 'used', 'repaired', 'delivered', 'fumigated', 'filled', 'emptied'] }).notNull(),
    at: instant('at').notNull(),
    note: text('note').notNull(),
    by: uuid('by')
      .notNull()
      .references(() => account.id),
    /** Noted by mistake and taken back. */
    archivedAt: instant('archived_at'),
  },
  (t) => [index('occasion_newest').on(t.asset, t.kind, t.at)],
);

/** Items that go out together. */
export const kit = pgTable('kit', {
  id: key(),
  name: text('name').notNull().unique(),
  archivedAt: instant('archived_at'),
});

export const kitNeed = pgTable(
  'kit_need',
  {
    kit: uuid('kit')
      .notNull()
      .references(() => kit.id),
    class: text('class').notNull(),
    minimum: integer('minimum').notNull(),
  },
  (t) => [primaryKey({ columns: [t.kit, t.class] })],
);

export const kitAsset = pgTable(
  'kit_asset',
  {
    kit: uuid('kit')
      .notNull()
      .references(() => kit.id),
    asset: uuid('asset')
      .notNull()
      .references(() => asset.id),
  },
  (t) => [primaryKey({ columns: [t.kit, t.asset] }), index('kit_asset_by_asset').on(t.asset)],
);

/** A question to the register that somebody asks often. */
export const savedView = pgTable('saved_view', {
  id: key(),
  account: uuid('account')
    .notNull()
    .references(() => account.id),
  name: text('name').notNull(),
  query: jsonb('query').$type<Readonly<Record<string, string>>>().notNull(),
  columns: jsonb('columns').$type<readonly string[]>().notNull(),
});
