import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { Coded } from '../base';
import { runLease, type Transaction } from '../db';

/** Who holds, or says to hold, a lease: an account at a device. */
export interface Holder {
  readonly account: string;
  /** SHA-256 of the device's own cookie; the empty text for a client that keeps none. */
  readonly device: string;
}

/** What is kept of a secret. */
export const hashOfSecret = (secret: string): string => createHash('sha256').update(secret).digest('hex');

/** Gives a lease out. @returns its secret, which is kept nowhere */
export async function giveLease(tx: Transaction, run: string, lease: number, holder: Holder, now: Date): Promise<string> {
  const secret = randomBytes(24).toString('base64url');
  await tx.insert(runLease).values({ run, lease, ...holder, secretHash: hashOfSecret(secret), givenAt: now });
  return secret;
}

function sameHash(a: string, b: string): boolean {
  return a.length === b.length && timingSafeEqual(Buffer.from(a), Buffer.from(b));
}

/**
 * Asks whether somebody holds a lease of a run, an old one or the newest.
 * @param given how it was given out; null when it never was
 * @param secret what the lease was given out with
 * @returns whether the lease could be proved; one from before leases had secrets cannot be, and what comes under it is kept as late
 * @throws Coded `lease.newer` for one that was never given out, `lease.notYours` for another's
 */
export function requireLease(given: typeof runLease.$inferSelect | null, holder: Holder, secret: string | undefined): boolean {
  if (!given) throw new Coded('lease.newer', 'This lease has not been given out.');
  const foreign = new Coded('lease.notYours', 'Somebody else, or another device, holds this run: take it over first.');
  if (given.account !== holder.account) throw foreign;
  if (given.secretHash === null) return false;
  if (secret === undefined || given.device !== holder.device || !sameHash(given.secretHash, hashOfSecret(secret))) throw foreign;
  return true;
}
