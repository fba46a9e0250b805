import { assetClasses } from '@grellin/core';
import { sql } from 'drizzle-orm';
import type { Queries, Transaction } from '../db';

const rows = assetClasses.flatMap((c) => c.attributes.flatMap((a) => (a.carries === undefined ? [] : [{ class: c.id, attribute: a.id, of: a.carries }])));

/** Which class names in which attribute an item of which class that goes along with it: the core's table, in SQL. */
export const carriedKinds = sql`(VALUES ${sql.join(
  rows.map((r) => sql`(${r.class}::text, ${r.attribute}::text, ${r.of}::text)`),
  sql`, `,
)}) AS kind(class, attribute, carried)`;

/** The items that some others go along with: how those stand decides how these do. */
export async function carriersOf(tx: Pick<Transaction, 'execute'>, assets: readonly string[]): Promise<readonly string[]> {
  if (assets.length === 0) return [];
  const found = await tx.execute<{ id: string }>(sql`
    SELECT a.id FROM asset p JOIN ${carriedKinds} ON kind.carried = p.class JOIN asset a ON a.class = kind.class AND a.attributes ->> kind.attribute = p.tag
    WHERE p.id = ANY(${sql.param([...new Set(assets)])}::uuid[])`);
  return found.rows.map((r) => r.id);
}

/** An item that goes along with another. */
export interface Carried {
  /** The attribute by which the other one names it. */
  readonly attribute: string;
  readonly tag: string;
  readonly id: string | null;
  readonly title: string;
}

/** What goes along with an item, by its own word: each with its id, or null where the register has none of that tag. */
export async function carriedBy(db: Queries, assetId: string): Promise<readonly Carried[]> {
  const found = await db.execute<{ attribute: string; tag: string; id: string | null; title: string | null }>(sql`
    SELECT kind.attribute, a.attributes ->> kind.attribute AS tag, p.id, p.title FROM asset a JOIN ${carriedKinds} ON kind.class = a.class
    LEFT JOIN asset p ON p.class = kind.carried AND p.tag = a.attributes ->> kind.attribute AND p.archived_at IS NULL
    WHERE a.id = ${assetId}::uuid AND coalesce(a.attributes ->> kind.attribute, '') <> ''`);
  return found.rows.map((r) => ({ ...r, title: r.title ?? '' }));
}
