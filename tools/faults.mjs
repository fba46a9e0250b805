import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensurePostgres } from './machine/debian.mjs';
import { ensurePackages } from './machine/packages.mjs';
import { root } from './machine/paths.mjs';

ensurePackages();
ensurePostgres();
const { buildPrograms, distFolder } = await import('./build.mjs');
await buildPrograms();
const done = spawnSync(process.execPath, [join(distFolder, 'faults.mjs'), ...process.argv.slice(2)], {
  stdio: 'inherit',
  cwd: root,
  env: { ...process.env, ROOT: root },
});
process.exitCode = done.status ?? 1;
