import { createHash } from 'node:crypto';
import type { RunEvent } from '@grellin/core';
import canonicalize from 'canonicalize';

/** The hash before the first event. */
export const GENESIS = '0'.repeat(64);

/** All that is hashed of a stored event. */
export interface Envelope {
  readonly run: string;
  readonly seq: number;
  readonly lease: number;
  readonly late: boolean;
  readonly by: string;
  readonly storedAt: string;
  readonly previous: string;
  readonly event: RunEvent;
}

/** SHA-256 over the previous hash and the canonical JSON (RFC 8785) of the whole envelope, in hex. */
export function sealOf(envelope: Envelope): string {
  return createHash('sha256')
    .update(envelope.previous)
    .update(canonicalize(envelope) ?? '')
    .digest('hex');
}

/**
 * Follows a chain from its beginning.
 * @returns the position of the first event that does not fit, or null when all do
 */
export function firstBroken(chain: readonly (Envelope & { readonly hash: string })[]): number | null {
  let previous = GENESIS;
  for (const [i, link] of chain.entries()) {
    const { hash, ...envelope } = link;
    if (link.seq !== i + 1 || link.previous !== previous || sealOf(envelope) !== hash) return link.seq;
    previous = hash;
  }
  return null;
}
