import { Temporal } from 'temporal-polyfill';
import { filledRules, type FilledRule } from './filled';
import { addInterval, durationOf, endOfMonth } from './interval';
import { useTriggers, type UseTrigger } from './use';

/** How the next due day follows from a test, in words for a person to choose from. */
export const countings = {
  /** From the day it was done. */
  rolling: 'from the day it was done',
  /** By whole intervals from a fixed day, so that it cannot drift. */
  anchored: 'on fixed days',
  /**
   * Keeps the day when it was done within `early` before it, and takes the day it was done as the new one when it was done earlier or late, so that no gap
   * grows past interval and window.
   */
  window: 'keeping its day, where it was done not too early',
  /** One interval after its anchor, and never again. */
  once: 'once, and never again',
} as const;
export type Counting = keyof typeof countings;

/** A month stamp is due at the end of its month; a day is due on the day. */
export const stamps = { day: 'the day', month: 'the month: due at its end' } as const;
export type Stamp = keyof typeof stamps;

/**
 * When a check is owed: the one rule that a class's usual checks, an item's obligations, the API, the forms and the plan speak of. The database's columns and
 * the contract's schema are held against it by the compiler; what standing reads of it in SQL is generated from the same tables.
 */
export interface DueRule {
  /** ISO 8601 duration of years, months, weeks and days; null where only what happens makes it owed. */
  readonly interval: string | null;
  readonly counting: Counting;
  /** ISO date that it is counted from. */
  readonly anchor: string;
  /** ISO 8601 duration: how early it may be done and keep its day. */
  readonly early: string | null;
  readonly stamp: Stamp;
  readonly triggers: readonly UseTrigger[];
  /** What was filled before it fell due may be emptied. */
  readonly filled: FilledRule | null;
  /** A law's date: it cannot be put off. */
  readonly hard: boolean;
}

/** What a rule is where nothing is said. */
export const usualRule = { counting: 'rolling', early: null, stamp: 'day', triggers: [], filled: null, hard: false } as const satisfies Partial<DueRule>;

/**
 * The rule alone, of whatever carries one.
 * @example ruleOf({ ...usualRule, interval: 'P1Y', anchor: '2026-01-31' }).counting // 'rolling'
 */
export function ruleOf({ interval, counting, anchor, early, stamp, triggers, filled, hard }: DueRule): DueRule {
  return { interval, counting, anchor, early, stamp, triggers, filled, hard };
}

/** The words that each choice of a rule has, for schemas and forms. */
export const dueChoices = { counting: countings, stamp: stamps, triggers: useTriggers, filled: filledRules } as const;

/** What of a rule the calendar counts by. */
export type CalendarRule = Pick<DueRule, 'interval' | 'counting' | 'anchor' | 'early' | 'stamp'>;

/** A day by the rule's stamp: itself, or the last of its month. */
const stamped = (rule: CalendarRule, day: string): string => (rule.stamp === 'month' ? endOfMonth(day) : day);

function times(duration: Temporal.Duration, n: number): Temporal.Duration {
  return Temporal.Duration.from({ years: duration.years * n, months: duration.months * n, weeks: duration.weeks * n, days: duration.days * n });
}

/** The first of the days anchor + n · interval after a day, never counted from a clamped date. */
function nextFixed(interval: string, anchorDay: string, doneOn: string): string {
  const step = durationOf(interval);
  const done = Temporal.PlainDate.from(doneOn);
  const anchor = Temporal.PlainDate.from(anchorDay);
  // An estimate that cannot be too large, then a walk: a daily interval over decades must not take thousands of steps.
  const longest = step.years * 366 + step.months * 31 + step.weeks * 7 + step.days;
  let n = Math.max(1, Math.floor(anchor.until(done).days / longest));
  while (Temporal.PlainDate.compare(anchor.add(times(step, n)), done) <= 0) n++;
  return anchor.add(times(step, n)).toString();
}

/**
 * The first day on which a test counts for a due day: within the early window; null where any day does.
 * @example earliestFor({ early: 'P1M' }, '2025-03-15') // '2025-02-15'
 */
export function earliestFor(rule: Pick<DueRule, 'early'>, dueOn: string): string | null {
  return rule.early === null ? null : Temporal.PlainDate.from(dueOn).subtract(durationOf(rule.early)).toString();
}

/**
 * The due day after a test. A day that a month lacks becomes its last day.
 * Source: Regulation (EEC, Euratom) 1182/71 art. 3(2)(c) for the missing day, from memory; the countings are common practice.
 * @param doneOn ISO date
 * @param dueOn the day it had been due, where there was one; a window rule needs it
 * @returns ISO date; null where no calendar counts, or nothing comes after it
 * @throws RangeError on a malformed interval or date
 * @example dueAfter({ ...usualRule, interval: 'P5Y', anchor: '2021-01-01', stamp: 'month' }, '2021-03-09', null) // '2026-03-31'
 * @example dueAfter({ ...usualRule, interval: 'P1Y', anchor: '2024-03-15', counting: 'window', early: 'P1M' }, '2025-02-20', '2025-03-15') // '2026-03-15'
 * @example dueAfter({ ...usualRule, interval: 'P1M', counting: 'anchored', anchor: '2025-01-31' }, '2025-02-28', null) // '2025-03-31'
 * @example dueAfter({ ...usualRule, interval: 'P1Y', counting: 'anchored', anchor: '2020-06-30', early: 'P3M' }, '2025-05-02', '2025-06-30') // '2026-06-30'
 */
export function dueAfter(rule: CalendarRule, doneOn: string, dueOn: string | null): string | null {
  const { interval } = rule;
  if (interval === null) return null;
  switch (rule.counting) {
    case 'rolling':
      return stamped(rule, addInterval(doneOn, interval));
    case 'anchored': {
      // Done inside its early window it counts for the day it was due; late, the days stay where they are.
      const opens = dueOn === null || rule.early === null ? null : earliestFor(rule, dueOn);
      const counts = dueOn !== null && opens !== null && doneOn >= opens && doneOn <= dueOn;
      return stamped(rule, nextFixed(interval, rule.anchor, counts ? dueOn : doneOn));
    }
    case 'window': {
      const opens = dueOn === null ? null : earliestFor(rule, dueOn);
      const keeps = dueOn !== null && doneOn <= dueOn && (opens === null || doneOn >= opens);
      return stamped(rule, addInterval(keeps ? dueOn : doneOn, interval));
    }
    case 'once':
      return null;
  }
}

/**
 * The day from which something is owed that an item never had done: what comes round in years is counted from when it was made, since nobody knows of a
 * later test; anything more often from today.
 * @param madeOn ISO day or month, or null where it is not known
 * @example firstAnchor('P5Y', '2021-03', '2026-11-28') // '2021-03-01'
 * @example firstAnchor('P1M', '2021-03', '2026-11-28') // '2026-11-28'
 */
export function firstAnchor(interval: string | null, madeOn: string | null, today: string): string {
  if (interval === null || madeOn === null) return today;
  const every = durationOf(interval);
  const made = madeOn.length === 7 ? `${madeOn}-01` : madeOn;
  return every.years * 12 + every.months >= 12 && made < today ? made : today;
}

/**
 * The first due day of what has never been done: one interval after its anchor, which for an anchored rule is the next one of its days.
 * @example firstDue({ ...usualRule, interval: 'P1Y', anchor: '2026-01-31' }) // '2027-01-31'
 */
export function firstDue(rule: CalendarRule): string | null {
  return rule.interval === null ? null : dueAfter({ ...rule, counting: rule.counting === 'once' ? 'rolling' : rule.counting }, rule.anchor, null);
}
