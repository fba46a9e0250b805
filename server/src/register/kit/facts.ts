import { eq } from 'drizzle-orm';
import { kit, kitAsset, kitNeed, type Transaction } from '../../db';

/** A kit whole: its own row, what it needs, and what it holds. */
export interface KitFacts {
  readonly id: string;
  readonly name: string;
  readonly archivedAt: Date | null;
  readonly needs: readonly { readonly class: string; readonly minimum: number }[];
  readonly assets: readonly string[];
}

/** The kit as it is, locked, its needs and assets in an order that does not depend on how they were entered. */
export async function kitFacts(tx: Transaction, id: string): Promise<KitFacts | null> {
  const [held] = await tx.select().from(kit).where(eq(kit.id, id)).for('update');
  if (!held) return null;
  const needs = await tx.select({ class: kitNeed.class, minimum: kitNeed.minimum }).from(kitNeed).where(eq(kitNeed.kit, id)).orderBy(kitNeed.class); // prettier-ignore
  const assets = await tx.select({ asset: kitAsset.asset }).from(kitAsset).where(eq(kitAsset.kit, id)).orderBy(kitAsset.asset);
  return { ...held, needs, assets: assets.map((a) => a.asset) };
}

/** Writes what is given of a kit; needs and assets as a whole. */
export async function writeKit(tx: Transaction, id: string, { needs, assets, ...row }: Partial<Omit<KitFacts, 'id'>>): Promise<void> {
  if (Object.keys(row).length > 0) await tx.update(kit).set(row).where(eq(kit.id, id));
  if (needs) {
    await tx.delete(kitNeed).where(eq(kitNeed.kit, id));
    if (needs.length > 0) await tx.insert(kitNeed).values(needs.map((n) => ({ ...n, kit: id })));
  }
  if (assets) {
    await tx.delete(kitAsset).where(eq(kitAsset.kit, id));
    if (assets.length > 0) await tx.insert(kitAsset).values(assets.map((a) => ({ kit: id, asset: a })));
  }
}
