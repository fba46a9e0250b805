import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ownerAccess } from './machine/embedded.mjs';
import { ensurePackages } from './machine/packages.mjs';
import { root } from './machine/paths.mjs';
import { Stop } from './machine/say.mjs';

ensurePackages();
const args = process.argv.slice(2);
const { buildPrograms, distFolder } = await import('./build.mjs');
await buildPrograms();
// A bundle needs no database, and neither does help.
const options = ['--anchors', '--certificate', '--export'];
const bundle = args.some((a, i) => !a.startsWith('--') && !options.includes(args[i - 1] ?? ''));
try {
  const access = bundle || args.includes('--help') ? null : await ownerAccess();
  try {
    const anchors = access?.folder ? { ANCHOR_FILE: process.env.ANCHOR_FILE ?? join(access.folder, 'anchors.jsonl') } : {};
    const env = { ...process.env, ...anchors, ...(access ? { VERIFY_URL: access.url } : {}) };
    const done = spawnSync(process.execPath, [join(distFolder, 'verify.mjs'), ...args], { stdio: 'inherit', cwd: process.env.INIT_CWD ?? root, env });
    process.exitCode = done.status ?? 2;
  } finally {
    access?.stop();
  }
} catch (error) {
  process.stderr.write(`${error instanceof Stop ? error.message : (error?.stack ?? error)}\n`);
  process.exitCode = 2;
}
