import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import type { FastifyInstance } from 'fastify';
import { getTableColumns, getTableName, is } from 'drizzle-orm';
import { PgTable } from 'drizzle-orm/pg-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { errorCodes } from '../../src';
import * as schema from '../../src/db/table/index';
import { Pen, Person, station, type Station } from '../testing/station';

let s: Station;
let app: FastifyInstance;
let officer: Person;
let runId: string;
beforeAll(async () => {
  s = await station();
  app = await s.serve();
  officer = await new Person(app).signIn('officer');
  runId = (await officer.open(s)).id;
  // Closed, so that even what is still well-formed after spoiling may not be written.
  await officer.ask('POST', `/api/runs/${runId}/events`, { lease: 1, events: [new Pen('bench:end').write(0, { kind: 'abandoned', reason: 'for the test' })] });
});
afterAll(() => s.close());

const counts = async () =>
  (
    await s.connection.pool.query(
      'SELECT (SELECT count(*) FROM run) + (SELECT count(*) FROM run_event) + (SELECT count(*) FROM obligation) + (SELECT count(*) FROM record) AS n',
    )
  ).rows[0] as { n: string };

interface Route {
  readonly method: 'get' | 'post';
  readonly url: string;
  readonly good: Record<string, unknown>;
}

const none = '01a21210-5165-73ba-a61a-96e6123016d0';
const routes = (): Route[] => [
  { method: 'post', url: '/api/session', good: { name: 'x', password: 'y' } },
  { method: 'post', url: '/api/runs', good: { procedure: 'suit.inflation', ruleSet: 'in-h2o-4', assets: { suit: none }, instruments: { suit: none } } },
  {
    method: 'post',
    url: `/api/runs/${runId}/events`,
    good: { lease: 1, events: [new Pen().write(0, { kind: 'reading', channel: 'suit', quantity: { value: 1, unit: 'mbar' } })] },
  },
  {
    method: 'post',
    url: '/api/obligations',
    good: { asset: none, procedure: 'suit.inflation', ruleSet: 'in-h2o-4', interval: 'P1Y', counting: 'rolling', anchor: '2026-01-01' },
  },
  { method: 'post', url: `/api/instruments/${none}/rig`, good: { act: 'hand', move: 'fill', to: 1500 } },
];

/** Every place in a body, as a path of keys. */
function places(value: unknown, path: (string | number)[] = []): (string | number)[][] {
  if (Array.isArray(value)) return [path, ...value.flatMap((v, i) => places(v, [...path, i]))];
  if (typeof value === 'object' && value !== null) return [path, ...Object.entries(value).flatMap(([k, v]) => places(v, [...path, k]))];
  return [path];
}

function changed(body: unknown, path: readonly (string | number)[], to: unknown): unknown {
  if (path.length === 0) return to;
  const copy = structuredClone(body);
  let at = copy as Record<string | number, unknown>;
  for (const key of path.slice(0, -1)) at = at[key] as Record<string | number, unknown>;
  const last = path.at(-1) ?? '';
  if (to === undefined) Reflect.deleteProperty(at, last);
  else at[last] = to;
  return copy;
}

const bad: readonly unknown[] = [
  null,
  1e308,
  -1,
  0.5,
  1.2345678901234567,
  'x'.repeat(5000),
  'a\u0000b',
  '\ud800',
  '',
  ' ',
  true,
  [],
  {},
  [[]],
  { $ne: 1 },
  'constructor',
  '__proto__',
  '2026-02-30',
  'furlong',
  undefined,
];

describe('every edge of the API', () => {
  it('answers every spoiled body with a coded 4xx that names the path, and writes nothing', async () => {
    let tried = 0;
    let coded = 0;
    for (const route of routes()) {
      const before = await counts();
      for (const place of places(route.good))
        for (const value of bad) {
          const payload = changed(route.good, place, value);
          if (payload === undefined || JSON.stringify(payload) === JSON.stringify(route.good)) continue;
          const reply = await officer.ask<{ code?: string; flaws?: { path: string }[] }>('POST', route.url, payload);
          tried++;
          expect({ url: route.url, place, value, status: reply.status, code: reply.body.code }).toMatchObject({
            status: expect.toSatisfy((n: number) => n >= 400 && n < 500) as number,
            code: expect.any(String) as string,
          });
          if (reply.body.code !== 'malformed') continue;
          coded++;
          expect(reply.body.flaws?.length).toBeGreaterThan(0);
        }
      expect(await counts()).toEqual(before);
    }
    expect(tried).toBeGreaterThan(500);
    expect(coded / tried).toBeGreaterThan(0.7);
  }, 120_000);

  it('never answers 5xx, whatever JSON comes', async () => {
    await fc.assert(
      fc.asyncProperty(fc.jsonValue(), fc.nat({ max: 4 }), async (value, i) => {
        const route = routes()[i] as Route;
        const status = (await app.inject({ method: 'POST', url: route.url, headers: { 'content-type': 'application/json' }, payload: JSON.stringify(value) }))
          .statusCode;
        expect(status).toBeLessThan(500);
      }),
      { seed: 20261125, numRuns: 150 },
    );
  });

  it.each<[string, string, Record<string, string>, number, string]>([
    ['broken JSON', '{"a":', { 'content-type': 'application/json' }, 400, 'json'],
    ['another type', 'a=b', { 'content-type': 'application/x-www-form-urlencoded' }, 415, 'body.type'],
    ['a prototype', '{"__proto__":{"role":"officer"},"name":"a","password":"b"}', { 'content-type': 'application/json' }, 400, 'json'],
    ['a body without end', `{"name":"${'x'.repeat(1_100_000)}"}`, { 'content-type': 'application/json' }, 413, 'body.tooLarge'],
  ])('refuses %s', async (_what, payload, headers, status, code) => {
    const reply = await app.inject({ method: 'POST', url: '/api/session', headers, payload });
    expect([reply.statusCode, reply.json<{ code: string }>().code]).toEqual([status, code]);
  });

  it.each([
    ['/api/runs/not-an-id', 400],
    [`/api/runs/${none}`, 404],
    [`/api/runs/${none}/events`, 404],
    [`/api/runs/${none}/events?after=x`, 400],
    [`/api/runs/${none}/events?before=1`, 400],
    ['/api/assets/%00', 400],
    ['/api/records/GR-0000-00000', 404],
    ['/api/records/GR-0000-00000/certificate.pdf', 404],
    ['/api/elsewhere', 404],
  ])('%s: %s', async (url, status) => {
    const reply = await officer.ask<{ code: string }>('GET', url);
    expect(reply.status).toBe(status);
    expect(reply.body.code).toEqual(expect.any(String));
  });
});

describe('documents and code agree', () => {
  it('docs/errors.md explains every error code, and no other', () => {
    const text = readFileSync(new URL('../../../docs/errors.md', import.meta.url), 'utf8');
    const documented = [...text.matchAll(/^\| `([a-zA-Z.]+)` \| (\d{3}) \|/gm)].map((m) => [m[1], Number(m[2])]);
    expect(Object.fromEntries(documented)).toEqual(errorCodes);
  });

  it('the tables in the code are the tables in the database', async () => {
    const { rows } = await s.connection.pool.query<{ table_name: string; column_name: string; is_nullable: string }>(
      "SELECT table_name, column_name, is_nullable FROM information_schema.columns WHERE table_schema = 'public'",
    );
    for (const table of Object.values(schema).filter((t): t is never => is(t, PgTable))) {
      const columns = Object.values(getTableColumns(table as PgTable)).map((c) => `${c.name} ${c.notNull ? 'NO' : 'YES'}`);
      const stored = rows.filter((r) => r.table_name === getTableName(table as PgTable)).map((r) => `${r.column_name} ${r.is_nullable}`);
      expect([getTableName(table as PgTable), columns.sort()]).toEqual([getTableName(table as PgTable), stored.sort()]);
    }
  });

  it('the OpenAPI document describes bodies and paths', async () => {
    const spec = (await app.inject({ method: 'GET', url: '/api/openapi.json' })).json<{
      openapi: string;
      paths: Record<string, { post?: { requestBody?: { content: Record<string, { schema: { required: string[]; additionalProperties: boolean } }> } } }>;
    }>();
    expect(spec.openapi).toBe('3.1.0');
    const body = spec.paths['/api/runs']?.post?.requestBody?.content['application/json']?.schema;
    expect(body).toMatchObject({ required: ['procedure', 'ruleSet', 'assets', 'instruments'], additionalProperties: false });
  });
});
