import { gzipSync } from 'node:zlib';
import { expect } from '@playwright/test';
import { test } from './testing/signedIn';

/** What anybody may fetch before the first page stands there: kB of JavaScript, as gzip makes it. */
const MOST_KB = 200;

test('the first page asks for at most 200 kB of JavaScript', async ({ api }) => {
  const page = await (await api.get('/sign-in')).text();
  const scripts = [...page.matchAll(/(?:src|href)="([^"]+\.js)"/g)].map((m) => m[1] ?? '');
  expect(scripts.length).toBeGreaterThan(0);
  // What those import in turn without waiting is fetched too.
  const all = new Map<string, number>();
  const wanted = [...new Set(scripts)];
  for (let name = wanted.shift(); name !== undefined; name = wanted.shift()) {
    const path = name.replace(/^\.?\//, '');
    if (all.has(path)) continue;
    const answer = await api.get(`/${path}`);
    expect([path, answer.status()]).toEqual([path, 200]);
    const body = await answer.body();
    all.set(path, gzipSync(body).length / 1000);
    for (const m of body.toString('utf8').matchAll(/(?:from|import)"\.\/([\w-]+\.js)"/g)) wanted.push(m[1] ?? '');
  }
  const kB = [...all.values()].reduce((sum, n) => sum + n, 0);
  process.stdout.write(`first page: ${kB.toFixed(0)} kB of JavaScript in ${String(all.size)} files\n`);
  expect(kB).toBeGreaterThan(50);
  expect(kB).toBeLessThanOrEqual(MOST_KB);
});
