import type { AssetRow, Some, TodayView } from '@grellin/contract';
import { addDays, daysBetween } from '@grellin/core';
import { and, asc, eq, isNull, lte, type SQL } from 'drizzle-orm';
import { assetRow } from '../asset/store';
import { asset } from '../asset/table';
import type { Queries } from '../db/database';
import { instrument } from '../instrument/table';
import { listKits } from '../kit/store';
import { openRuns } from '../run/store';
import { inState } from '../standing/store';
import { standing } from '../standing/table';

/** An instrument is named this many days before its calibration runs out. */
const CALIBRATION_AHEAD_DAYS = 30;
/** As many lines as somebody reads in the morning; the register has the rest. */
const MOST_LINES = 40;

async function some(db: Queries, today: string, condition: SQL): Promise<Some<AssetRow>> {
  const found = await db
    .select({ asset, standing })
    .from(standing)
    .innerJoin(asset, eq(standing.asset, asset.id))
    .where(and(eq(standing.archived, false), condition))
    .orderBy(asc(standing.due), asc(standing.asset))
    .limit(MOST_LINES + 1);
  return { rows: found.slice(0, MOST_LINES).map((f) => assetRow(f.asset, f.standing, today)), more: found.length > MOST_LINES };
}

/** The morning look: what may not be used, what is late, what falls due, what goes out, what is running. */
export async function todayView(db: Queries, date: string): Promise<TodayView> {
  const gauges = await db
    .select()
    .from(instrument)
    .where(and(isNull(instrument.fittedTo), lte(instrument.calibrationDue, addDays(date, CALIBRATION_AHEAD_DAYS))))
    .orderBy(asc(instrument.calibrationDue))
    .limit(MOST_LINES);
  const [blocked, overdue, due, kits, running] = await Promise.all([
    some(db, date, inState('blocked', date)),
    some(db, date, inState('overdue', date)),
    some(db, date, inState('due', date)),
    listKits(db, date),
    openRuns(db),
  ]);
  return {
    date,
    blocked,
    overdue,
    due,
    kits,
    running,
    instruments: gauges.map((g) => ({ id: g.id, tag: g.tag, title: g.title, calibrationDue: g.calibrationDue ?? date, days: daysBetween(date, g.calibrationDue ?? date) })), // prettier-ignore
  };
}
