import { figureOf, shownChannels, type Reason, type Showing } from '../../procedure';
import { decimalIn, type Quantity } from '../../quantity';
import type { Attempted, Instruments } from './attempted';
import type { Reading } from './reading';
import { readingAt, readingsBetween, readingsOn, STALE_MS, valueIn } from './readings';

const quantityOf = (r: Reading): Quantity => ({ value: r.value, unit: r.unit });

/**
 * Whether an item's answer, or that a step was done, can be read off: every gauge that would show it is fitted.
 * @example isShown({ text: 'Falls to zero' }, {}) // false
 */
export function isShown(said: Showing, instruments: Instruments): boolean {
  const channels = shownChannels(said);
  return channels.length > 0 && channels.every((c) => instruments[c] !== undefined);
}

/**
 * Whether a gauge that shows it is out of its calibration: it may still say no, and its yes is no measurement.
 * @example isDoubtful({ text: 'Falls to zero' }, {}) // false
 */
export function isDoubtful(said: Showing, instruments: Instruments): boolean {
  return isShown(said, instruments) && shownChannels(said).some((c) => instruments[c]?.inCalibration === false);
}

/** Whether a reading is below the one or above the other; where nothing is named, nothing is. */
function isOutside(r: Reading, low: Quantity | undefined, high: Quantity | undefined): boolean {
  return (low !== undefined && valueIn(r, low.unit) < low.value) || (high !== undefined && valueIn(r, high.unit) > high.value);
}

const otherwise = (said: Showing, r: Reading, low: Quantity | undefined, high: Quantity | undefined): Reason => ({
  code: 'shownOtherwise',
  values: { item: said.text, value: quantityOf(r), ...(low ? { low } : {}), ...(high ? { high } : {}) },
});

/** Whether a channel showed at least so much at some time before a moment. */
function everShowed(readings: Iterable<Reading> | undefined, least: Quantity, at: number): boolean {
  for (const r of readings ?? []) if (r.at <= at && valueIn(r, least.unit) >= least.value) return true;
  return false;
}

/**
 * Why the gauges do not show what an answer of yes would say, or a step that is called done, at a moment; null where they do, and where none of them is fitted.
 * @param at ms on the run's clock
 * @example ((r) => shownUnmet(r.at, { text: 'Falls to zero' }, 0))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function shownUnmet({ plan, record, instruments }: Attempted, item: Showing, at: number): Reason | null {
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
  // What it shows now comes first: a gauge that never showed enough still shows when something is left.
  if (isOutside(first.reading, low, high)) return otherwise(item, first.reading, low, high);
  for (const [figure, readings] of [
    [shown.after, record.sinceOpened],
    [shown.from, record.readings],
  ] as const) {
    const least = figure === undefined ? undefined : figureOf(plan, figure);
    if (least && !everShowed(readings[shown.channel], least, at)) return { code: 'neverShown', values: { item: item.text, least } };
  }
  return null;
}

/**
 * A reading by which what was shown at one moment did not stay so until another, or that a gauge that streamed fell silent before it; null where it did stay so, and where
 * no gauge is fitted.
 * @param from ms on the run's clock, left out; `to` is looked at as well
 * @example ((r) => leftShown(r.at, { text: 'Falls to zero' }, 0, 1e15))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function leftShown({ plan, record, instruments }: Attempted, said: Showing, from: number, to: number): Reason | null {
  const { shown } = said;
  if (shown === undefined || 'agree' in shown || !isShown(said, instruments)) return null;
  const low = shown.low === undefined ? undefined : figureOf(plan, shown.low);
  const high = shown.high === undefined ? undefined : figureOf(plan, shown.high);
  const left = readingsBetween(record, shown.channel, from, to).find((r) => r.at > from && isOutside(r, low, high));
  if (left) return otherwise(said, left, low, high);
  // A gauge that streamed and fell silent shows nothing of what came after.
  const last = readingsOn(record, shown.channel).lastUpTo(to);
  const silent = Number.isFinite(to) && last && !last.typed && to - last.at > STALE_MS;
  return silent ? { code: 'noReading', values: { channel: shown.channel } } : null;
}
