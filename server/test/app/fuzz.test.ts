import { afterAll, beforeAll, expect, it } from 'vitest';
import type { FastifyInstance } from 'fastify';
import { fuzzAt } from '../../../tools/src/fuzz/atServer';
import { recomputeStanding } from '../../src';
import { Person, station, type Station } from '../testing/station';

/** Few enough for every run of the tests; `npm run fuzz -- --requests 10000 --seed N` sends more. */
const REQUESTS = 500;
const SEED = 20261127;
/** What hangs is found; how fast it answers on a busy machine is nobody's fault. */
const BUSY_MS = 60_000;

let s: Station;
let app: FastifyInstance;
beforeAll(async () => {
  s = await station();
  app = await s.serve();
});
afterAll(() => s.close());

it('five hundred requests from the server’s own description: none answers 5xx, none hangs, none writes half', async () => {
  await (await new Person(app).signIn('tester')).open(s);
  const done = await fuzzAt(app, s.connection.pool, REQUESTS, SEED, BUSY_MS);
  console.log(`fuzz: ${String(done.requests)} requests, seed ${String(SEED)}, ${JSON.stringify(done.byStatus)}, slowest ${done.slowestMs.toFixed(0)} ms`);
  expect(done.faults).toEqual([]);
  expect(done.accepted).toBeGreaterThan(REQUESTS / 10);
  expect(await recomputeStanding(s.connection.db)).toEqual([]);
}, 300_000);
