import { sql } from 'drizzle-orm';
import type { ClockReading } from '../base';
import type { ClockSeen, Queries } from '../db';
import type { RunEntity } from './history';

/** What a run's clock shows. */
export interface RunClock {
  readonly atMs: number;
  /** How far a clock was set ahead (above 0) or back (below) since the newest event, ms; 0 where they agree. */
  readonly stepMs: number;
}

/** Clocks that part by less are only less exact. */
const STEP_MS = 1000;
/** What the database's clock shows, in SQL. */
export const DATABASE_MS = '(extract(epoch FROM clock_timestamp()) * 1000)::bigint';
const databaseMs = sql.raw(DATABASE_MS);

/** What to store of a reading, completed by the database. */
export const asSeen = (reading: ClockReading) => sql<ClockSeen>`${JSON.stringify(reading)}::jsonb || jsonb_build_object('databaseMs', ${databaseMs})`;

/**
 * What passed since a run's newest event, as far as two clocks agree on it. On the machine that stored it the steady clock tells, whatever the hour was
 * set to; elsewhere the lesser of this machine's hour and the database's: no hold is over because a clock was set ahead. A machine that was started anew
 * has nothing but an hour that may have been set meanwhile, its database's with it: that is a step, whatever it shows.
 * @param seen null for a run of the edition before, which knew the hour of its beginning only
 */
export function passedSince(
  seen: ClockSeen | null,
  now: ClockReading,
  from: { readonly startedMs: number; readonly clockMs: number; readonly databaseMs: number | null },
): RunClock {
  const hour = now.wallMs - (seen ? seen.wallMs : from.startedMs + from.clockMs);
  const steady = seen?.host === now.host && seen.start === now.start;
  const other = seen === null ? hour : steady ? now.steadyMs - seen.steadyMs : (from.databaseMs ?? seen.databaseMs) - seen.databaseMs;
  const passed = Math.max(0, steady ? other : Math.min(hour, other));
  const step = [hour - passed, other - passed].reduce((most, s) => (Math.abs(s) > Math.abs(most) ? s : most));
  const unknown = seen !== null && seen.host === now.host && !steady;
  return { atMs: from.clockMs + passed, stepMs: Math.abs(step) > STEP_MS ? Math.round(step) : unknown ? Math.max(1, Math.round(passed)) : 0 };
}

/** Reads a run's clock. It never goes back. */
export async function runClock(db: Queries, entity: RunEntity, now: ClockReading): Promise<RunClock> {
  const seen = entity.clockSeen;
  const from = { startedMs: entity.startedAt.getTime(), clockMs: entity.clockMs };
  if (seen === null || (seen.host === now.host && seen.start === now.start)) return passedSince(seen, now, { ...from, databaseMs: null });
  const { rows } = await db.execute<{ ms: string }>(sql`SELECT ${databaseMs} AS ms`);
  return passedSince(seen, now, { ...from, databaseMs: Number(rows[0]?.ms) });
}

/** How much time has passed since a moment that was seen, ms: as `passedSince` has it, the least that the clocks agree on. A step of one of them is no more than that. */
export async function elapsedSince(db: Queries, seen: ClockSeen, at: Date, now: ClockReading): Promise<number> {
  const { rows } = await db.execute<{ ms: string }>(sql`SELECT ${databaseMs} AS ms`);
  return passedSince(seen, now, { startedMs: at.getTime(), clockMs: 0, databaseMs: Number(rows[0]?.ms) }).atMs;
}
