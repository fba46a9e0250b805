import type { AssetRow, Readiness, Some, TodayView } from '@grellin/contract';
import { addDays, daysBetween, DUE_SOON_DAYS, INSTRUMENT_CLASS } from '@grellin/core';
import { and, asc, eq, ne, sql, type SQL } from 'drizzle-orm';
import { asset, preparedOnce, type Queries, standing } from '../../db';
import { inStateOn } from '../../standing';
import { assetRow } from '../../register/item';
import { listKits } from '../../register/kit';
import { fallingDue } from '../../register/instrument';
import { openRuns } from '../../run';

/** An instrument is named this many days before its calibration runs out. */
const CALIBRATION_AHEAD_DAYS = 30;
/** As many lines as somebody reads in the morning; the register has the rest. */
const MOST_LINES = 40;

/** The items in a state, asked for every morning by everybody. */
const itemsIn = (state: Readiness, more?: SQL) =>
  preparedOnce((db) =>
    db
      .select({ asset, standing })
      .from(standing)
      .innerJoin(asset, eq(standing.asset, asset.id))
      .where(and(eq(standing.archived, false), inStateOn(state, sql.placeholder('today'), sql.placeholder('soon')), more))
      .orderBy(asc(standing.due), asc(standing.asset))
      .limit(MOST_LINES + 1)
      .prepare(`today_${state}`),
  );
const untested = ne(asset.class, INSTRUMENT_CLASS);
const notPutAway = sql`NOT EXISTS (SELECT 1 FROM put_beyond_use y WHERE y.asset = ${asset.id})`;
const states = {
  blocked: itemsIn('blocked'),
  condemned: itemsIn('condemned', notPutAway),
  heldBack: itemsIn('heldBack'),
  neverTested: itemsIn('neverTested', untested),
  checkFirst: itemsIn('checkFirst', untested),
  overdue: itemsIn('overdue', untested),
  useUp: itemsIn('useUp'),
  due: itemsIn('due', untested),
} as const;

async function some(db: Queries, today: string, state: keyof typeof states): Promise<Some<AssetRow>> {
  const found = await states[state](db).execute({ today, soon: addDays(today, DUE_SOON_DAYS) });
  return { rows: found.slice(0, MOST_LINES).map((f) => assetRow(f.asset, f.standing, today)), more: found.length > MOST_LINES };
}

/** The morning look: what may not be used, what is late, what falls due, what goes out, what is running. */
export async function todayView(db: Queries, date: string): Promise<TodayView> {
  const [blocked, condemned, heldBack, neverTested, checkFirst, overdue, useUp, due, gauges, kits, running] = await Promise.all([
    some(db, date, 'blocked'),
    some(db, date, 'condemned'),
    some(db, date, 'heldBack'),
    some(db, date, 'neverTested'),
    some(db, date, 'checkFirst'),
    some(db, date, 'overdue'),
    some(db, date, 'useUp'),
    some(db, date, 'due'),
    fallingDue(db, addDays(date, CALIBRATION_AHEAD_DAYS), MOST_LINES),
    listKits(db, date),
    openRuns(db),
  ]);
  return {
    date,
    blocked,
    condemned,
    heldBack,
    neverTested,
    checkFirst,
    overdue,
    useUp,
    due,
    kits,
    running,
    instruments: gauges.map(({ id, tag, title, calibrationDue: on }) => ({ id, tag, title, calibrationDue: on ?? date, days: daysBetween(date, on ?? date) })),
  };
}
