import canonicalize from 'canonicalize';
import type { Link } from './bundle';

/** SHA-256 of a text in UTF-8, in hex: Node's or the browser's. */
export type Sha256 = (text: string) => string | Promise<string>;

/** The hash before the first event. */
export const GENESIS = '0'.repeat(64);
/** Edition of the envelope that is written today: it is part of what is hashed. */
export const ENVELOPE_VERSION = 2;

/** What is hashed of an event: the hash before it and the canonical JSON (RFC 8785) of its whole envelope. */
export function sealText(link: Omit<Link, 'hash'>): string {
  const { run, seq, lease, late, by, storedAt, previous, event, version } = link;
  const first = { run, seq, lease, late, by, storedAt, previous, event };
  return previous + (canonicalize(version === 1 ? first : { ...first, version }) ?? '');
}

/** The text of a value of which a digest is taken: its canonical JSON. */
export const digestText = (value: unknown): string => canonicalize(value) ?? '';
