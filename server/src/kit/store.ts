import type { AssetRow, KitRow, NewKit } from '@grellin/contract';
import { assetClass, kitShort } from '@grellin/core';
import { and, asc, eq, inArray, isNull, ne } from 'drizzle-orm';
import { v7 } from 'uuid';
import { assetsByIds } from '../asset/page';
import { asset, kit, kitAsset, kitNeed } from '../asset/table';
import { noteChange, touched } from '../change/store';
import type { Database, Queries, Transaction } from '../db/database';
import { Coded } from '../errors';

const plural = (n: number, title: string): string => `${String(n)} ${title.toLowerCase()}${n === 1 ? '' : 's'}`;

/** What a kit lacks, in words. @example shortInWords(…) // '3 of 4 breathing sets ready; one more needed' */
function shortInWords(short: readonly { readonly class: string; readonly minimum: number; readonly ready: number }[]): string | null {
  if (short.length === 0) return null;
  return short
    .map((s) => {
      const title = assetClass(s.class)?.title ?? s.class;
      const more = s.minimum - s.ready;
      return `${String(s.ready)} of ${plural(s.minimum, title)} ready; ${more === 1 ? 'one' : String(more)} more needed`;
    })
    .join('. ');
}

function kitRow(k: typeof kit.$inferSelect, needs: readonly (typeof kitNeed.$inferSelect)[], items: readonly AssetRow[]): KitRow {
  const wanted = needs.filter((n) => n.kit === k.id).map(({ class: kind, minimum }) => ({ class: kind, minimum }));
  const short = kitShort(wanted, items);
  const counted = wanted.map((w) => {
    const held = items.filter((i) => i.class === w.class);
    return { ...w, held: held.length, ready: held.filter((i) => i.readiness === 'ready' || i.readiness === 'due').length };
  });
  return {
    id: k.id,
    name: k.name,
    needs: counted,
    ready: short.length === 0,
    short: shortInWords(short),
    checkFirst: items.filter((i) => i.readiness === 'checkFirst'),
    assets: items.map((i) => i.id),
  };
}

/** Every kit, with what it lacks on a day. */
export async function listKits(db: Queries, today: string): Promise<readonly KitRow[]> {
  const kits = await db.select().from(kit).where(isNull(kit.archivedAt)).orderBy(asc(kit.name));
  if (kits.length === 0) return [];
  const ids = kits.map((k) => k.id);
  const needs = await db.select().from(kitNeed).where(inArray(kitNeed.kit, ids));
  const members = await db.select().from(kitAsset).where(inArray(kitAsset.kit, ids));
  const items = new Map((await assetsByIds(db, [...new Set(members.map((m) => m.asset))], today)).map((a) => [a.id, a]));
  return kits.map((k) =>
    kitRow(
      k,
      needs,
      members.filter((m) => m.kit === k.id).flatMap((m) => items.get(m.asset) ?? []),
    ),
  );
}

async function fill(tx: Transaction, id: string, given: NewKit): Promise<void> {
  const assets = [...new Set(given.assets)];
  const held = assets.length === 0 ? [] : await tx.select({ id: asset.id }).from(asset).where(inArray(asset.id, assets));
  if (held.length !== assets.length) throw new Coded('asset.unknown', 'One of these assets is not there.');
  await tx.delete(kitNeed).where(eq(kitNeed.kit, id));
  await tx.delete(kitAsset).where(eq(kitAsset.kit, id));
  const needs = [...new Map(given.needs.map((n) => [n.class, n])).values()];
  await tx.insert(kitNeed).values(needs.map((n) => ({ ...n, kit: id })));
  if (assets.length > 0) await tx.insert(kitAsset).values(assets.map((a) => ({ kit: id, asset: a })));
}

/** Puts a kit together. */
export function addKit(db: Database, given: NewKit, by: string, now: Date): Promise<{ readonly id: string; readonly change: string }> {
  return db.transaction(async (tx) => {
    const [made] = await tx.insert(kit).values({ id: v7(), name: given.name, archivedAt: null }).onConflictDoNothing().returning(); // prettier-ignore
    if (!made) throw new Coded('kit.exists', `There is a kit ${given.name}.`);
    await fill(tx, made.id, given);
    return { id: made.id, change: await noteChange(tx, `kit ${given.name} put together`, [touched('kit', made.id, null, made)], by, now) };
  });
}

/** Changes what a kit needs and holds. */
export function changeKit(db: Database, id: string, given: NewKit): Promise<{ readonly id: string }> {
  return db.transaction(async (tx) => {
    const [held] = await tx.select().from(kit).where(and(eq(kit.id, id), isNull(kit.archivedAt))).for('update'); // prettier-ignore
    if (!held) throw new Coded('kit.unknown', 'There is no such kit.');
    const [other] = await tx
      .select({ id: kit.id })
      .from(kit)
      .where(and(eq(kit.name, given.name), ne(kit.id, id)));
    if (other) throw new Coded('kit.exists', `There is a kit ${given.name}.`);
    await tx.update(kit).set({ name: given.name }).where(eq(kit.id, id));
    await fill(tx, id, given);
    return { id };
  });
}

/** Puts a kit away. Its items stay. */
export function archiveKit(db: Database, id: string, by: string, now: Date): Promise<{ readonly change: string }> {
  return db.transaction(async (tx) => {
    const [held] = await tx.select().from(kit).where(and(eq(kit.id, id), isNull(kit.archivedAt))).for('update'); // prettier-ignore
    if (!held) throw new Coded('kit.unknown', 'There is no such kit.');
    const [made] = await tx.update(kit).set({ archivedAt: now }).where(eq(kit.id, id)).returning();
    return { change: await noteChange(tx, `kit ${held.name} put away`, [touched('kit', id, held, made ?? held)], by, now) };
  });
}
