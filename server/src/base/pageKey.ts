import { isText, isUuid } from '@grellin/contract';
import { Coded } from './errors';

/** Where a page of a list ends: what it is ordered by, and what tells two alike apart. */
export type PageKey = readonly [string | number, string];

/** What the first half of a key must be, by the type of its column. */
const isOf: Readonly<Record<string, (value: unknown) => boolean>> = {
  text: (v) => typeof v === 'string' && isText(v),
  integer: (v) => typeof v === 'number' && Number.isSafeInteger(v) && Math.abs(v) < 2 ** 31,
  bigint: (v) => typeof v === 'number' && Number.isSafeInteger(v),
  date: (v) => typeof v === 'string' && /^\d{4}-\d\d-\d\d$/.test(v) && !Number.isNaN(Date.parse(v)),
};

/** A key as it goes out with a page, opaque to whoever asks for the next one. */
export const cursorOf = (key: PageKey): string => Buffer.from(JSON.stringify(key)).toString('base64url');

/**
 * The key that a cursor stands for. It comes back from outside: nothing of it is believed.
 * @throws Coded `page.cursor`
 */
export function keyOf(cursor: string, type: 'text' | 'integer' | 'bigint' | 'date', then: 'text' | 'uuid'): PageKey {
  try {
    const key: unknown = JSON.parse(Buffer.from(cursor, 'base64url').toString());
    if (Array.isArray(key) && key.length === 2) {
      const [value, other] = key as readonly unknown[];
      if (isOf[type]?.(value) && typeof other === 'string' && (then === 'text' ? isText(other) : isUuid(other))) return [value as string | number, other];
    }
  } catch {
    // said below
  }
  throw new Coded('page.cursor', 'This page does not begin anywhere: ask for the first one.');
}

/** How many rows a page has when nobody says. */
export const PAGE = 50;
/** A list is counted up to here and no further: what it says then is “more than”. */
export const COUNTED = 1000;
/** Trigrams need this many letters; fewer are taken for the beginning of a tag. */
export const LEAST_LETTERS = 3;

/** What was typed, small and with no sign that a pattern would take for its own. */
export const inPattern = (text: string): string => text.toLowerCase().replace(/[\\%_]/g, '\\$&');
