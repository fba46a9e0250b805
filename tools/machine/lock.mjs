import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Stop } from './say.mjs';

function alive(pid) {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
}

/**
 * Keeps a second start out of the same data. A lock whose process is gone is taken over.
 * @returns what gives the lock back
 */
export function takeLock(folder, what) {
  mkdirSync(folder, { recursive: true });
  const file = join(folder, 'lock');
  for (let attempt = 0; attempt < 2; attempt++) {
    try {
      writeFileSync(file, String(process.pid), { flag: 'wx' });
      return () => rmSync(file, { force: true });
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
      const pid = Number(readFileSync(file, 'utf8'));
      if (pid > 0 && pid !== process.pid && alive(pid)) throw new Stop(`${what} is already running in this checkout (process ${pid}).`);
      rmSync(file, { force: true });
    }
  }
  throw new Stop(`The lock ${file} cannot be taken.`);
}
