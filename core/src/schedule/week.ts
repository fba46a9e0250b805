import { addDays, daysBetween } from './interval';

/** A Monday: weeks are counted from it, so that a week is one whole number. */
const MONDAY = '1970-01-05';

/** The week that a date lies in, counted from 1970's first Monday; weeks begin on Monday (ISO 8601). @example weekOf('1970-01-12') // 1 */
export function weekOf(date: string): number {
  return Math.floor(daysBetween(MONDAY, date) / 7);
}

/** The Monday of a week. @example mondayOf(1) // '1970-01-12' */
export function mondayOf(week: number): string {
  return addDays(MONDAY, week * 7);
}

/**
 * The weeks that a test may be done in: from the first with a working day (Monday to Friday) within its early days, to the one it is due in. What is late
 * already can only be done now.
 * @param earlyDays how many days before it is due it may be done
 * @example weeksToTest('2026-12-02', '2026-11-25', 14) // { from: weekOf('2026-11-25'), due: weekOf('2026-12-02') }
 */
export function weeksToTest(dueOn: string, today: string, earlyDays: number): { readonly from: number; readonly due: number } {
  const due = Math.max(weekOf(dueOn), weekOf(today));
  let first = addDays(dueOn, -earlyDays);
  if (first < today) first = today;
  // A window that opens on a weekend opens on the Monday after it.
  const weekday = ((daysBetween(MONDAY, first) % 7) + 7) % 7;
  const from = weekOf(weekday >= 5 ? addDays(first, 7 - weekday) : first);
  return { from: Math.min(from, due), due };
}
