import { Temporal } from 'temporal-polyfill';

/** Nothing lives, and no test waits, so long: beyond it a typed interval is a slip, and dates counted by it would leave the calendar. */
const LONGEST_YEARS = 100;

/**
 * Whether a text is a calendar interval that dates can be counted by: not empty, not negative, no hours, not over a hundred years.
 * @example isInterval('P5Y') // true
 * @example isInterval('PT5H') // false
 */
export function isInterval(text: string): boolean {
  try {
    const d = Temporal.Duration.from(text);
    const years = d.years + d.months / 12 + d.weeks / 52 + d.days / 365;
    return d.sign > 0 && years <= LONGEST_YEARS && d.hours === 0 && d.minutes === 0 && d.seconds === 0 && d.milliseconds === 0;
  } catch {
    return false;
  }
}

const SPANS: readonly (readonly [RegExp, string])[] = [
  [/^y(ear|ears|r|rs)?$/, 'Y'],
  [/^m(onth|onths|o|os)?$/, 'M'],
  [/^w(eek|eeks|k|ks)?$/, 'W'],
  [/^d(ay|ays)?$/, 'D'],
];

/**
 * A calendar interval as people write it, as ISO 8601: `10 years`, `2 years and 6 months`, `18 m`. What is none is given back as it was written, and is refused
 * where intervals are.
 * @example intervalIn('2 years and 6 months') // 'P2Y6M'
 * @example intervalIn('one year') // 'P1Y'
 * @example intervalIn('10') // '10': of what?
 */
export function intervalIn(written: string): string {
  const text = written.trim().toLowerCase();
  const parts = text === '' ? [] : text.split(/\s*(?:,|\band\b|\s)\s*(?=\d|one\b)/);
  const found = parts.map((part) => {
    const [, count = '', word = ''] = /^(\d{1,4}|one)\s*([a-z]+)\.?$/.exec(part) ?? [];
    const unit = SPANS.find(([said]) => said.test(word))?.[1];
    return unit === undefined ? null : { unit, text: `${count === 'one' ? '1' : String(Number(count))}${unit}` };
  });
  const known = found.filter((f) => f !== null);
  const inOrder = known.every((f, i) => i === 0 || 'YMWD'.indexOf(f.unit) > 'YMWD'.indexOf(known[i - 1]?.unit ?? 'Y'));
  return known.length === 0 || known.length < found.length || !inOrder ? written.trim() : `P${known.map((f) => f.text).join('')}`;
}

/** Intervals that were read before: a register of a hundred thousand dates has a dozen of them, and reading one costs more than adding it. */
const read = new Map<string, Temporal.Duration>();
const MOST_KEPT = 200;

/**
 * A calendar interval, read.
 * @throws RangeError for what is none
 * @example durationOf('P18M').months // 18
 */
export function durationOf(interval: string): Temporal.Duration {
  const kept = read.get(interval);
  if (kept) return kept;
  if (!isInterval(interval)) throw new RangeError(`not a calendar interval: ${interval}`);
  const duration = Temporal.Duration.from(interval);
  if (read.size < MOST_KEPT) read.set(interval, duration);
  return duration;
}

/**
 * @returns the ISO date an interval after another; a day that a month lacks becomes its last day
 * @example addInterval('2024-02-29', 'P1Y') // '2025-02-28'
 */
export function addInterval(day: string, interval: string): string {
  return Temporal.PlainDate.from(day).add(durationOf(interval)).toString();
}

/**
 * The last day of a date's month.
 * @example endOfMonth('2026-02-03') // '2026-02-28'
 */
export function endOfMonth(day: string): string {
  const d = Temporal.PlainDate.from(day);
  return d.with({ day: d.daysInMonth }).toString();
}

/**
 * Whole days from one ISO date to another; negative when the second is earlier.
 * @example daysBetween('2026-11-28', '2026-12-01') // 3
 */
export function daysBetween(from: string, to: string): number {
  return Temporal.PlainDate.from(from).until(Temporal.PlainDate.from(to)).days;
}

/**
 * A date some days on.
 * @example addDays('2026-11-28', 3) // '2026-12-01'
 */
export function addDays(date: string, days: number): string {
  return Temporal.PlainDate.from(date).add({ days }).toString();
}
