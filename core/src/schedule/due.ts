import { Temporal } from 'temporal-polyfill';

/** How the next due date follows from what was done. */
export interface IntervalRule {
  /** ISO 8601 duration of years, months, weeks and days, for example `P1Y`. */
  readonly interval: string;
  /** `rolling` counts from the day it was done; `anchored` counts whole intervals from a fixed day, so that it cannot drift. */
  readonly counting: 'rolling' | 'anchored';
  /** ISO date; the fixed day of an anchored rule. */
  readonly anchor: string;
}

/** Nothing lives, and no test waits, so long: beyond it a typed interval is a slip, and dates counted by it would leave the calendar. */
const LONGEST_YEARS = 100;

/** Whether a text is a calendar interval that dates can be counted by: not empty, not negative, no hours, not over a hundred years. */
export function isInterval(text: string): boolean {
  try {
    const d = Temporal.Duration.from(text);
    const years = d.years + d.months / 12 + d.weeks / 52 + d.days / 365;
    return d.sign > 0 && years <= LONGEST_YEARS && d.hours === 0 && d.minutes === 0 && d.seconds === 0 && d.milliseconds === 0;
  } catch {
    return false;
  }
}

function interval(rule: IntervalRule): Temporal.Duration {
  if (!isInterval(rule.interval)) throw new RangeError(`not a calendar interval: ${rule.interval}`);
  return Temporal.Duration.from(rule.interval);
}

function times(duration: Temporal.Duration, n: number): Temporal.Duration {
  return Temporal.Duration.from({ years: duration.years * n, months: duration.months * n, weeks: duration.weeks * n, days: duration.days * n });
}

/**
 * The next due date after a test was done. A day that a month lacks becomes its last day; an anchored rule counts anchor + n · interval,
 * never from a clamped date. Source: Regulation (EEC, Euratom) 1182/71 art. 3(2)(c) for the missing day, from memory.
 * @param doneOn ISO date
 * @returns ISO date
 * @throws RangeError on a malformed interval or date
 * @example nextDue({ interval: 'P1M', counting: 'anchored', anchor: '2025-01-31' }, '2025-02-28') // '2025-03-31'
 */
export function nextDue(rule: IntervalRule, doneOn: string): string {
  const step = interval(rule);
  const done = Temporal.PlainDate.from(doneOn);
  if (rule.counting === 'rolling') return done.add(step).toString();
  const anchor = Temporal.PlainDate.from(rule.anchor);
  // An estimate that cannot be too large, then a walk: a daily interval over decades must not take thousands of steps.
  const longest = step.years * 366 + step.months * 31 + step.weeks * 7 + step.days;
  let n = Math.max(1, Math.floor(anchor.until(done).days / longest));
  while (Temporal.PlainDate.compare(anchor.add(times(step, n)), done) <= 0) n++;
  return anchor.add(times(step, n)).toString();
}

/** Whole days from one ISO date to another; negative when the second is earlier. */
export function daysBetween(from: string, to: string): number {
  return Temporal.PlainDate.from(from).until(Temporal.PlainDate.from(to)).days;
}

/** A date some days on. */
export function addDays(date: string, days: number): string {
  return Temporal.PlainDate.from(date).add({ days }).toString();
}
