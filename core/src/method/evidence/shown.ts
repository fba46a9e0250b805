import { figureOf, shownChannels, type CheckItem, type Plan, type Reason } from '../../procedure';
import { decimalIn, type Quantity } from '../../quantity';
import type { Instruments } from './attempted';
import type { Reading } from './reading';
import type { StageRecord } from './record';
import { readingAt } from './steps';

const quantityOf = (r: Reading): Quantity => ({ value: r.value, unit: r.unit });

/**
 * Whether an item's answer can be read off: every gauge that would show it is fitted.
 * @example isShown({ id: 'zero', text: 'Falls to zero' }, {}) // false
 */
export function isShown(item: CheckItem, instruments: Instruments): boolean {
  const channels = shownChannels(item);
  return channels.length > 0 && channels.every((c) => instruments[c] !== undefined);
}

/** Whether a channel showed at least so much at some time before a moment. */
function everShowed(readings: Iterable<Reading> | undefined, least: Quantity, at: number): boolean {
  for (const r of readings ?? []) if (r.at <= at && decimalIn(r, least.unit).gte(least.value)) return true;
  return false;
}

/**
 * Why the gauges do not show what an answer of yes would say, at a moment; null where they do, and where none of them is fitted.
 * @param at ms on the run's clock
 * @example ((r) => shownUnmet(r.plan, { id: 'zero', text: 'Falls to zero' }, r.record, r.instruments, 0))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function shownUnmet(plan: Plan, item: CheckItem, record: StageRecord, instruments: Instruments, at: number): Reason | null {
  const { shown } = item;
  if (shown === undefined || !isShown(item, instruments)) return null;
  const readings = shownChannels(item).map((channel) => ({ channel, reading: readingAt(record, channel, at) }));
  const [first, second] = readings;
  const unread = readings.find((r) => !r.reading);
  if (!first?.reading || unread) return { code: 'noReading', values: { channel: unread?.channel ?? '' } };
  if ('agree' in shown) {
    const within = figureOf(plan, shown.within);
    const difference = second?.reading ? decimalIn(first.reading, within.unit).minus(decimalIn(second.reading, within.unit)).abs() : null;
    if (difference === null || difference.lte(within.value)) return null;
    return { code: 'gaugesDiffer', values: { item: item.text, difference: { value: difference.toNumber(), unit: within.unit }, limit: within } };
  }
  const low = shown.low === undefined ? undefined : figureOf(plan, shown.low);
  const high = shown.high === undefined ? undefined : figureOf(plan, shown.high);
  const under = low !== undefined && decimalIn(first.reading, low.unit).lt(low.value);
  const over = high !== undefined && decimalIn(first.reading, high.unit).gt(high.value);
  // What it shows now comes first: a gauge that never showed enough still shows when something is left.
  if (under || over)
    return { code: 'shownOtherwise', values: { item: item.text, value: quantityOf(first.reading), ...(low ? { low } : {}), ...(high ? { high } : {}) } };
  for (const [figure, readings] of [
    [shown.after, record.sinceOpened],
    [shown.from, record.readings],
  ] as const) {
    const least = figure === undefined ? undefined : figureOf(plan, figure);
    if (least && !everShowed(readings[shown.channel], least, at)) return { code: 'neverShown', values: { item: item.text, least } };
  }
  return null;
}
