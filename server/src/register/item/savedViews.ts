import type { SavedView, SavedViewRow } from '@grellin/contract';
import { and, asc, eq } from 'drizzle-orm';
import { v7 } from 'uuid';
import { Coded } from '../../base';
import { type Queries, savedView } from '../../db';

/** More than anybody finds again. */
const MOST_VIEWS = 100;

/** The questions that somebody keeps. */
export async function listViews(db: Queries, account: string): Promise<readonly SavedViewRow[]> {
  const found = await db.select().from(savedView).where(eq(savedView.account, account)).orderBy(asc(savedView.name));
  return found.map(({ id, name, query, columns }) => ({ id, name, query, columns }));
}

/**
 * Keeps a view of the register for one account.
 * @throws Coded `views.tooMany`
 */
export async function keepView(db: Queries, account: string, given: SavedView): Promise<SavedViewRow> {
  const query = Object.fromEntries(Object.entries(given.query).filter((e): e is [string, string] => typeof e[1] === 'string'));
  const held = await db.select({ id: savedView.id }).from(savedView).where(eq(savedView.account, account)).limit(MOST_VIEWS);
  if (held.length >= MOST_VIEWS) throw new Coded('views.tooMany', `You keep ${String(MOST_VIEWS)} already: forget one first.`);
  const row = { id: v7(), account, name: given.name, query, columns: given.columns };
  await db.insert(savedView).values(row);
  return { id: row.id, name: row.name, query, columns: row.columns };
}

/** Forgets a view of one’s own; one of somebody else, or none, is no error. */
export async function dropView(db: Queries, account: string, id: string): Promise<void> {
  await db.delete(savedView).where(and(eq(savedView.id, id), eq(savedView.account, account)));
}
