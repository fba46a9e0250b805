import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { ensurePackages } from './machine/packages.mjs';
import { root } from './machine/paths.mjs';

ensurePackages();
const { buildPrograms, distFolder } = await import('./build.mjs');
await buildPrograms();
const done = spawnSync(process.execPath, [join(distFolder, 'bench.mjs'), ...process.argv.slice(2)], { stdio: 'inherit', cwd: root });
process.exitCode = done.status ?? 1;
