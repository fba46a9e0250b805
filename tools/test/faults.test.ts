import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { expect, it } from 'vitest';
import { sized } from '../../core/test/testing/turn';

const root = fileURLToPath(new URL('../..', import.meta.url));

// Of the four things that can be killed each is, once at least.
const kills = sized(6, 4);

it(`${String(kills)} kills of server, instruments, PostgreSQL and connections lose, double and reorder nothing`, () => {
  const done = spawnSync(process.execPath, ['tools/faults.mjs', '--kills', String(kills), '--seed', '3'], { cwd: root, encoding: 'utf8', timeout: 280_000 });
  console.log(done.stdout);
  expect(done.stderr).not.toContain('Error');
  expect(done.stdout).toContain('0 faults in the chains; 0 items stood otherwise than recomputed');
  expect(done.status).toBe(0);
}, 300_000);
