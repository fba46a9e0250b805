import { spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { root } from './paths.mjs';

/**
 * Runs one of our own programs on a cluster of its own that is gone afterwards.
 * @param {string} program its name in `dist`
 * @returns its exit code
 */
export async function runPrivately(program, args) {
  const { buildPrograms, distFolder } = await import('../build.mjs');
  const { startPostgres } = await import('./postgres.mjs');
  await buildPrograms();
  const data = mkdtempSync(join(tmpdir(), `grellin-${program}-`));
  chmodSync(data, 0o755); // the user postgres must enter it
  const needs = !args.includes('--help');
  const cluster = needs ? await startPostgres({ folder: join(data, 'pg'), durable: false }) : null;
  try {
    const env = { ...process.env, MIGRATIONS: join(root, 'server', 'drizzle'), ...(cluster ? { OWNER_URL: cluster.url } : {}) };
    return spawnSync(process.execPath, [join(distFolder, `${program}.mjs`), ...args], { stdio: 'inherit', cwd: root, env }).status ?? 1;
  } finally {
    cluster?.stop();
    rmSync(data, { recursive: true, force: true });
  }
}
