import type { TableRow } from '@grellin/contract';
import { oddFigures, tableFlaws, tableNamed, tableOn, tablesUsed, type AttributesByRole, type FigureTable, type Procedure, type Tables } from '@grellin/core';
import { and, asc, desc, eq, gte, isNull, lte, or } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import { Coded, type Moment } from '../base';
import { account, keptDocument, type Queries } from '../db';
import { digestOf } from '../procedure';
import { flawInWords } from './words';

const withdrawer = alias(account, 'withdrawer');

/** Every table that was ever published, the newest edition first. */
export async function listTables(db: Queries, today: string): Promise<readonly TableRow[]> {
  const rows = await db
    .select({ kept: keptDocument, by: account.fullName, withdrawnBy: withdrawer.fullName })
    .from(keptDocument)
    .innerJoin(account, eq(keptDocument.publishedBy, account.id))
    .leftJoin(withdrawer, eq(keptDocument.withdrawnBy, withdrawer.id))
    .where(eq(keptDocument.kind, 'figures'))
    .orderBy(asc(keptDocument.id), desc(keptDocument.from), desc(keptDocument.publishedAt));
  const standing = rows.map((r) => r.kept).filter((k) => k.withdrawnAt === null);
  const held = new Set(
    [...new Set(standing.map((k) => k.id))].flatMap((id) => latest(standing.filter((k) => k.id === id)).flatMap((of) => tableOn(of, today)?.digest ?? [])),
  );
  return rows.map(({ kept, by, withdrawnBy }) => ({
    digest: kept.digest,
    table: kept.document,
    publishedAt: kept.publishedAt.toISOString(),
    by,
    withdrawn: kept.withdrawnAt && { at: kept.withdrawnAt.toISOString(), by: withdrawnBy ?? '', why: kept.withdrawnWhy ?? '' },
    inForce: held.has(kept.digest),
  }));
}

type Kept = typeof keptDocument.$inferSelect;
type Dated = Omit<Kept, 'until'> & { readonly until?: string };

/** Editions with their days, in the order in which they were published: of two that came into force on one day the later stands. */
const latest = (rows: readonly Kept[]): readonly (readonly Dated[])[] => {
  const dated = rows.map(({ until, ...k }): Dated => ({ ...k, ...(until === null ? {} : { until }) }));
  return dated.length === 0 ? [] : [dated.sort((a, b) => a.publishedAt.getTime() - b.publishedAt.getTime())];
};

/**
 * Publishes an edition of a table.
 * @throws Coded `table.flawed`, `table.odd`, `table.exists`
 */
export async function publishTable(db: Queries, table: FigureTable, sure: boolean, by: string, now: Moment): Promise<{ readonly digest: string }> {
  const [flaw] = tableFlaws(table);
  if (flaw) throw new Coded('table.flawed', flawInWords(flaw), { line: String(flaw.line) });
  const [odd] = oddFigures(table);
  if (odd !== undefined && !sure) throw new Coded('table.odd', `${odd}: is that so?`);
  const digest = digestOf(table);
  const [made] = await db
    .insert(keptDocument)
    .values({
      digest,
      kind: 'figures',
      id: table.id,
      edition: table.edition,
      document: table,
      from: table.from,
      until: table.until ?? null,
      publishedAt: now,
      publishedBy: by,
    })
    .onConflictDoNothing()
    .returning({ digest: keptDocument.digest });
  if (!made) throw new Coded('table.exists', `Edition ${table.edition} of ${table.id} is published already.`, { edition: table.edition });
  return made;
}

/**
 * Withdraws an edition: no run is opened by it any more. Runs that were keep it.
 * @throws Coded `table.unknown`, `table.withdrawn`
 */
export async function withdrawTable(db: Queries, digest: string, why: string, by: string, now: Moment): Promise<{ readonly digest: string }> {
  const [gone] = await db
    .update(keptDocument)
    .set({ withdrawnAt: now, withdrawnBy: by, withdrawnWhy: why })
    .where(and(eq(keptDocument.digest, digest), isNull(keptDocument.withdrawnAt)))
    .returning({ digest: keptDocument.digest });
  if (gone) return gone;
  const [there] = await db.select({ digest: keptDocument.digest }).from(keptDocument).where(eq(keptDocument.digest, digest));
  throw there ? new Coded('table.withdrawn', 'It was withdrawn already.') : new Coded('table.unknown', 'There is no such table.');
}

/** A table by its digest. @throws Coded `table.unknown` */
export async function tableByDigest(db: Queries, digest: string): Promise<FigureTable> {
  const [found] = await db.select({ document: keptDocument.document }).from(keptDocument).where(eq(keptDocument.digest, digest));
  if (!found) throw new Coded('table.unknown', 'There is no such table.');
  return found.document;
}

/**
 * The tables that a run goes by: those that its items name, in the edition that holds on the day. What is not there is left out; the plan is refused then.
 * @param day ISO date at the station
 */
export async function tablesFor(db: Queries, procedure: Procedure, ruleSetId: string, items: AttributesByRole, day: string): Promise<Tables> {
  const ruleSet = procedure.ruleSets.find((r) => r.id === ruleSetId);
  const found: Record<string, FigureTable> = {};
  for (const name of ruleSet ? tablesUsed(procedure, ruleSet) : []) {
    const id = tableNamed(procedure, name, items);
    if (id === undefined) continue;
    const rows = await db
      .select()
      .from(keptDocument)
      .where(
        and(
          eq(keptDocument.kind, 'figures'),
          eq(keptDocument.id, id),
          isNull(keptDocument.withdrawnAt),
          lte(keptDocument.from, day),
          or(isNull(keptDocument.until), gte(keptDocument.until, day)),
        ),
      );
    for (const of of latest(rows)) {
      const holds = tableOn(of, day);
      if (holds) found[name] = holds.document;
    }
  }
  return found;
}
