import { spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { end, startUntil } from './machine/command.mjs';
import { ensureChromium, ensurePostgres } from './machine/debian.mjs';
import { ensurePackages } from './machine/packages.mjs';
import { root } from './machine/paths.mjs';

const args = process.argv.slice(2);

/** Frames and memory of the bench, in a browser against the started product. */
async function browser(minutes) {
  ensurePostgres();
  ensureChromium();
  const data = mkdtempSync(join(tmpdir(), 'grellin-bench-'));
  chmodSync(data, 0o755); // the user postgres must enter it
  const env = { ...process.env, PORT: '0', GRELLIN_DATA: join(data, 'data'), GRELLIN_TEST: '1' };
  delete env.DATABASE_URL;
  const product = await startUntil(process.execPath, ['tools/start.mjs'], /Grellin\s+(http:\S+)/, { cwd: root, env });
  try {
    const done = spawnSync('npx', ['--no-install', 'playwright', 'test', '--workers=1'], {
      stdio: 'inherit',
      cwd: root,
      env: { ...env, BASE_URL: product.line[1], MINUTES: minutes },
    });
    return done.status ?? 1;
  } finally {
    await end(product.child, 'SIGINT', 30_000);
    rmSync(data, { recursive: true, force: true });
  }
}

ensurePackages();
if (args.includes('--browser')) {
  const at = args.indexOf('--minutes');
  process.exitCode = await browser(at < 0 ? '1' : (args[at + 1] ?? '1'));
} else {
  const { buildPrograms, distFolder } = await import('./build.mjs');
  await buildPrograms();
  const quick = args.includes('--quick') || args.includes('--help');
  const data = quick ? null : mkdtempSync(join(tmpdir(), 'grellin-bench-'));
  if (data) chmodSync(data, 0o755); // the user postgres must enter it
  const cluster = data ? await (await import('./machine/postgres.mjs')).startPostgres({ folder: join(data, 'pg'), durable: true }) : null;
  try {
    const env = { ...process.env, ...(cluster ? { OWNER_URL: cluster.url, PG_BIN: cluster.bin } : {}) };
    const done = spawnSync(process.execPath, [join(distFolder, 'bench.mjs'), ...args], { stdio: 'inherit', cwd: root, env });
    process.exitCode = done.status ?? 1;
  } finally {
    cluster?.stop();
    if (data) rmSync(data, { recursive: true, force: true });
  }
}
