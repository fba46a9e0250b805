import type { Channel } from '../../procedure';
import { convert, decimalIn, type Quantity } from '../../quantity';
import { uncertaintyOfReading } from '../../uncertainty';
import { ReadingList } from './readingList';
import type { Reading } from './reading';
import type { ChannelInstrument, StageRecord } from './record';

/** A typed reading of something that moves stands for the event this long after it, and this long before. Common practice. */
const TYPED_AFTER_MS = 60_000;
const TYPED_BEFORE_MS = 5000;
const SAMPLED_MS = 2000;

/** A difference in another unit: no unit with an offset is ever asked for one here. */
export const span = (q: Quantity, unit: string): number => (q.unit === unit ? q.value : convert(q, unit).value);

/**
 * @example valueIn({ at: 0, value: 16.5, unit: 'mbar', typed: true, id: 'e1' }, 'Pa') // 1650
 */
export function valueIn(reading: Reading, unit: string): number {
  return decimalIn(reading, unit).toNumber();
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
}

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
      if (!before) return { at: r.at, slope: 0, apart: 0, typed: r.typed };
      const was = valueIn(before, unit);
      const apart = r.at - before.at;
      const share = here === was ? 1 : (value - was) / (here - was);
      return { at: before.at + share * apart, slope: apart === 0 ? 0 : (here - was) / apart, apart, typed: r.typed || before.typed };
    }
    before = r;
  }
  return null;
}
