import type { KeptPlan, NewPlanBench, PlanView } from '@grellin/contract';
import { addDays, usualMinutes } from '@grellin/core';
import { and, asc, eq, inArray, isNotNull, isNull, lte } from 'drizzle-orm';
import { v7 } from 'uuid';
import { Coded, type Moment } from '../../base';
import { asset, type Database, noteChange, obligation, planBench, planned, type Queries, touched } from '../../db';
import { publishedById } from '../../procedure';
import { planFacts, THE_PLAN, writePlan } from './facts';

/** A plan of more tests than this is made place by place. */
const MOST_TESTS = 25_000;

/** What has to be put into the weeks up to a horizon, where it can be done, and where it was put before. */
export async function planView(db: Queries, today: string, weeks: number): Promise<PlanView> {
  const owed = await db
    .select({
      id: obligation.id,
      due: obligation.due,
      procedure: obligation.procedure,
      ruleSet: obligation.ruleSet,
      interval: obligation.interval,
      early: obligation.early,
      counting: obligation.counting,
      asset: asset.id,
      tag: asset.tag,
      title: asset.title,
      place: asset.place,
    })
    .from(obligation)
    .innerJoin(asset, eq(obligation.asset, asset.id))
    .where(and(isNotNull(obligation.due), lte(obligation.due, addDays(today, weeks * 7)), isNull(obligation.archivedAt), isNull(asset.archivedAt)))
    .orderBy(asc(obligation.due), asc(obligation.id))
    .limit(MOST_TESTS);
  const benches = await db.select().from(planBench).where(isNull(planBench.archivedAt)).orderBy(asc(planBench.name));
  const kept = await db.select({ obligation: planned.obligation, week: planned.week, bench: planned.bench, fixed: planned.fixed }).from(planned);
  const minutes = new Map<string, number>();
  const minutesOf = (procedure: string, ruleSet: string): number => {
    const key = `${procedure} ${ruleSet}`;
    const found = minutes.get(key) ?? usualMinutes(publishedById(procedure).document, ruleSet);
    minutes.set(key, found);
    return found;
  };
  const procedures = Object.fromEntries(
    [...new Set(owed.map((o) => o.procedure))].map((id) => {
      const { title, bring = [], warning = null } = publishedById(id).document;
      return [id, { title, bring, warning }];
    }),
  );
  return {
    today,
    procedures,
    tests: owed.map((o) => ({ ...o, due: o.due ?? today, minutes: minutesOf(o.procedure, o.ruleSet) })),
    benches: benches.map(({ id, name, setups, hoursAWeek }) => ({ id, name, setups, hoursAWeek })),
    kept,
  };
}

/**
 * Adds a bench that tests can be planned on.
 * @throws Coded `procedure.unknown` for what it cannot be rigged for, `bench.exists`
 */
export function addBench(db: Database, given: NewPlanBench, by: string, now: Moment): Promise<{ readonly id: string; readonly change: string }> {
  for (const procedure of given.setups) publishedById(procedure);
  return db.transaction(async (tx) => {
    const [made] = await tx.insert(planBench).values({ ...given, id: v7(), archivedAt: null }).onConflictDoNothing().returning(); // prettier-ignore
    if (!made) throw new Coded('bench.exists', `There is a bench ${given.name}.`);
    return { id: made.id, change: await noteChange(tx, `bench ${given.name} added`, [touched('bench', made.id, null, made)], by, now) };
  });
}

/** Puts a bench away; what stood there is planned anew. */
export function dropBench(db: Database, id: string, by: string, now: Moment): Promise<{ readonly change: string }> {
  return db.transaction(async (tx) => {
    const [found] = await tx.update(planBench).set({ archivedAt: now }).where(and(eq(planBench.id, id), isNull(planBench.archivedAt))).returning(); // prettier-ignore
    if (!found) throw new Coded('bench.unknown', 'There is no such bench.');
    await tx.delete(planned).where(eq(planned.bench, id));
    return { change: await noteChange(tx, `bench ${found.name} put away`, [touched('bench', id, { ...found, archivedAt: null }, found)], by, now) };
  });
}

/** Keeps a plan whole: what it names is put where it says, and everything else is taken off. */
export function keepPlan(db: Database, given: KeptPlan, by: string, now: Moment): Promise<{ readonly kept: number; readonly change: string }> {
  return db.transaction(async (tx) => {
    const benches = [...new Set(given.placed.map((p) => p.bench))];
    const held = benches.length === 0 ? [] : await tx.select({ id: planBench.id }).from(planBench).where(and(inArray(planBench.id, benches), isNull(planBench.archivedAt))); // prettier-ignore
    if (held.length !== benches.length) throw new Coded('bench.unknown', 'There is no such bench.');
    const rows = [...new Map(given.placed.map((p) => [p.obligation, p])).values()];
    const AT_ONCE = 2000;
    let known = 0;
    for (let i = 0; i < rows.length; i += AT_ONCE) {
      const part = rows.slice(i, i + AT_ONCE).map((p) => p.obligation);
      known += (await tx.select({ id: obligation.id }).from(obligation).where(inArray(obligation.id, part))).length;
    }
    if (known !== rows.length) throw new Coded('obligation.unknown', 'Nothing of the kind is owed.');
    const before = await planFacts(tx);
    await writePlan(tx, { placed: rows.map((p) => ({ ...p, by, at: now.toISOString() })) });
    const change = await noteChange(tx, `plan kept: ${String(rows.length)} tests`, [touched('plan', THE_PLAN, before, await planFacts(tx))], by, now);
    return { kept: rows.length, change };
  });
}
