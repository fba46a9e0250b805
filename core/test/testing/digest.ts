import { createHash } from 'node:crypto';
import canonicalize from 'canonicalize';

/** SHA-256 of the canonical JSON (RFC 8785) of a value, in hex: two values have the same one only when they are the same to the last digit. */
export function digestOf(value: unknown): string {
  return createHash('sha256')
    .update(canonicalize(value) ?? '')
    .digest('hex');
}
