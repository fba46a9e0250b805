import { createHash } from 'node:crypto';
import { GENESIS, sealText, type Envelope, type Link } from '@grellin/contract';

export { ENVELOPE_VERSION, GENESIS } from '@grellin/contract';

/** SHA-256 of a text in UTF-8, in hex. */
export const sha256 = (text: string | Buffer): string => createHash('sha256').update(text).digest('hex');

/** SHA-256 over the previous hash and the canonical JSON (RFC 8785) of the whole envelope, in hex. */
export const sealOf = (envelope: Envelope): string => sha256(sealText(envelope));

/**
 * Follows a chain from its beginning.
 * @returns the position of the first event that does not fit, or null when all do
 */
export function firstBroken(chain: readonly Link[]): number | null {
  let previous = GENESIS;
  for (const [i, link] of chain.entries()) {
    if (link.seq !== i + 1 || link.previous !== previous || sealOf(link) !== link.hash) return link.seq;
    previous = link.hash;
  }
  return null;
}
