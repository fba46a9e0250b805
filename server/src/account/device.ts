import { createHash, randomBytes } from 'node:crypto';
import type { FastifyRequest } from 'fastify';

/** Tells this browser on this machine from every other. Scripts cannot read it, so that a lease that was copied out of a browser is worth nothing elsewhere. */
export const DEVICE_COOKIE = 'grellin_device';
export const DEVICE_AGE_S = 5 * 365 * 86_400;

export const newDevice = (): string => randomBytes(24).toString('base64url');

/** SHA-256 of the device's cookie, in hex; the empty text for a client that keeps none. */
export function deviceOf(request: FastifyRequest): string {
  const token = request.cookies[DEVICE_COOKIE];
  return token === undefined || token === '' ? '' : createHash('sha256').update(token).digest('hex');
}
