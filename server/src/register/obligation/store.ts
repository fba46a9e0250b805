import type { Deferral, NewObligation, ObligationRow } from '@grellin/contract';
import {
  dueAfter,
  firstAnchor,
  firstDue,
  owedByUse,
  ruleOf,
  suitedRuleSet,
  usualChecksOf,
  usualRule,
  type Attributes,
  type DueRule,
  type OccasionKind,
  mainRole,
} from '@grellin/core';
import { and, asc, eq, inArray, isNull, max, sql } from 'drizzle-orm';
import { v7 } from 'uuid';
import { Coded, type Moment } from '../../base';
import {
  account,
  asset,
  type ChangedRow,
  type Database,
  deferral,
  noteChange,
  obligation,
  occasion,
  outsideCertificate,
  type Queries,
  touched,
  type Transaction,
} from '../../db';
import { publishedById } from '../../procedure';
import { refreshStanding } from '../../standing';
import type { ObligationEntity } from './settle';

/** The newest of each kind of thing that happened to some assets, as ISO instants. */
async function happened(db: Queries, assets: readonly string[]): Promise<ReadonlyMap<string, Partial<Record<OccasionKind, string>>>> {
  const found = await db
    .select({ asset: occasion.asset, kind: occasion.kind, at: max(occasion.at) })
    .from(occasion)
    .where(and(inArray(occasion.asset, [...assets]), isNull(occasion.archivedAt)))
    .groupBy(occasion.asset, occasion.kind);
  const by = new Map<string, Partial<Record<OccasionKind, string>>>();
  for (const f of found) if (f.at) by.set(f.asset, { ...by.get(f.asset), [f.kind]: f.at.toISOString() });
  return by;
}

/** What of an obligation is told as it is kept. */
function rowFacts(o: ObligationEntity) {
  const { id, asset: of, procedure, ruleSet, due, lastDone } = o;
  return { ...ruleOf(o), id, asset: of, procedure, ruleSet, due, lastDone };
}

/** What an asset owes, those that are due first at the top. */
export async function obligationsOf(db: Queries, assetId: string): Promise<readonly ObligationRow[]> {
  const owed = await db
    .select()
    .from(obligation)
    .where(and(eq(obligation.asset, assetId), isNull(obligation.archivedAt)))
    .orderBy(asc(obligation.due));
  if (owed.length === 0) return [];
  const ids = owed.map((o) => o.id);
  const { id, obligation: of, doneOn, issuer, number, mime, at, archivedAt } = outsideCertificate;
  const [happenings, moves, outside] = await Promise.all([
    happened(db, [assetId]),
    db
      .select({ move: deferral, by: account.fullName })
      .from(deferral)
      .innerJoin(account, eq(deferral.by, account.id))
      .where(inArray(deferral.obligation, ids))
      .orderBy(asc(deferral.at)),
    db
      .select({ id, of, doneOn, issuer, number, mime, at, archivedAt, by: account.fullName })
      .from(outsideCertificate)
      .innerJoin(account, eq(outsideCertificate.by, account.id))
      .where(inArray(of, ids))
      .orderBy(asc(at)),
  ]);
  const history = happenings.get(assetId) ?? {};
  return owed.map((o): ObligationRow => {
    const { document } = publishedById(o.procedure);
    return {
      ...rowFacts(o),
      title: document.title,
      ruleSetTitle: document.ruleSets.find((r) => r.id === o.ruleSet)?.title ?? o.ruleSet,
      owedNow: o.triggers.some((t) => owedByUse(t, { done: o.lastDoneAt?.toISOString() ?? null, ...history })),
      moves: moves
        .filter((m) => m.move.obligation === o.id)
        .map(({ move, by }) => ({ ...move, by, at: move.at.toISOString(), takenBack: move.archivedAt !== null })),
      outside: outside.filter((c) => c.of === o.id).map(({ archivedAt: away, ...c }) => ({ ...c, at: c.at.toISOString(), takenBack: away !== null })),
    };
  });
}

/** The newest pass of a procedure by an asset under a rule set, where it settles anything. */
async function lastPassed(tx: Transaction, of: string, procedure: string, ruleSet: string): Promise<{ readonly on: string; readonly at: Date } | null> {
  const { rows } = await tx.execute<{ on: string; at: string }>(sql`
    SELECT (r.sealed_at AT TIME ZONE z.zone)::date::text AS on, run.started_at AS at FROM record r JOIN run ON run.id = r.run JOIN run_asset ra ON ra.run = r.run CROSS JOIN station z
    WHERE ra.asset = ${of}::uuid AND r.procedure = ${procedure} AND run.rule_set = ${ruleSet} AND r.counts AND r.verdict = 'pass' ORDER BY r.sealed_order DESC LIMIT 1`);
  const [found] = rows;
  return found ? { on: found.on, at: new Date(found.at) } : null;
}

async function owe(tx: Transaction, given: NewObligation): Promise<ObligationEntity | null> {
  const { asset: of, procedure, ruleSet } = given;
  const rule: DueRule = { ...usualRule, ...given, early: given.early ?? null, filled: given.filled ?? null, triggers: given.triggers ?? [] };
  if (rule.interval === null && rule.triggers.length === 0)
    throw new Coded('obligation.never', 'It would never be owed: give it an interval, or say what makes it owed.');
  const calendar = { ...ruleOf(rule), asset: of, procedure, ruleSet };
  // What it has passed before it owed it counts; a certificate from outside may tell of an earlier one.
  const passed = await lastPassed(tx, of, procedure, ruleSet);
  const row = passed
    ? { ...calendar, due: dueAfter(calendar, passed.on, null), lastDone: passed.on, lastDoneAt: passed.at }
    : { ...calendar, due: firstDue(calendar), lastDone: null, lastDoneAt: null };
  const [made] = await tx
    .insert(obligation)
    .values({ ...row, id: v7() })
    .onConflictDoNothing()
    .returning();
  if (made) return made;
  // What was put away once is taken up again with the new rule; what is owed already is not owed twice.
  const [again] = await tx
    .update(obligation)
    .set({ ...row, archivedAt: null })
    .where(and(eq(obligation.asset, given.asset), eq(obligation.procedure, given.procedure)))
    .returning();
  return again ?? null;
}

async function assetFor(tx: Queries, id: string) {
  const [found] = await tx.select().from(asset).where(eq(asset.id, id)).for('no key update');
  if (!found) throw new Coded('asset.unknown', 'There is no such asset.');
  return found;
}

/** Lets an asset owe a procedure. */
export function addObligation(db: Database, given: NewObligation, by: string, now: Moment): Promise<ObligationEntity & { readonly change: string }> {
  const { document } = publishedById(given.procedure);
  if (!document.ruleSets.some((r) => r.id === given.ruleSet)) throw new Coded('procedure.unknown', `${document.title} has no rule set ${given.ruleSet}.`);
  return db.transaction(async (tx) => {
    const owner = await assetFor(tx, given.asset);
    const [held] = await tx
      .select({ id: obligation.id })
      .from(obligation)
      .where(and(eq(obligation.asset, owner.id), eq(obligation.procedure, given.procedure), isNull(obligation.archivedAt)));
    const made = held ? null : await owe(tx, given);
    if (!made) throw new Coded('obligation.exists', 'The asset owes this procedure already.');
    const change = await noteChange(tx, `${owner.tag} owes ${document.title}`, [touched('obligation', made.id, null, made)], by, now);
    await refreshStanding(tx, [owner.id]);
    return { ...made, change };
  });
}

/** The rule set that an item's own attributes choose, else the usual one. */
function ruleSetFor(procedure: string, usual: string, attributes: Attributes): string {
  const { document } = publishedById(procedure);
  const role = mainRole(document);
  return suitedRuleSet(document, { [role]: attributes })?.id ?? usual;
}

/** Lets an asset owe all that its class usually does and it does not yet: one change, one undo. */
export function addUsual(db: Database, assetId: string, by: string, now: Moment): Promise<{ readonly change: string | null; readonly added: number }> {
  const today = now.day;
  return db.transaction(async (tx) => {
    const owner = await assetFor(tx, assetId);
    const held = await tx
      .select({ procedure: obligation.procedure })
      .from(obligation)
      .where(and(eq(obligation.asset, owner.id), isNull(obligation.archivedAt)));
    const rows: ChangedRow[] = [];
    for (const usual of usualChecksOf(owner.class, owner.attributes)) {
      if (held.some((h) => h.procedure === usual.procedure)) continue;
      const rule = ruleOf({ ...usual, anchor: firstAnchor(usual.interval, owner.madeOn, today) });
      const ruleSet = ruleSetFor(usual.procedure, usual.ruleSet, owner.attributes);
      const made = await owe(tx, { ...rule, triggers: [...rule.triggers], asset: owner.id, procedure: usual.procedure, ruleSet });
      if (made) rows.push(touched('obligation', made.id, null, made));
    }
    if (rows.length === 0) return { change: null, added: 0 };
    const change = await noteChange(tx, `${owner.tag} owes its ${String(rows.length)} usual checks`, rows, by, now);
    await refreshStanding(tx, [owner.id]);
    return { change, added: rows.length };
  });
}

/** An obligation in force, its item and itself locked until the transaction ends. */
export async function obligationFor(tx: Transaction, id: string): Promise<ObligationEntity> {
  const [found] = await tx.select().from(obligation).where(eq(obligation.id, id)).for('update');
  if (!found || found.archivedAt) throw new Coded('obligation.unknown', 'Nothing of the kind is owed.');
  return found;
}

/** What is written on an item. */
export async function tagOf(tx: Transaction, id: string): Promise<string> {
  const [found] = await tx.select({ tag: asset.tag }).from(asset).where(eq(asset.id, id));
  return found?.tag ?? '';
}

/** An asset no longer owes something. It is put away, and can be taken up again. */
export function dropObligation(db: Database, id: string, by: string, now: Moment): Promise<{ readonly change: string }> {
  return db.transaction(async (tx) => {
    const held = await obligationFor(tx, id);
    const [made] = await tx.update(obligation).set({ archivedAt: now }).where(eq(obligation.id, id)).returning();
    const title = publishedById(held.procedure).document.title;
    const change = await noteChange(tx, `${await tagOf(tx, held.asset)} no longer owes ${title}`, [touched('obligation', id, held, made ?? held)], by, now);
    await refreshStanding(tx, [held.asset]);
    return { change };
  });
}

/** Moves a due date, and keeps why. */
async function move(
  tx: Transaction,
  held: ObligationEntity,
  kind: 'deferred' | 'proposed',
  to: string,
  reason: string,
  by: string,
  now: Moment,
): Promise<{ readonly change: string }> {
  const before = held.due ?? '';
  const [moved] = await tx.insert(deferral).values({ id: v7(), obligation: held.id, kind, before, after: to, reason, by, at: now, archivedAt: null }).returning(); // prettier-ignore
  const [made] = await tx.update(obligation).set({ due: to }).where(eq(obligation.id, held.id)).returning();
  const words = `${await tagOf(tx, held.asset)}: ${publishedById(held.procedure).document.title} ${kind === 'deferred' ? 'put off' : 'brought forward'} to ${to}`;
  const change = await noteChange(
    tx,
    words,
    [touched('obligation', held.id, held, made ?? held), ...(moved ? [touched('deferral', moved.id, null, moved)] : [])],
    by,
    now,
  );
  await refreshStanding(tx, [held.asset]);
  return { change };
}

/**
 * Puts a due date off. It is an officer's word, with its reason, and stays in the record.
 * @throws Coded for a date that a law has set, one that is not later, or an item that owes nothing by the calendar
 */
export function defer(db: Database, id: string, given: Deferral, by: string, now: Moment): Promise<{ readonly change: string }> {
  return db.transaction(async (tx) => {
    const held = await obligationFor(tx, id);
    if (held.due === null) throw new Coded('obligation.noDate', 'It has no date that could be moved.');
    if (held.hard) throw new Coded('obligation.hard', 'This date is a law’s: it cannot be put off.', { due: held.due });
    if (given.to <= held.due) throw new Coded('obligation.notLater', 'Putting off means a later day.', { due: held.due });
    return move(tx, held, 'deferred', given.to, given.reason, by, now);
  });
}

/** Brings a due date forward, because what the item uses of its allowance grows. */
export function bringForward(db: Database, id: string, to: string, by: string, now: Moment): Promise<{ readonly change: string }> {
  return db.transaction(async (tx) => {
    const held = await obligationFor(tx, id);
    if (held.due === null || to >= held.due) throw new Coded('obligation.notSooner', 'Bringing forward means an earlier day.', { due: held.due ?? '' });
    return move(tx, held, 'proposed', to, 'its use of the allowance grows: it would cross its limit before the next check', by, now);
  });
}
