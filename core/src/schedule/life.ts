import { addInterval, endOfMonth } from './interval';

/**
 * The last day that a month stamp stands for: `YYYY-MM` plus an interval is valid through the end of that month.
 * @example stampValidThrough('2021-03', 'P5Y') // '2026-03-31'
 */
export function stampValidThrough(stamp: string, interval: string): string {
  if (!/^\d{4}-\d{2}$/.test(stamp)) throw new RangeError(`not a month stamp: ${stamp}`);
  return endOfMonth(addInterval(`${stamp}-01`, interval));
}

/**
 * What life an item still has: its end by date of manufacture, or null where it is not limited.
 * @example lifeEnd('2018-05', 'P12Y') // '2030-05-31'
 */
export function lifeEnd(manufactured: string, life: string | null): string | null {
  if (life === null) return null;
  return /^\d{4}-\d{2}$/.test(manufactured) ? stampValidThrough(manufactured, life) : addInterval(manufactured, life);
}

/**
 * Whether something is still on time: the due day itself is.
 * @example onTime('2026-11-28', '2026-11-28') // true
 */
export function onTime(dueOn: string, on: string): boolean {
  return on <= dueOn;
}
