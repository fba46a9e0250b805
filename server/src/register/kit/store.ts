import type { AssetRow, KitRow, NewKit } from '@grellin/contract';
import { assetClass, kitShort, usable } from '@grellin/core';
import { and, asc, eq, inArray, isNull, ne } from 'drizzle-orm';
import { v7 } from 'uuid';
import { Coded, type Moment } from '../../base';
import { asset, type Database, kit, kitAsset, kitNeed, noteChange, type Queries, touched, type Transaction } from '../../db';
import { assetsByIds } from '../item';
import { kitFacts, writeKit, type KitFacts } from './facts';

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
    return { ...w, held: held.length, ready: held.filter((i) => usable(i.readiness)).length };
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
  await writeKit(tx, id, { name: given.name, needs: [...new Map(given.needs.map((n) => [n.class, n])).values()], assets });
}

/** Notes what became of a kit. */
async function noteKit(
  tx: Transaction,
  what: string,
  id: string,
  before: KitFacts | null,
  by: string,
  now: Moment,
): Promise<{ readonly id: string; readonly change: string }> {
  const after = await kitFacts(tx, id);
  return { id, change: await noteChange(tx, what, [touched('kit', id, before, after ?? {})], by, now) };
}

/** Puts a kit together. */
export function addKit(db: Database, given: NewKit, by: string, now: Moment): Promise<{ readonly id: string; readonly change: string }> {
  return db.transaction(async (tx) => {
    const [made] = await tx.insert(kit).values({ id: v7(), name: given.name, archivedAt: null }).onConflictDoNothing().returning(); // prettier-ignore
    if (!made) throw new Coded('kit.exists', `There is a kit ${given.name}.`);
    await fill(tx, made.id, given);
    return noteKit(tx, `kit ${given.name} put together`, made.id, null, by, now);
  });
}

/** Changes what a kit needs and holds. */
export function changeKit(db: Database, id: string, given: NewKit, by: string, now: Moment): Promise<{ readonly id: string; readonly change: string }> {
  return db.transaction(async (tx) => {
    const held = await kitFacts(tx, id);
    if (!held || held.archivedAt) throw new Coded('kit.unknown', 'There is no such kit.');
    const [other] = await tx
      .select({ id: kit.id })
      .from(kit)
      .where(and(eq(kit.name, given.name), ne(kit.id, id)));
    if (other) throw new Coded('kit.exists', `There is a kit ${given.name}.`);
    await fill(tx, id, given);
    return noteKit(tx, `kit ${held.name} changed`, id, held, by, now);
  });
}

/** Puts a kit away. Its items stay. */
export function archiveKit(db: Database, id: string, by: string, now: Moment): Promise<{ readonly change: string }> {
  return db.transaction(async (tx) => {
    const held = await kitFacts(tx, id);
    if (!held || held.archivedAt) throw new Coded('kit.unknown', 'There is no such kit.');
    await writeKit(tx, id, { archivedAt: now });
    return noteKit(tx, `kit ${held.name} put away`, id, held, by, now);
  });
}
