import type { DayWork, RoundGroup } from '@grellin/contract';
import { inRounds, INSTRUMENT_CLASS } from '@grellin/core';
import { and, asc, eq, inArray, isNull, lte, ne, or, sql } from 'drizzle-orm';
import { Coded, type Moment } from '../base';
import { asset, type Database, obligation, type Queries, round, run, standing } from '../db';
import { publishedById } from '../procedure';
import { addItems } from './items';
import { openRound } from './store';
import { listRounds } from './view';

/** Two people who start the day at the same moment start one day. */
const DAY_LOCK = 0x67_72_6c_64;

interface Owed {
  readonly procedure: string;
  readonly ruleSet: string;
  readonly asset: string;
  readonly tag: string;
}

const keyOf = (o: Pick<Owed, 'procedure' | 'ruleSet'>): string => `${o.procedure} ${o.ruleSet}`;

function byRules(owed: readonly Owed[]): readonly (readonly [Owed, ...Owed[]])[] {
  const groups = new Map<string, [Owed, ...Owed[]]>();
  for (const o of owed) {
    const group = groups.get(keyOf(o));
    if (group) group.push(o);
    else groups.set(keyOf(o), [o]);
  }
  return [...groups.values()];
}

/** What the given items owe, each test with the items that owe it by the same rules; what can be a round and what most of them owe comes first. */
export async function groupsOf(db: Queries, assets: readonly string[]): Promise<readonly RoundGroup[]> {
  const owed = await db
    .select({ procedure: obligation.procedure, ruleSet: obligation.ruleSet, asset: asset.id, tag: asset.tag })
    .from(obligation)
    .innerJoin(asset, eq(asset.id, obligation.asset))
    .where(and(inArray(obligation.asset, [...assets]), isNull(obligation.archivedAt), isNull(asset.archivedAt)))
    .orderBy(asc(asset.place), asc(asset.tag));
  return byRules(owed)
    .flatMap((items): readonly RoundGroup[] => {
      const [{ procedure, ruleSet }] = items;
      const { document } = publishedById(procedure);
      const rules = document.ruleSets.find((r) => r.id === ruleSet);
      if (!rules) return [];
      return [{ procedure, title: document.title, ruleSet, ruleSetTitle: rules.title, assets: items.map((i) => i.asset), inRounds: inRounds(document, rules) }];
    })
    .sort((a, b) => Number(b.inRounds) - Number(a.inRounds) || b.assets.length - a.assets.length);
}

/** What is owed today: what is due or late, to be done before the next use or never done yet, of items that wait for nothing else and are not under test. */
async function owedOn(db: Queries, today: string): Promise<readonly Owed[]> {
  const { lifeEnds, owedNow, untested } = standing;
  return db
    .select({ procedure: obligation.procedure, ruleSet: obligation.ruleSet, asset: asset.id, tag: asset.tag })
    .from(obligation)
    .innerJoin(asset, eq(asset.id, obligation.asset))
    .innerJoin(standing, eq(standing.asset, asset.id))
    .leftJoin(run, and(eq(run.asset, asset.id), eq(run.procedure, obligation.procedure), eq(run.closed, false)))
    .where(
      and(
        isNull(obligation.archivedAt),
        isNull(asset.archivedAt),
        ne(asset.class, INSTRUMENT_CLASS),
        isNull(standing.condemnedBy),
        // A blocked item is mended first: it is retested from its own page.
        isNull(standing.blockedBy),
        sql`(${lifeEnds} IS NULL OR ${lifeEnds} >= ${today}::date)`,
        or(lte(obligation.due, today), eq(obligation.procedure, owedNow), eq(obligation.procedure, untested)),
        isNull(run.id),
      ),
    )
    .orderBy(asc(asset.place), asc(asset.tag));
}

/**
 * Starts the day's work: what is owed today by the same rules is one round, on the gauges that it was last done with, by place and tag. A round of the day that is
 * under way is gone on with, so that asking twice changes nothing.
 * @returns the day's rounds, and what has to be begun from its own page, with the reason
 */
export async function startDay(db: Database, by: string, now: Moment): Promise<DayWork> {
  const today = now.day;
  return db.transaction(async (tx) => {
    await tx.execute(sql`SELECT pg_advisory_xact_lock(${DAY_LOCK})`);
    const open = await tx.select().from(round).where(isNull(round.closedAt)).orderBy(asc(round.openedAt));
    const alone: DayWork['alone'][number][] = [];
    const begun: string[] = [];
    for (const items of byRules(await owedOn(tx, today))) {
      const [{ procedure, ruleSet }] = items;
      const { document } = publishedById(procedure);
      const rules = document.ruleSets.find((r) => r.id === ruleSet);
      const byItself = (why: string): void => void alone.push(...items.map(({ asset: id, tag }) => ({ asset: id, tag, title: document.title, why })));
      if (!rules) byItself('Its rules are no longer there: choose others on its page.');
      else if (!inRounds(document, rules)) byItself('It is tested by itself: it is coupled to another, or is asked what is of its day.');
      else {
        const assets = items.map((i) => i.asset);
        const under = open.find((r) => r.procedure === procedure && r.ruleSet === ruleSet && now.dayOf(r.openedAt) === today);
        try {
          // What cannot be begun leaves nothing behind, and the rest goes on.
          await tx.transaction(async (part) => {
            if (under) await addItems(part, under, assets, by);
            begun.push(under ? under.id : (await openRound(part, { procedure, ruleSet, assets }, by, now)).id);
          });
        } catch (e) {
          if (!(e instanceof Coded)) throw e;
          byItself(e.message);
        }
      }
    }
    return { rounds: (await listRounds(tx)).filter((r) => begun.includes(r.id)), alone };
  });
}
