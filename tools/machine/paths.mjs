import { createHash } from 'node:crypto';
import { fileURLToPath } from 'node:url';
import { join } from 'node:path';

/** The checkout. */
export const root = fileURLToPath(new URL('../..', import.meta.url)).replace(/\/$/, '');

export const isRoot = process.getuid?.() === 0;

/**
 * Where the data of this checkout lies. PostgreSQL refuses to run as root, and the unprivileged user it then runs as may not be able to enter the
 * checkout (a home folder of mode 700): as root the data lies in /var/lib, under the hash of the checkout's path.
 */
export function dataFolder() {
  if (process.env.GRELLIN_DATA) return process.env.GRELLIN_DATA;
  if (!isRoot) return join(root, '.data');
  return join('/var/lib/grellin', createHash('sha256').update(root).digest('hex').slice(0, 16));
}
