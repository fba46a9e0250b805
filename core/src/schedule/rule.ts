import { Temporal } from 'temporal-polyfill';
import { isInterval, nextDue } from './due';

/** A calendar rule with everything that the trade's rules differ in. */
export interface ScheduleRule {
  /** ISO 8601 duration of years, months, weeks and days. */
  readonly interval: string;
  /**
   * `rolling` from the day it was done; `anchored` by whole intervals from a fixed day; `window` keeps the anchor when it was done within `early` before the
   * due day, and takes the day it was done as the new anchor when it was done earlier or late, so that no gap grows past interval and window.
   */
  readonly counting: 'rolling' | 'anchored' | 'window';
  /** ISO date: the fixed day of an anchored rule. */
  readonly anchor?: string;
  /** ISO 8601 duration; how early it may be done and keep its anchor. */
  readonly early?: string;
  /** A month stamp is due at the end of its month; a day is due on the day. */
  readonly stamp: 'day' | 'month';
}

const date = (text: string): Temporal.PlainDate => Temporal.PlainDate.from(text);

/** The last day of a date's month. */
export function endOfMonth(day: string): string {
  const d = date(day);
  return d.with({ day: d.daysInMonth }).toString();
}

/** A day by the rule's stamp: itself, or the last of its month. */
function stamped(rule: ScheduleRule, day: string): string {
  return rule.stamp === 'month' ? endOfMonth(day) : day;
}

/** Intervals that were read before: a register of a hundred thousand dates has a dozen of them, and reading one costs more than adding it. */
const read = new Map<string, Temporal.Duration>();
const MOST_KEPT = 200;

function durationOf(interval: string): Temporal.Duration {
  const kept = read.get(interval);
  if (kept) return kept;
  if (!isInterval(interval)) throw new RangeError(`not a calendar interval: ${interval}`);
  const duration = Temporal.Duration.from(interval);
  if (read.size < MOST_KEPT) read.set(interval, duration);
  return duration;
}

function add(day: string, interval: string): string {
  return date(day).add(durationOf(interval)).toString();
}

/** The first day on which a test counts for a due day: within the early window, or any day where there is none. */
export function earliestFor(rule: ScheduleRule, dueOn: string): string | null {
  return rule.early === undefined ? null : date(dueOn).subtract(Temporal.Duration.from(rule.early)).toString();
}

/**
 * The due day after a test.
 * @param dueOn the day it had been due, where there was one; a window rule needs it
 * @throws RangeError on a malformed interval, or an anchored rule without its anchor
 * @example dueAfter({ interval: 'P5Y', counting: 'rolling', stamp: 'month' }, '2021-03-09') // '2026-03-31'
 * @example dueAfter({ interval: 'P1Y', counting: 'window', early: 'P1M', stamp: 'day' }, '2025-02-20', '2025-03-15') // '2026-03-15'
 */
export function dueAfter(rule: ScheduleRule, doneOn: string, dueOn?: string): string {
  if (rule.counting === 'rolling') return stamped(rule, add(doneOn, rule.interval));
  if (rule.counting === 'anchored') {
    if (rule.anchor === undefined) throw new RangeError('an anchored rule needs its anchor');
    return stamped(rule, nextDue({ interval: rule.interval, counting: 'anchored', anchor: rule.anchor }, doneOn));
  }
  const opens = dueOn === undefined ? null : earliestFor(rule, dueOn);
  const keeps = dueOn !== undefined && doneOn <= dueOn && (opens === null || doneOn >= opens);
  return stamped(rule, add(keeps ? dueOn : doneOn, rule.interval));
}

/**
 * The last day that a month stamp stands for: `YYYY-MM` plus an interval is valid through the end of that month.
 * @example stampValidThrough('2021-03', 'P5Y') // '2026-03-31'
 */
export function stampValidThrough(stamp: string, interval: string): string {
  if (!/^\d{4}-\d{2}$/.test(stamp)) throw new RangeError(`not a month stamp: ${stamp}`);
  return endOfMonth(add(`${stamp}-01`, interval));
}

/** What life an item still has: its end by date of manufacture, or null where it is not limited. */
export function lifeEnd(manufactured: string, life: string | null): string | null {
  if (life === null) return null;
  return /^\d{4}-\d{2}$/.test(manufactured) ? stampValidThrough(manufactured, life) : add(manufactured, life);
}

/** Whether something is still on time: the due day itself is. */
export function onTime(dueOn: string, on: string): boolean {
  return on <= dueOn;
}

/** When something is owed besides by the calendar. */
export type UseTrigger = 'onReceipt' | 'beforeUse' | 'afterUse' | 'afterRepair' | 'afterDelivery' | 'beforeFumigation';

/** What can make a check owed. */
export type AskingOccasion = 'received' | 'used' | 'repaired' | 'delivered' | 'fumigated';
/** What happens to an item: what makes a check owed, and what goes into it and comes out. */
export type OccasionKind = AskingOccasion | 'filled' | 'emptied';

/** What each trigger waits for, and whether the check comes before it: then it is owed until it was done since the last time. */
const waitsFor: Readonly<Record<UseTrigger, { readonly occasion: AskingOccasion; readonly before: boolean; readonly words: string }>> = {
  onReceipt: { occasion: 'received', before: false, words: 'on receipt' },
  beforeUse: { occasion: 'used', before: true, words: 'before use' },
  afterUse: { occasion: 'used', before: false, words: 'after use' },
  afterRepair: { occasion: 'repaired', before: false, words: 'after repair' },
  afterDelivery: { occasion: 'delivered', before: false, words: 'after delivery' },
  beforeFumigation: { occasion: 'fumigated', before: true, words: 'before fumigation' },
};

export const useTriggers: readonly UseTrigger[] = Object.keys(waitsFor) as UseTrigger[];
export const occasionKinds: readonly OccasionKind[] = [...new Set(Object.values(waitsFor).map((w) => w.occasion)), 'filled', 'emptied'];

/** A trigger in words. @example triggerInWords('afterUse') // 'after use' */
export function triggerInWords(trigger: UseTrigger): string {
  return waitsFor[trigger].words;
}

/** What has happened to an item, the newest of each kind: ISO instants or dates of one kind, or null. What is left out never happened. */
export interface ItemHistory extends Readonly<Partial<Record<OccasionKind, string | null>>> {
  readonly done: string | null;
}

/**
 * Whether a check is owed by what happened: before use, unless it was done after the last use; after use, repair, receipt or a delivery, until it was done
 * after it.
 * @example owedByUse('afterUse', { done: '2026-01-01', used: '2026-02-01', repaired: null }) // true
 */
export function owedByUse(trigger: UseTrigger, history: ItemHistory): boolean {
  const { occasion, before } = waitsFor[trigger];
  const { done } = history;
  const since = history[occasion] ?? null;
  if (before) return done === null || (since !== null && done <= since);
  return since !== null && (done === null || done <= since);
}

/** How a rule treats a cylinder or tank that was filled before its test fell due. */
export type FilledRule = 'untilEmptied' | 'months' | 'blocked';

/** May it be filled on a day? Up to the due day, and not after. */
export function mayBeFilled(dueOn: string, on: string): boolean {
  return on <= dueOn;
}

/** The last day of what has no last day: as long as what is in it lasts. It sorts after every other. */
export const UNTIL_EMPTIED = '9999-12-31';

/** How long after the due day the rule `months` lets it be used. */
export const FILLED_MONTHS = 3;

/**
 * The last day on which it may be used, or carried, because it was filled before its test fell due; the due day where it was not, or was emptied since.
 * @param filled when it was last filled, an ISO date or instant; null where nobody noted it
 * @param emptied the same of its emptying
 * @example usableUntil('untilEmptied', '2026-03-31', '2026-03-20', null) // '9999-12-31'
 * @example usableUntil('months', '2026-03-31', '2026-03-20', null) // '2026-06-30'
 */
export function usableUntil(rule: FilledRule | null, dueOn: string, filled: string | null, emptied: string | null): string {
  if (rule === null || rule === 'blocked' || filled === null || filled.slice(0, 10) > dueOn || (emptied !== null && emptied >= filled)) return dueOn;
  return rule === 'untilEmptied' ? UNTIL_EMPTIED : date(dueOn).add({ months: FILLED_MONTHS }).toString();
}

/**
 * Hours from one instant to another, for preconditions such as eight hours since the last delivery.
 * @throws RangeError for what is no ISO 8601 instant
 * @example hoursBetween('2026-11-25T00:00:00Z', '2026-11-25T08:30:00Z') // 8.5
 */
export function hoursBetween(from: string, to: string): number {
  return Temporal.Instant.from(from).until(Temporal.Instant.from(to)).total('hours');
}

/** Whether a moment lies between sunset and half an hour after sunrise, each an ISO instant. Source: CARB TP-201.3, from memory. */
export function withinNight(at: string, sunset: string, sunrise: string): boolean {
  return hoursBetween(sunset, at) >= 0 && hoursBetween(at, sunrise) >= -0.5;
}
