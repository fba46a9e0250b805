import { unitRow, type EventBody } from '@grellin/core';
import Papa from 'papaparse';

/** How the columns of a logger's file are to be read: matched once by the person, and remembered for files with the same header. */
export interface ColumnMatch {
  readonly time: string;
  /** A moment of the calendar in each row, or seconds that count to the file's last row, which is now. */
  readonly clock: 'moment' | 'seconds';
  /** Column and unit by channel. */
  readonly channels: Readonly<Record<string, { readonly column: string; readonly unit: string }>>;
}

export interface CsvFile {
  readonly header: readonly string[];
  readonly rows: readonly Readonly<Record<string, string>>[];
}

export type Timed = EventBody & { readonly at: number };

export interface CsvReadings {
  readonly events: readonly Timed[];
  readonly taken: number;
  /** Rows that could not be read, or that lie outside the run, with why. */
  readonly left: readonly string[];
}

const MOST_ROWS = 50_000;
const MOST_SAMPLES = 5000;
/** Steps that differ by no more than this share of the usual one are even: a logger's clock is not perfect, a missing row is another thing. */
const EVEN_SHARE = 0.02;

/** Reads a file (RFC 4180). Without a header that names at least two columns there is nothing to match. */
export function parseCsv(text: string): CsvFile | null {
  const { data, meta } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ''), { header: true, skipEmptyLines: 'greedy' });
  const header = (meta.fields ?? []).map((f) => f.trim()).filter((f) => f !== '');
  return header.length >= 2 && data.length > 0 ? { header, rows: data.slice(0, MOST_ROWS) } : null;
}

/** What a file's columns are remembered under. */
export function signatureOf(file: CsvFile): string {
  return file.header.join('\u001f');
}

function numberIn(text: string | undefined): number | null {
  const plain = (text ?? '').trim().replace(',', '.').replace('−', '-');
  return /^-?\d+(\.\d+)?(e-?\d+)?$/i.test(plain) ? Number(Number(plain).toPrecision(15)) : null;
}

/**
 * The readings of a file as events of a run, oldest first.
 * @param startedMs the run's beginning, ms since 1970
 * @param nowMs the run's clock, ms
 * @param after by channel: readings up to this time of the run's clock are there already
 */
export function readingsFromCsv(file: CsvFile, match: ColumnMatch, startedMs: number, nowMs: number, after: Readonly<Record<string, number>>): CsvReadings {
  const left: string[] = [];
  const last = numberIn(file.rows.at(-1)?.[match.time]);
  const timeOf = (row: Readonly<Record<string, string>>): number | null => {
    if (match.clock === 'moment') {
      const at = Date.parse(row[match.time] ?? '');
      return Number.isNaN(at) ? null : at - startedMs;
    }
    const seconds = numberIn(row[match.time]);
    return seconds === null || last === null ? null : nowMs - (last - seconds) * 1000;
  };
  const events: Timed[] = [];
  let taken = 0;
  for (const [channel, { column, unit }] of Object.entries(match.channels)) {
    if (!unitRow(unit)) continue;
    const points: { at: number; value: number }[] = [];
    file.rows.forEach((row, i) => {
      const at = timeOf(row);
      const value = numberIn(row[column]);
      const named = `row ${String(i + 2)}`;
      if (at === null) left.push(`${named}: the time cannot be read`);
      else if (value === null) left.push(`${named}: ${column} is no number`);
      else if (at < 0 || at > nowMs) left.push(`${named}: outside the run`);
      else if (at > (after[channel] ?? -1) && at > (points.at(-1)?.at ?? -1)) points.push({ at: Math.round(at), value });
    });
    taken += points.length;
    events.push(...chunks(points).map((chunk): Timed => asEvent(chunk, channel, unit)));
  }
  return { events: events.sort((a, b) => a.at - b.at), taken, left };
}

interface Point {
  readonly at: number;
  readonly value: number;
}

/** Stretches of evenly spaced points; a hole begins a new one. */
function chunks(points: readonly Point[]): readonly (readonly Point[])[] {
  const found: Point[][] = [];
  for (const p of points) {
    const open = found.at(-1);
    const [first, second] = [open?.[0], open?.[1]];
    const step = first && second ? second.at - first.at : null;
    const expected = open && first && step !== null ? first.at + step * open.length : null;
    if (open && open.length < MOST_SAMPLES && (expected === null || Math.abs(p.at - expected) <= Math.max(2, (step ?? 0) * EVEN_SHARE))) open.push(p);
    else found.push([p]);
  }
  return found;
}

function asEvent(chunk: readonly Point[], channel: string, unit: string): Timed {
  const [first, second] = [chunk[0], chunk[1]];
  const at = first?.at ?? 0;
  return {
    kind: 'samples',
    at,
    channel,
    unit,
    everyMs: Math.max(1, (second?.at ?? at + 1000) - at),
    values: chunk.map((p) => p.value),
  };
}

/** A first guess at the columns: what is called time, and what carries a unit of the channel's kind in its name. */
export function guess(file: CsvFile, channels: readonly { readonly channel: string; readonly unit: string }[]): ColumnMatch {
  const time = file.header.find((h) => /time|date|clock|zeit/i.test(h)) ?? file.header[0] ?? '';
  const sample = file.rows[0]?.[time] ?? '';
  const rest = file.header.filter((h) => h !== time);
  return {
    time,
    clock: numberIn(sample) === null ? 'moment' : 'seconds',
    channels: Object.fromEntries(channels.map((c, i) => [c.channel, { column: rest[i] ?? rest[0] ?? '', unit: c.unit }])),
  };
}
