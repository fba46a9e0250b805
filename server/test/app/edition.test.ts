import { API_EDITION, EDITION_HEADER, OLDEST_API_EDITION } from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Person, station, type Station } from '../testing/station';

let s: Station;
let app: FastifyInstance;
let tester: Person;
beforeAll(async () => {
  s = await station();
  app = await s.serve();
  tester = await new Person(app).signIn('tester');
});
afterAll(() => s.close());

const asked = (said: string, method: 'GET' | 'POST' = 'GET', url = '/api/runs', body?: unknown) =>
  tester.ask<{ code?: string }>(method, url, body, { [EDITION_HEADER]: said });

describe('the edition of a page', () => {
  it('is understood with the one before it, and what says none is a program', async () => {
    expect(OLDEST_API_EDITION).toBe(API_EDITION - 1);
    for (const said of [API_EDITION, API_EDITION - 1, API_EDITION + 1]) expect((await asked(String(said))).status).toBe(200);
    expect((await tester.ask('GET', '/api/runs')).status).toBe(200);
  });

  it('is answered as by a server that is away where it is too old or no number: nothing is done, and nothing of the page’s is refused for good', async () => {
    const run = await tester.open(s);
    for (const said of [String(OLDEST_API_EDITION - 1), '-1', 'newest', '1e9', '9999999']) {
      const began = { id: 'b1', source: 'bench:x', n: 1, at: 0, kind: 'began', stage: 'gather', attempt: 1 };
      const answer = await asked(said, 'POST', `/api/runs/${run.id}/events`, { lease: run.lease, events: [began] });
      expect([answer.status, answer.body.code, answer.headers['retry-after']]).toEqual([503, 'page.old', '1']);
    }
    expect((await tester.ask<{ seq: number; closed: boolean }>('GET', `/api/runs/${run.id}`)).body.closed).toBe(false);
    expect((await asked('0', 'GET', '/api/health')).status).toBe(503);
  });
});
