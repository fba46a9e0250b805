import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';

const root = fileURLToPath(new URL('../..', import.meta.url));

it('six kills of server, instruments, PostgreSQL and connections lose, double and reorder nothing', () => {
  const done = spawnSync(process.execPath, ['tools/faults.mjs', '--kills', '6', '--seed', '3'], { cwd: root, encoding: 'utf8', timeout: 280_000 });
  console.log(done.stdout);
  expect(done.stderr).not.toContain('Error');
  expect(done.stdout).toContain('0 faults in the chains; 0 items stood otherwise than recomputed');
  expect(done.status).toBe(0);
}, 300_000);
