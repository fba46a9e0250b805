import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { run } from './command.mjs';
import { root } from './paths.mjs';
import { say } from './say.mjs';

const stamp = join(root, 'node_modules', '.grellin-lock');

function lockHash() {
  return createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
}

/** Installs the packages when they are missing or the lock has changed since. Install scripts are not run: none is needed. */
export function ensurePackages() {
  const wanted = lockHash();
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
  say('installing the packages');
  run('npm', ['ci', '--ignore-scripts', '--no-audit', '--no-fund', '--loglevel=error'], { cwd: root, stdio: ['ignore', 'inherit', 'inherit'] });
  writeFileSync(stamp, wanted);
}
