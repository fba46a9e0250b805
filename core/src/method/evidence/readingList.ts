import type { Id } from '../../procedure';
import type { Reading } from './reading';

/** Values of one channel from one event; samples keep their chunk. */
export interface Chunk {
  readonly at: number;
  readonly everyMs: number;
  readonly unit: string;
  readonly values: readonly number[];
  readonly typed: boolean;
  readonly event: Id;
}

const timeIn = (c: Chunk, i: number): number => c.at + i * c.everyMs;
const lastIn = (c: Chunk): number => timeIn(c, c.values.length - 1);
const readingIn = (c: Chunk, i: number): Reading => ({ at: timeIn(c, i), value: c.values[i] ?? 0, unit: c.unit, typed: c.typed, event: c.event });

const alone = (r: Reading): Chunk => ({ at: r.at, everyMs: 0, unit: r.unit, values: [r.value], typed: r.typed, event: r.event });

/** At equal times the typed reading comes after the instrument's. */
const inOrder = (a: Reading, b: Reading): number => a.at - b.at || Number(a.typed) - Number(b.typed);

function follows(last: Chunk | undefined, next: Chunk): boolean {
  if (next.everyMs < 0) return false;
  return !last || lastIn(last) < next.at || (lastIn(last) === next.at && Number(last.typed) <= Number(next.typed));
}

/** The most values of a chunk that are summed up by their lowest and highest. */
const PIECE = 64;

/** A lowest or highest value, and the chunk that it is of. */
export interface Peak {
  readonly chunk: Chunk;
  readonly at: number;
  readonly value: number;
}

const found = new WeakMap<Chunk, readonly [number, number]>();

/** Where the lowest and the highest of a part of a chunk stand; of a whole chunk it is looked for once. */
function peaksOf(chunk: Chunk, from: number, to: number): readonly [number, number] {
  const whole = from === 0 && to === chunk.values.length;
  const kept = whole ? found.get(chunk) : undefined;
  if (kept) return kept;
  let low = from;
  let high = from;
  for (let i = from + 1; i < to; i += 1) {
    if ((chunk.values[i] ?? 0) < (chunk.values[low] ?? 0)) low = i;
    if ((chunk.values[i] ?? 0) > (chunk.values[high] ?? 0)) high = i;
  }
  if (whole) found.set(chunk, [low, high]);
  return [low, high];
}

/**
 * The readings of a channel in order of time. They stay in the chunks that they came in and are made into readings only where somebody looks at one: a valve's
 * trace of twenty minutes is a quarter of a million values, and a number each is what it may cost. A list never changes; one that is grown shares its chunks with
 * the list that it was grown from, so that following a run stays linear.
 */
export class ReadingList implements Iterable<Reading> {
  static readonly none = new ReadingList([], [], 0, 0);

  /** @param ends how many readings there are up to and with each chunk; lists of one growth share it, each looks only at its own part */
  private constructor(
    private readonly chunks: Chunk[],
    private readonly ends: number[],
    private readonly from: number,
    private readonly to: number,
  ) {}

  /** @example ReadingList.of([{ at: 0, value: 4, unit: 'mbar', typed: true, event: 'e' }]).length // 1 */
  static of(readings: readonly Reading[]): ReadingList {
    return ReadingList.none.with(readings.map(alone));
  }

  private static joined(chunks: Chunk[]): ReadingList {
    let count = 0;
    const ends = chunks.map((c) => (count += c.values.length));
    return new ReadingList(chunks, ends, 0, count);
  }

  get length(): number {
    return this.to - this.from;
  }

  /**
   * A whole list and what came since. Sources interleave as the network pleases; findings must not depend on it, so time decides. Almost always what came
   * follows what was there, and nothing is put in order again.
   */
  with(fresh: readonly Chunk[]): ReadingList {
    const coming = fresh.filter((c) => c.values.length > 0);
    if (coming.length === 0) return this;
    const newest = this.from === 0 && this.to === (this.ends.at(-1) ?? 0) && this !== ReadingList.none;
    const mine = newest ? this.chunks.length : this.to === 0 ? 0 : this.chunkOf(this.to - 1) + 1;
    const inPlace = coming.every((c, i) => follows(i === 0 ? this.chunks[mine - 1] : coming[i - 1], c));
    if (!inPlace) return this.interleaved(coming, mine);
    const grown = newest ? this : ReadingList.joined(this.chunks.slice(0, mine));
    for (const c of coming) {
      grown.ends.push((grown.ends.at(-1) ?? 0) + c.values.length);
      grown.chunks.push(c);
    }
    return new ReadingList(grown.chunks, grown.ends, 0, grown.ends.at(-1) ?? 0);
  }

  /** Only what the coming ones reach back into is taken apart. */
  private interleaved(coming: readonly Chunk[], mine: number): ReadingList {
    const earliest = Math.min(...coming.flatMap((c) => [c.at, lastIn(c)]));
    let cut = mine;
    for (let c = this.chunks[cut - 1]; c && lastIn(c) >= earliest; c = this.chunks[cut - 1]) cut -= 1;
    const apart = [...this.chunks.slice(cut, mine), ...coming].flatMap((c) => c.values.map((_, i) => readingIn(c, i)));
    return ReadingList.joined([...this.chunks.slice(0, cut), ...apart.sort(inOrder).map(alone)]);
  }

  /** The chunk that holds a place. */
  private chunkOf(place: number): number {
    let low = 0;
    let high = this.ends.length;
    while (low < high) {
      const middle = (low + high) >>> 1;
      if ((this.ends[middle] ?? 0) > place) high = middle;
      else low = middle + 1;
    }
    return low;
  }

  private spot(place: number): { readonly chunk: Chunk; readonly i: number } | undefined {
    const c = this.chunkOf(place);
    const chunk = this.chunks[c];
    return chunk && place >= this.from && place < this.to ? { chunk, i: place - (this.ends[c - 1] ?? 0) } : undefined;
  }

  /** A reading by its place; a negative one counts from the end. */
  at(index: number): Reading | undefined {
    const found = this.spot(index < 0 ? this.to + index : this.from + index);
    return found && readingIn(found.chunk, found.i);
  }

  /** The first place whose time is not before a moment, or past it. */
  private placeOf(at: number, past: boolean): number {
    let low = this.from;
    let high = this.to;
    while (low < high) {
      const middle = (low + high) >>> 1;
      const found = this.spot(middle);
      const time = found ? timeIn(found.chunk, found.i) : Number.POSITIVE_INFINITY;
      if (past ? time > at : time >= at) high = middle;
      else low = middle + 1;
    }
    return low;
  }

  /** The readings from one time to another, both included. */
  between(from: number, to: number): ReadingList {
    const first = this.placeOf(from, false);
    return new ReadingList(this.chunks, this.ends, first, Math.max(first, this.placeOf(to, true)));
  }

  /** The first reading at or after a moment. */
  firstFrom(at: number): Reading | undefined {
    return this.at(this.placeOf(at, false) - this.from);
  }

  /** The last reading at or before a moment. */
  lastUpTo(at: number): Reading | undefined {
    const place = this.placeOf(at, true);
    return place > this.from ? this.at(place - 1 - this.from) : undefined;
  }

  /** Goes through times and values without making readings of them, for what draws or analyses a whole trace. */
  each(visit: (at: number, value: number, index: number, chunk: Chunk) => void): void {
    for (let c = this.chunkOf(this.from), place = this.from; place < this.to; c += 1) {
      const chunk = this.chunks[c];
      if (!chunk) return;
      const begin = this.ends[c - 1] ?? 0;
      for (const end = Math.min(this.ends[c] ?? 0, this.to); place < end; place += 1) {
        const i = place - begin;
        visit(timeIn(chunk, i), chunk.values[i] ?? 0, place - this.from, chunk);
      }
    }
  }

  /** Goes through the lowest and the highest of each piece, a chunk or less: what a drawing needs of a trace that is too long to look at every value of. */
  eachPeak(visit: (low: Peak, high: Peak) => void): void {
    for (let c = this.chunkOf(this.from), place = this.from; place < this.to; c += 1) {
      const chunk = this.chunks[c];
      if (!chunk) return;
      const begin = this.ends[c - 1] ?? 0;
      const end = Math.min(this.ends[c] ?? 0, this.to);
      for (; place < end; place += PIECE) {
        const [low, high] = peaksOf(chunk, place - begin, Math.min(end, place + PIECE) - begin);
        visit({ chunk, at: timeIn(chunk, low), value: chunk.values[low] ?? 0 }, { chunk, at: timeIn(chunk, high), value: chunk.values[high] ?? 0 });
      }
      place = end;
    }
  }

  *[Symbol.iterator](): Iterator<Reading> {
    for (let c = this.chunkOf(this.from), place = this.from; place < this.to; c += 1) {
      const chunk = this.chunks[c];
      if (!chunk) return;
      const begin = this.ends[c - 1] ?? 0;
      for (const end = Math.min(this.ends[c] ?? 0, this.to); place < end; place += 1) yield readingIn(chunk, place - begin);
    }
  }

  map<T>(to: (reading: Reading, index: number) => T): T[] {
    const made: T[] = [];
    this.each((at, value, index, { unit, typed, event }) => made.push(to({ at, value, unit, typed, event }, index)));
    return made;
  }

  filter(wanted: (reading: Reading, index: number) => boolean): Reading[] {
    const kept: Reading[] = [];
    this.each((at, value, index, { unit, typed, event }) => {
      const reading = { at, value, unit, typed, event };
      if (wanted(reading, index)) kept.push(reading);
    });
    return kept;
  }

  find(wanted: (reading: Reading) => boolean): Reading | undefined {
    for (const reading of this) if (wanted(reading)) return reading;
    return undefined;
  }
}
