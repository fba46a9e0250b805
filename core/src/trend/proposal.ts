import { addDays, daysBetween } from '../schedule';
import { trendOf } from './trend';

/** One test of an item: the day, and how much of its allowance it used, per cent. */
export interface UsedOn {
  readonly on: string;
  readonly percent: number;
}

/** How an item's use of its allowance goes on if nothing is done. Days are ISO dates; null where none can be named. */
export interface Outlook {
  readonly n: number;
  /** Per cent of the allowance a year. */
  readonly perYear: number;
  /** The day on which the line reaches the whole allowance, with its 95 % interval. */
  readonly crosses: string | null;
  readonly low: string | null;
  readonly high: string | null;
  /** Not before this day, at 95 %. */
  readonly earliest: string | null;
  /** A date may be named: the slope is no accident, and the day is no further off than the tests reach back. */
  readonly stands: boolean;
  /** The day to test it by, where that is before it is due: what the officer is asked to accept. */
  readonly propose: string | null;
}

const LEAST_TESTS = 3;

/**
 * What the tests of an item foretell. Begin anew after a repair.
 * @param history in order of days
 * @param today ISO date; nothing is proposed before it
 * @param due the day that its next test is due, or null
 * @returns null for fewer than three tests on different days
 * @example outlook([{ on: '2024-01-01', percent: 40 }, { on: '2025-01-01', percent: 60 }, { on: '2026-01-01', percent: 80 }], '2026-01-02', null)?.crosses // '2027-01-01'
 */
export function outlook(history: readonly UsedOn[], today: string, due: string | null): Outlook | null {
  const first = history[0]?.on;
  if (first === undefined || history.length < LEAST_TESTS || new Set(history.map((h) => h.on)).size < LEAST_TESTS) return null;
  const trend = trendOf(history.map((h) => ({ day: daysBetween(first, h.on), used: h.percent / 100 })));
  const dayOf = (day: number | null): string | null => (day === null || Math.abs(day) > 40_000 ? null : addDays(first, Math.floor(day)));
  const { crossing } = trend;
  const earliest = dayOf(crossing.earliest);
  const early = trend.dateStands && earliest !== null && due !== null && earliest < due;
  return {
    n: trend.n,
    perYear: Number((trend.line.slope * 36_525).toPrecision(3)),
    crosses: dayOf(crossing.day),
    low: dayOf(crossing.low),
    high: dayOf(crossing.high),
    earliest,
    stands: trend.dateStands,
    propose: early ? (earliest < today ? today : earliest) : null,
  };
}
