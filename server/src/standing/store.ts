import { isDeepStrictEqual } from 'node:util';
import type { Readiness } from '@grellin/contract';
import { addDays, DUE_SOON_DAYS, filledRules, readiness, UNTIL_EMPTIED, useTriggerRules, useTriggers, type Ready } from '@grellin/core';
import { asc, gt, sql, type Placeholder, type SQL } from 'drizzle-orm';
import { ANYTHING, asset, type Database, NEVER, NOT_MEASURED, type Queries, standing, type Transaction } from '../db';
import { publishedById } from '../procedure';
import { carriedKinds, carriersOf } from './carried';
import { lockAssets } from './lock';

export type StandingEntity = typeof standing.$inferSelect;

/** As many assets as are worked out in one statement. */
const AT_ONCE = 2000;

/**
 * Works out anew how some assets stand. It runs in the transaction of what changed them, so that no reader sees one without the other, and it holds their
 * rows, so that two writers work one after the other and the second sees what the first has written. A run blocks every asset that took part in it; a pass
 * of the same procedure, by the same rules or by those that it owes, lifts it whose run was opened when the failure was sealed already. What is owed by use is `owedByUse` of the core, in SQL: a test
 * holds the two against each other.
 */
export async function refreshStanding(tx: Transaction, assets: readonly string[]): Promise<void> {
  // What goes along with another comes first, and then whatever it goes along with.
  const carriers = await carriersOf(tx, assets);
  await lockAssets(tx, [...assets, ...carriers]);
  for (const ids of [assets, carriers])
    for (let from = 0; from < ids.length; from += AT_ONCE) await refresh(tx, sql`a.id = ANY(${sql.param(ids.slice(from, from + AT_ONCE))}::uuid[])`);
}

/** Works out how every asset stands that has never been worked out: after a migration, and after a load by COPY. */
export async function refreshMissing(db: Queries): Promise<void> {
  const missing = await refresh(db, sql`NOT EXISTS (SELECT 1 FROM standing s WHERE s.asset = a.id)`);
  if (missing > 0)
    await refresh(db, sql`EXISTS (SELECT 1 FROM ${carriedKinds} WHERE kind.class = a.class AND coalesce(a.attributes ->> kind.attribute, '') <> '')`);
}

/** How one asset stood otherwise than it should have. */
export interface Stale {
  readonly asset: string;
  readonly tag: string;
  readonly before: StandingEntity;
  readonly after: StandingEntity;
}

/**
 * Works out anew how every asset stands, some at a time: a start does so, because a crash, a restored copy or an older program may have left what is no
 * longer true.
 * @param stop asked between two lots whether to leave off
 * @returns the assets whose standing was not what it should have been
 */
export async function recomputeStanding(db: Database, stop: () => boolean = () => false): Promise<readonly Stale[]> {
  const stale: Stale[] = [];
  for (let last = ''; !stop();) {
    const lot = await db.transaction(async (tx) => {
      const found = await tx.select({ id: asset.id, tag: asset.tag }).from(asset).where(last === '' ? undefined : gt(asset.id, last)).orderBy(asc(asset.id)).limit(AT_ONCE); // prettier-ignore
      const ids = found.map((f) => f.id);
      await lockAssets(tx, ids);
      const held = () => tx.select().from(standing).where(sql`${standing.asset} = ANY(${sql.param(ids)}::uuid[])`); // prettier-ignore
      const before = new Map((await held()).map((s) => [s.asset, s]));
      await refreshStanding(tx, ids);
      const after = new Map((await held()).map((s) => [s.asset, s]));
      const moved = found.flatMap(({ id, tag }): Stale[] => {
        const [was, is] = [before.get(id), after.get(id)];
        return was && is && !isDeepStrictEqual(was, is) ? [{ asset: id, tag, before: was, after: is }] : [];
      });
      return { last: ids.at(-1), moved };
    });
    if (lot.last === undefined) break;
    last = lot.last;
    stale.push(...lot.moved);
  }
  return stale;
}

/** Until when what was filled in time may be used, by its rule: the core's table, in SQL. */
const usableLonger = sql`CASE o.filled ${sql.join(
  Object.entries(filledRules).map(([rule, { months }]) =>
    months === null ? sql`WHEN ${rule} THEN ${UNTIL_EMPTIED}::date` : sql`WHEN ${rule} THEN (o.due + ${months} * interval '1 month')::date`,
  ),
  sql` `,
)} ELSE o.due END`;
/** What a trigger waits for, and which of them come before it: the core's table, in SQL. */
const occasionWaitedFor = sql`CASE t.name ${sql.join(
  useTriggers.map((t) => sql`WHEN ${t} THEN ${useTriggerRules[t].occasion}`),
  sql` `,
)} END`;
const comesBefore = sql.join(
  useTriggers.filter((t) => useTriggerRules[t].before).map((t) => sql`${t}`),
  sql`, `,
);

/** Whether what happened asks for a check of `o` now. */
const askedByUse = sql`EXISTS (
  SELECT 1 FROM jsonb_array_elements_text(o.triggers) AS t(name)
  LEFT JOIN LATERAL (
    SELECT max(c.at) AS at FROM occasion c WHERE c.asset = a.id AND c.archived_at IS NULL AND c.kind = ${occasionWaitedFor}) c ON true
  WHERE CASE WHEN t.name IN (${comesBefore}) THEN o.last_done_at IS NULL OR o.last_done_at <= c.at
    ELSE c.at IS NOT NULL AND (o.last_done_at IS NULL OR o.last_done_at <= c.at) END)`;

/**
 * Whether the rules of a later run may take back what an earlier one found: the same rule set does, and that which the item owes, which an officer names. Any
 * other would let whoever tests choose the school that the item passes.
 */
const rulesRelease = sql`(later_run.rule_set = earlier_run.rule_set OR EXISTS (
  SELECT 1 FROM obligation w WHERE w.asset = a.id AND w.archived_at IS NULL AND w.procedure = later.procedure AND w.rule_set = later_run.rule_set))`;

/**
 * Whether a later run was opened when an earlier one was sealed already: by the station's one order. Of two that were carried out on one device while it was away the
 * order says nothing, for both were opened when it left: there the device's own clock tells which came after the other.
 */
const openedAfter = (sealed: SQL): SQL => sql`(later_run.opened_order > ${sealed} OR (later_run.along = earlier_run.along
  AND later_run.started_at > earlier_run.started_at + earlier_run.clock_ms * interval '1 millisecond' AND later_run.id <> earlier_run.id))`;

/** A pass of the same kind as a record `r`, of the same asset and by rules that release it, whose run was opened when that was sealed already. */
const passedSince = sql`EXISTS (
  SELECT 1 FROM record later JOIN run later_run ON later_run.id = later.run JOIN run_asset la ON la.run = later.run JOIN run earlier_run ON earlier_run.id = r.run
  WHERE la.asset = a.id AND later.procedure = r.procedure AND later.counts AND later.verdict = 'pass' AND ${openedAfter(sql`r.sealed_order`)} AND ${rulesRelease})`;

async function refresh(db: Queries, where: SQL): Promise<number> {
  const { rowCount } = await db.execute(sql`
    INSERT INTO standing (asset, condemned_by, blocked_by, held_by, life_ends, due, due_procedure, usable_until, usable_procedure, owed_now, owes, untested, last_record, last_verdict, last_word, last_on, used, archived)
    SELECT a.id, x.words, coalesce(b.summary, q.words, f.words, k.words), coalesce(h.words, g.words), least(a.life_ends, k.life_ends), coalesce(d.due, ${NEVER}::date), d.procedure, coalesce(e.until, ${NEVER}::date), e.procedure, u.procedure, o.any_owed,
      CASE WHEN o.any_owed THEN n.procedure WHEN NOT p.any_passed THEN ${ANYTHING} END,
      l.number, l.verdict, l.word, (l.sealed_at AT TIME ZONE z.zone)::date, coalesce(l.allowance_percent, ${NOT_MEASURED}), a.archived_at IS NOT NULL
    FROM asset a CROSS JOIN station z
    LEFT JOIN LATERAL (
      SELECT CASE
          WHEN p.id IS NULL THEN 'what it carries, ' || (a.attributes ->> kind.attribute) || ', is not in the register'
          WHEN p.practice AND NOT a.practice THEN 'what it carries, ' || p.tag || ', is for practice'
          WHEN coalesce(s.condemned_by, s.blocked_by, s.held_by) IS NOT NULL THEN 'what it carries, ' || p.tag || ': ' || coalesce(s.condemned_by, s.blocked_by, s.held_by)
          WHEN s.untested IS NOT NULL THEN 'what it carries, ' || p.tag || ', was never tested'
          WHEN s.owed_now IS NOT NULL THEN 'what it carries, ' || p.tag || ', has to be checked first' END AS words,
        s.life_ends, s.due, s.due_procedure, s.usable_until, s.usable_procedure
      FROM ${carriedKinds}
      LEFT JOIN asset p ON p.class = kind.carried AND p.tag = a.attributes ->> kind.attribute AND p.archived_at IS NULL
      LEFT JOIN standing s ON s.asset = p.id
      WHERE kind.class = a.class AND coalesce(a.attributes ->> kind.attribute, '') <> '' LIMIT 1) k ON true
    LEFT JOIN LATERAL (
      SELECT coalesce('condemned in ' || r.number || ': ' || nullif(r.summary, ''), 'condemned in ' || r.number)
        || CASE WHEN y.how = 'destroyed' THEN '; destroyed on ' || y."on" WHEN y.how IS NOT NULL THEN '; made unable to hold pressure on ' || y."on" ELSE '' END AS words
      FROM record r LEFT JOIN put_beyond_use y ON y.asset = a.id WHERE r.asset = a.id AND r.condemns AND r.counts ORDER BY r.sealed_order LIMIT 1) x ON true
    LEFT JOIN LATERAL (
      SELECT r.summary FROM record r JOIN run_asset ra ON ra.run = r.run
      WHERE ra.asset = a.id AND r.blocks AND r.counts AND NOT ${passedSince}
      ORDER BY r.sealed_order DESC LIMIT 1) b ON true
    LEFT JOIN LATERAL (
      SELECT 'its test came to no result: ' || coalesce(nullif(r.summary, ''), r.number) AS words FROM record r JOIN run_asset ra ON ra.run = r.run
      WHERE ra.asset = a.id AND r.holds AND r.counts AND NOT ${passedSince} AND NOT EXISTS (SELECT 1 FROM hold_lifted w WHERE w.record = r.number)
      ORDER BY r.sealed_order DESC LIMIT 1) h ON true
    LEFT JOIN LATERAL (
      SELECT 'its test was begun and is not finished' AS words FROM run JOIN run_asset ra ON ra.run = run.id
      WHERE ra.asset = a.id AND NOT run.closed AND run.begun AND (run.clock = 'live' OR a.practice) LIMIT 1) g ON true
    LEFT JOIN LATERAL (
      SELECT q.words FROM (
        SELECT run, asset, procedure, at, 'its last test was read with an instrument found out of tolerance: ' || words AS words FROM recalled WHERE changes
        UNION ALL SELECT run, asset, procedure, at, words FROM rig_doubted) q JOIN record first ON first.run = q.run
      WHERE q.asset = a.id AND NOT EXISTS (
        SELECT 1 FROM record later JOIN run later_run ON later_run.id = later.run JOIN run_asset la ON la.run = later.run JOIN run earlier_run ON earlier_run.id = q.run
        WHERE la.asset = a.id AND ${rulesRelease} AND later.procedure = q.procedure AND later.counts AND later.verdict = 'pass' AND later_run.opened_order > first.sealed_order
          AND NOT EXISTS (SELECT 1 FROM recalled doubtful WHERE doubtful.run = later.run AND doubtful.changes)
          AND NOT EXISTS (SELECT 1 FROM rig_doubted doubtful WHERE doubtful.run = later.run))
      ORDER BY q.at DESC LIMIT 1) q ON true
    LEFT JOIN LATERAL (
      SELECT 'failed in a run that is still open' AS words FROM run JOIN run_asset ra ON ra.run = run.id
      WHERE ra.asset = a.id AND NOT run.closed AND run.blocks LIMIT 1) f ON true
    LEFT JOIN LATERAL (
      SELECT o.due, o.procedure FROM obligation o WHERE o.asset = a.id AND o.archived_at IS NULL AND o.due IS NOT NULL
      UNION ALL SELECT i.calibration_due, ${CALIBRATION} FROM instrument i WHERE i.id = a.id AND i.calibration_due IS NOT NULL
      UNION ALL SELECT k.due, k.due_procedure WHERE k.due < ${NEVER}::date
      ORDER BY 1 LIMIT 1) d ON true
    LEFT JOIN LATERAL (
      SELECT max(c.at) FILTER (WHERE c.kind = 'filled') AS filled, max(c.at) FILTER (WHERE c.kind = 'emptied') AS emptied
      FROM occasion c WHERE c.asset = a.id AND c.kind IN ('filled', 'emptied') AND c.archived_at IS NULL) v ON true
    LEFT JOIN LATERAL (
      SELECT CASE WHEN v.filled IS NULL OR (v.filled AT TIME ZONE z.zone)::date > o.due OR v.emptied >= v.filled THEN o.due
          ELSE ${usableLonger} END AS until, o.procedure
      FROM obligation o WHERE o.asset = a.id AND o.archived_at IS NULL AND o.due IS NOT NULL
      UNION ALL SELECT i.calibration_due, ${CALIBRATION} FROM instrument i WHERE i.id = a.id AND i.calibration_due IS NOT NULL
      UNION ALL SELECT k.usable_until, k.usable_procedure WHERE k.usable_until < ${NEVER}::date
      ORDER BY 1 LIMIT 1) e ON true
    LEFT JOIN LATERAL (
      SELECT o.procedure FROM obligation o WHERE o.asset = a.id AND o.archived_at IS NULL AND ${askedByUse}
      ORDER BY o.procedure LIMIT 1) u ON true
    LEFT JOIN LATERAL (
      SELECT o.procedure FROM obligation o WHERE o.asset = a.id AND o.archived_at IS NULL AND o.last_done IS NULL AND NOT ${askedByUse}
      ORDER BY o.due, o.procedure LIMIT 1) n ON true
    LEFT JOIN LATERAL (
      SELECT EXISTS (SELECT 1 FROM record r JOIN run_asset ra ON ra.run = r.run WHERE ra.asset = a.id AND r.counts AND r.verdict = 'pass') AS any_passed) p ON true
    LEFT JOIN LATERAL (
      SELECT EXISTS (SELECT 1 FROM obligation o WHERE o.asset = a.id AND o.archived_at IS NULL)
        OR EXISTS (SELECT 1 FROM instrument i WHERE i.id = a.id) AS any_owed) o ON true
    LEFT JOIN LATERAL (
      SELECT r.* FROM record r JOIN run_asset ra ON ra.run = r.run WHERE ra.asset = a.id ORDER BY r.sealed_order DESC LIMIT 1) l ON true
    WHERE ${where}
    ON CONFLICT (asset) DO UPDATE SET condemned_by = excluded.condemned_by, blocked_by = excluded.blocked_by,
      held_by = excluded.held_by, untested = excluded.untested, life_ends = excluded.life_ends, due = excluded.due,
      due_procedure = excluded.due_procedure, usable_until = excluded.usable_until, usable_procedure = excluded.usable_procedure, owed_now = excluded.owed_now, owes = excluded.owes, last_record = excluded.last_record,
      last_verdict = excluded.last_verdict, last_word = excluded.last_word, last_on = excluded.last_on, used = excluded.used,
      archived = excluded.archived`);
  return rowCount ?? 0;
}

/** What an instrument owes stands where a procedure's name stands for everything else. */
const CALIBRATION = 'calibration';

const titleOf = (procedure: string | null): string | undefined => {
  if (procedure === null) return undefined;
  if (procedure === CALIBRATION) return 'Calibration';
  try {
    return publishedById(procedure).document.title;
  } catch {
    return procedure; // an officer's own procedure that is no longer published
  }
};

/** Whether an asset may be used on a day, and why not: the core's own answer. */
export function readinessOf(
  s: Pick<
    StandingEntity,
    'condemnedBy' | 'blockedBy' | 'heldBy' | 'lifeEnds' | 'due' | 'dueProcedure' | 'usableUntil' | 'usableProcedure' | 'owedNow' | 'owes' | 'untested'
  >,
  today: string,
): Ready {
  // What is late and may be used up is told only where nothing else forbids the use.
  const forbidden = s.usableUntil < today;
  const due = s.due === NEVER ? null : forbidden ? s.usableUntil : s.due;
  const dueTitle = titleOf(forbidden ? s.usableProcedure : s.dueProcedure);
  const titled = (procedure: string | null): { readonly title?: string } => {
    const title = titleOf(procedure);
    return title === undefined ? {} : { title };
  };
  const untested = s.untested === ANYTHING ? null : s.untested;
  const nothing = due === null && s.owedNow === null && untested === null;
  return readiness(
    {
      condemnedBy: s.condemnedBy,
      blockedBy: s.blockedBy,
      heldBy: s.heldBy,
      lifeEnds: s.lifeEnds,
      tested: s.untested !== ANYTHING,
      owes: [
        ...(due === null ? [] : [{ ...(dueTitle === undefined ? {} : { title: dueTitle }), dueOn: due, until: s.usableUntil, owedNow: false, never: false }]),
        ...(s.owedNow === null ? [] : [{ ...titled(s.owedNow), dueOn: null, owedNow: true, never: false }]),
        ...(untested === null ? [] : [{ ...titled(untested), dueOn: null, owedNow: false, never: true }]),
        ...(s.owes && nothing ? [{ dueOn: null, owedNow: false, never: false }] : []),
      ],
    },
    today,
  );
}

/** The same answer as a condition, in the order of gravity, so that an index can find who is in a state. */
export const inState = (state: Readiness, today: string): SQL => inStateOn(state, today, addDays(today, DUE_SOON_DAYS));

/**
 * The same for a query that is prepared before the day is known.
 * @param soon the last day of what falls due
 */
export function inStateOn(state: Readiness, today: string | Placeholder, soon: string | Placeholder): SQL {
  const { condemnedBy, blockedBy, heldBy, lifeEnds, due, usableUntil, owedNow, untested } = standing;
  const lives = sql`(${lifeEnds} IS NULL OR ${lifeEnds} >= ${today}::date)`;
  const whole = sql`(${condemnedBy} IS NULL AND ${blockedBy} IS NULL AND ${lives})`;
  const free = sql`(${whole} AND ${heldBy} IS NULL)`;
  const passed = sql`(${free} AND ${untested} IS NULL)`;
  switch (state) {
    case 'condemned':
      return sql`${condemnedBy} IS NOT NULL`;
    case 'blocked':
      return sql`(${blockedBy} IS NOT NULL OR ${lifeEnds} < ${today}::date) AND ${condemnedBy} IS NULL`;
    case 'heldBack':
      return sql`${heldBy} IS NOT NULL AND ${whole}`;
    case 'overdue':
      return sql`${due} < ${today}::date AND ${usableUntil} < ${today}::date AND ${free}`;
    case 'neverTested':
      return sql`${untested} IS NOT NULL AND ${usableUntil} >= ${today}::date AND ${free}`;
    case 'checkFirst':
      return sql`${owedNow} IS NOT NULL AND ${usableUntil} >= ${today}::date AND ${passed}`;
    case 'useUp':
      return sql`${due} < ${today}::date AND ${usableUntil} > ${due} AND ${usableUntil} >= ${today}::date AND ${owedNow} IS NULL AND ${passed}`;
    case 'due':
      return sql`${due} BETWEEN ${today}::date AND ${soon}::date AND ${owedNow} IS NULL AND ${passed}`;
    case 'ready':
      return sql`${due} > ${soon}::date AND ${owedNow} IS NULL AND ${passed}`;
  }
}
