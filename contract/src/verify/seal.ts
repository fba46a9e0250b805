import canonicalize from 'canonicalize';
import type { RunEvent } from '@grellin/core';

/** SHA-256 of a text in UTF-8, in hex: Node's or the browser's. */
export type Sha256 = (text: string) => string | Promise<string>;

/** The hash before the first event. */
export const GENESIS = '0'.repeat(64);
/** Edition of the envelope that is written today: it is part of what is hashed. */
export const ENVELOPE_VERSION = 2;

/** All that is hashed of a stored event: the one envelope that every event lies in, wherever it is kept, sent or verified. */
export interface Envelope {
  readonly run: string;
  /** Its place in the run's chain, from 1. */
  readonly seq: number;
  readonly lease: number;
  /** It came under an old lease: kept and shown, never folded in. */
  readonly late: boolean;
  /** The account, or the server. */
  readonly by: string;
  /** ISO 8601, UTC. */
  readonly storedAt: string;
  /** The hash of the event before it. */
  readonly previous: string;
  readonly event: RunEvent;
  /** Edition of the envelope; the first had no word for it, and it is not part of what was hashed. */
  readonly version: number;
}

/** An envelope with its hash: one link of a run's chain. */
export interface Link extends Envelope {
  readonly hash: string;
}

/** What a browser is sent of an envelope. */
export type PositionedEvent = Pick<Envelope, 'seq' | 'lease' | 'late' | 'event'>;

/** What is hashed of an event: the hash before it and the canonical JSON (RFC 8785) of its whole envelope. */
export function sealText(envelope: Envelope): string {
  const { run, seq, lease, late, by, storedAt, previous, event, version } = envelope;
  const first = { run, seq, lease, late, by, storedAt, previous, event };
  return previous + (canonicalize(version === 1 ? first : { ...first, version }) ?? '');
}

/** The text of a value of which a digest is taken: its canonical JSON. */
export const digestText = (value: unknown): string => canonicalize(value) ?? '';
