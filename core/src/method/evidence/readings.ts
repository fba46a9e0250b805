import type { Channel } from '../../procedure';
import { convert, decimalIn, type Quantity, type Unit } from '../../quantity';
import { uncertaintyOfReading } from '../../uncertainty';
import { ReadingList } from './readingList';
import type { Reading } from './reading';
import type { ChannelInstrument, StageRecord } from './record';

/** A typed reading of something that moves stands for the event this long after it, and this long before. Common practice. */
const TYPED_AFTER_MS = 60_000;
const TYPED_BEFORE_MS = 5000;
const SAMPLED_MS = 2000;
/** A reading older than this no longer shows where the needle stands. Common practice: read, then act within the minute. */
export const STALE_MS = 60_000;

/** A difference in another unit: no unit with an offset is ever asked for one here. */
export const span = (q: Quantity, unit: string): number => (q.unit === unit ? q.value : convert(q, unit).value);

/**
 * The value of a reading in a unit. Numbers of at most 15 digits stand in the order that their decimals stand in: what is compared alone may be compared as these.
 * @example valueIn({ at: 0, value: 16.5, unit: 'mbar', typed: true, id: 'e1' }, 'Pa') // 1650
 */
export function valueIn(reading: Quantity, unit: string): number {
  // What streams is looked at thousands of times, nearly always in the gauge's own unit: no decimal is made to be unmade.
  return reading.unit === unit ? reading.value : decimalIn(reading, unit).toNumber();
}

/**
 * Standard uncertainty of one reading, in a unit.
 * @example uReading(exampleOf('suit.inflation', 'inflate').instruments['suit'], 'Pa') // 2.901149
 */
export function uReading(instrument: ChannelInstrument, unit: string): number {
  return uncertaintyOfReading({
    accuracy: span(instrument.accuracy, unit),
    resolution: span(instrument.resolution, unit),
    correlation: instrument.correlation,
  });
}

/**
 * The newest reading at or before a moment, if it is fresh enough to stand for that moment.
 * @example ((r) => readingAt(r.record, 'suit', r.attempt.endedAt)?.unit)(exampleOf('suit.inflation', 'inflate')) // 'mbar'
 */
export function readingAt(record: StageRecord, channel: Channel, at: number): Reading | undefined {
  const found = readingsOn(record, channel).lastUpTo(at);
  return found && at - found.at <= STALE_MS ? found : undefined;
}

/**
 * The reading that stands for what a needle showed when something happened: typed just after, or the instrument's nearest.
 * @example readingAtEvent(exampleOf('suit.inflation', 'inflate').record, 'nothing', 0) // undefined
 */
export function readingAtEvent(record: StageRecord, channel: Channel, at: number): Reading | undefined {
  const all = readingsOn(record, channel);
  const sampled = all.between(at - SAMPLED_MS, at + SAMPLED_MS).filter((r) => !r.typed);
  const nearest = sampled.reduce<Reading | undefined>((best, r) => (best && Math.abs(best.at - at) <= Math.abs(r.at - at) ? best : r), undefined);
  if (nearest) return nearest;
  const typed = all.between(at - TYPED_BEFORE_MS, at + TYPED_AFTER_MS).filter((r) => r.typed);
  return typed.find((r) => r.at >= at) ?? typed.at(-1);
}

/**
 * Every reading of a channel within the attempt, in order of time; none where nothing was read.
 * @example readingsOn(exampleOf('suit.inflation', 'inflate').record, 'suit').length > 100 // true
 */
export function readingsOn(record: StageRecord, channel: Channel): ReadingList {
  return record.readings[channel] ?? ReadingList.none;
}

/**
 * The readings of a channel from one time to another, both included.
 * @example readingsBetween(exampleOf('suit.inflation', 'inflate').record, 'suit', 0, 0).length // 0
 */
export function readingsBetween(record: StageRecord, channel: Channel, from: number, to: number): ReadingList {
  return readingsOn(record, channel).between(from, to);
}

/** The first crossing of a pressure, straight between the two readings around it. */
export interface CrossingTime {
  /** ms on the run's clock. */
  readonly at: number;
  /** How fast it crossed, in the unit a ms. */
  readonly slope: number;
  /** The readings around it are this far apart, ms. */
  readonly apart: number;
  readonly typed: boolean;
  /** The earliest and the latest that it can have crossed; the same where the readings around it lie close enough to draw a line between. */
  readonly earliest: number;
  readonly latest: number;
}

/** Between readings further apart than this nobody knows how it went: it crossed somewhere between them. Common practice. */
const WATCHED_MS = 5000;

/**
 * Where a channel first crosses a value.
 * @param from ms; readings before it are not looked at
 * @param rising whether it is crossed upwards
 * @example crossing(exampleOf('suit.inflation', 'inflate').record, 'suit', 1e6, 'Pa', true, 0) // null
 */
export function crossing(record: StageRecord, channel: Channel, value: number, unit: string, rising: boolean, from: number): CrossingTime | null {
  let before: Reading | undefined;
  for (const r of readingsBetween(record, channel, from, Number.POSITIVE_INFINITY)) {
    const here = valueIn(r, unit);
    if (rising ? here >= value : here <= value) {
      if (!before) {
        // Through already when it was first looked at: it can have gone at any time since.
        const seen = here === value || r.at - from <= WATCHED_MS;
        return { at: r.at, slope: 0, apart: 0, typed: r.typed, earliest: seen ? r.at : from, latest: r.at };
      }
      const was = valueIn(before, unit);
      const apart = r.at - before.at;
      const share = here === was ? 1 : (value - was) / (here - was);
      const at = before.at + share * apart;
      // A reading on the figure itself was read when it was there.
      const known = apart <= WATCHED_MS || here === value;
      const typed = r.typed || before.typed;
      return { at, slope: apart === 0 ? 0 : (here - was) / apart, apart, typed, earliest: known ? at : before.at, latest: known ? at : r.at };
    }
    before = r;
  }
  return null;
}

/** Fewer samples than this show no scatter. */
const LEAST_SAMPLES = 10;

/**
 * The standard deviation of single readings of an instrument that streams, from the differences of neighbours about their mean: a loss is not in it. Zero where too few
 * were streamed, or what was typed alone.
 * Source: von Neumann's mean square successive difference, s² = Σ(d − d̄)² ÷ 2(n − 2), from memory.
 * @param unit that of the result
 * @example repeatabilityOf(ReadingList.of([]), 'mbar') // 0
 */
export function repeatabilityOf(readings: ReadingList, unit: string): number {
  let squares = 0;
  let sum = 0;
  let count = 0;
  let before: number | undefined;
  let scale: Unit | undefined;
  readings.each((_, value, __, chunk) => {
    if (chunk.typed || (scale !== undefined && chunk.unit !== scale)) return;
    scale = chunk.unit;
    if (before !== undefined) {
      squares += (value - before) ** 2;
      sum += value - before;
    }
    before = value;
    count += 1;
  });
  return count < LEAST_SAMPLES || scale === undefined
    ? 0
    : span({ value: Math.sqrt(Math.max(0, squares - sum ** 2 / (count - 1)) / (2 * (count - 2))), unit: scale }, unit);
}

/** It is through once none of its readings has been back for this long. */
const THROUGH_MS = 3000;

/**
 * Where a channel has gone through a value for good, seen through the noise of what streams: in the middle between the first reading beyond it and the last one
 * before it, once none has been back for three seconds. Readings that are typed are taken as they are. Its slope is left at nothing: two noisy neighbours have none.
 * @returns null while it has not gone through, or may only have dipped
 * @example goneThrough(exampleOf('suit.inflation', 'inflate').record, 'suit', 1e6, 'Pa', true, 0) // null
 */
export function goneThrough(record: StageRecord, channel: Channel, value: number, unit: string, rising: boolean, from: number): CrossingTime | null {
  const first = crossing(record, channel, value, unit, rising, from);
  if (!first || first.typed) return first;
  const beyond = (r: Reading): boolean => (rising ? valueIn(r, unit) >= value : valueIn(r, unit) <= value);
  let back = first.at;
  for (const r of readingsBetween(record, channel, first.at, Number.POSITIVE_INFINITY)) {
    if (r.at - back > THROUGH_MS)
      return first.earliest < first.latest ? first : { ...first, at: (first.at + back) / 2, slope: 0, apart: Math.max(first.apart, back - first.at) };
    if (!beyond(r)) back = r.at;
  }
  return null;
}
