import { spawnSync } from 'node:child_process';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { FastifyInstance } from 'fastify';
import { build } from '../src';
import { Person, station, type Station } from './testing/station';

let s: Station;
let app: FastifyInstance;
let now = new Date('2026-11-25T08:00:00Z');
beforeAll(async () => {
  s = await station();
  app = await s.serve({}, () => now);
});
afterAll(() => s.close());

describe('signing in', () => {
  it('sets a cookie that scripts and other sites cannot use', async () => {
    const reply = await app.inject({ method: 'POST', url: '/api/session', payload: { name: 'tester', password: 'tester-password' } });
    expect(reply.statusCode).toBe(200);
    expect(reply.cookies[0]).toMatchObject({ name: 'grellin_session', httpOnly: true, sameSite: 'Strict', path: '/' });
    expect(reply.json()).toMatchObject({ name: 'tester', role: 'tester' });
  });

  it('keeps the token’s hash and the password’s argon2id hash, never either itself', async () => {
    const { rows } = await s.connection.pool.query<{ password_hash: string }>('SELECT password_hash FROM account');
    expect(rows.every((r) => r.password_hash.startsWith('$argon2id$'))).toBe(true);
    const reply = await app.inject({ method: 'POST', url: '/api/session', payload: { name: 'reader', password: 'reader-password' } });
    const { rows: found } = await s.connection.pool.query('SELECT 1 FROM session WHERE token_hash = $1', [reply.cookies[0]?.value]);
    expect(found).toEqual([]);
  });

  it('tells a wrong name and a wrong password apart to nobody', async () => {
    const wrong = async (name: string, password: string) =>
      (await app.inject({ method: 'POST', url: '/api/session', payload: { name, password } })).json<Record<string, unknown>>();
    expect(await wrong('nobody', 'x')).toEqual(await wrong('officer', 'x'));
  });

  it('limits attempts, and forgets them after a quarter of an hour', async () => {
    const attempt = async (password: string) => (await app.inject({ method: 'POST', url: '/api/session', payload: { name: 'officer', password } })).statusCode;
    const tries: number[] = [];
    for (let i = 0; i < 9; i++) tries.push(await attempt('wrong'));
    expect(tries).toContain(429);
    expect(await attempt('officer-password')).toBe(429);
    now = new Date(now.getTime() + 16 * 60_000);
    expect(await attempt('officer-password')).toBe(200);
  });

  it('ends a session at sign-out and after twelve hours', async () => {
    const person = await new Person(app).signIn('reader');
    expect((await person.ask('GET', '/api/session')).status).toBe(200);
    now = new Date(now.getTime() + 12 * 3_600_000 + 1);
    expect(await person.ask('GET', '/api/session')).toMatchObject({ status: 401, body: { code: 'session.none' } });
    const again = await new Person(app).signIn('reader');
    expect((await again.ask('DELETE', '/api/session')).status).toBe(204);
    expect((await again.ask('GET', '/api/session')).status).toBe(401);
  });
});

describe('who may do what', () => {
  it.each([
    ['reader', 'GET', '/api/today', 200],
    ['reader', 'POST', '/api/runs', 403],
    ['tester', 'POST', '/api/obligations', 403],
  ] as const)('%s, %s %s: %s', async (role, method, url, status) => {
    const person = await new Person(app).signIn(role);
    expect((await person.ask(method, url, method === 'POST' ? {} : undefined)).status).toBe(status);
  });

  it('every route of the API asks for a session unless it says otherwise', async () => {
    const spec = (await app.inject({ method: 'GET', url: '/api/openapi.json' })).json<{ paths: Record<string, Record<string, unknown>> }>();
    // A calendar's link carries its own secret: a calendar program cannot sign in.
    const open = ['/api/health', '/api/session', '/api/calendar/{secret}.ics'];
    for (const [path, methods] of Object.entries(spec.paths))
      for (const method of Object.keys(methods)) {
        if (open.includes(path)) continue;
        const url = path.replaceAll(/\{[^}]+\}/g, '01a21210-5165-73ba-a61a-96e6123016d0');
        const reply = await app.inject({ method: method.toUpperCase() as 'GET', url, ...(method === 'post' ? { payload: {} } : {}) });
        expect({ url, method, status: reply.statusCode }).toEqual({ url, method, status: 401 });
      }
    expect(Object.keys(spec.paths).length).toBeGreaterThan(12);
  });

  it('refuses a request from another site', async () => {
    const person = await new Person(app).signIn('tester');
    expect(await person.ask('POST', '/api/runs', {}, { origin: 'http://elsewhere.example' })).toMatchObject({ status: 403, body: { code: 'origin.foreign' } });
    expect(await person.ask('POST', '/api/runs', {}, { 'sec-fetch-site': 'cross-site' })).toMatchObject({ status: 403, body: { code: 'origin.foreign' } });
    expect((await person.ask('POST', '/api/runs', {}, { origin: 'http://localhost:4600', host: 'localhost:4600' })).body).toMatchObject({ code: 'malformed' });
  });
});

describe('npm run account', () => {
  const make = (args: readonly string[], password: string) =>
    spawnSync(process.execPath, [new URL('../../tools/account.mjs', import.meta.url).pathname, ...args], {
      encoding: 'utf8',
      env: { ...process.env, DATABASE_URL: s.url, GRELLIN_PASSWORD: password },
    });

  it('makes the first officer of a database of one’s own', async () => {
    expect(make(['chief', 'The Chief', 'officer'], 'long enough a password').stdout).toContain('officer chief can sign in');
    const reply = await app.inject({ method: 'POST', url: '/api/session', payload: { name: 'chief', password: 'long enough a password' } });
    expect(reply.json()).toMatchObject({ role: 'officer' });
    expect(make(['chief', 'The Chief', 'officer'], 'long enough a password')).toMatchObject({ status: 2 });
    expect(make(['short', 'Too Short', 'officer'], 'short').stderr).toContain('password: is too small');
    expect(make(['x', 'y', 'king'], 'long enough a password').stderr).toContain('role: is not one of the choices');
  });
});

describe('demo accounts', () => {
  it('refuse to start on anything but loopback', async () => {
    const demo = await station({ demo: true });
    const config = { databaseUrl: demo.url, port: 0, webFolder: null, instruments: {}, proxies: null, log: false };
    await expect(build({ ...config, host: '0.0.0.0' })).rejects.toThrow('loopback');
    const here = await demo.serve();
    expect((await here.inject({ method: 'GET', url: '/api/health', headers: { host: 'localhost:4600' } })).statusCode).toBe(200);
    expect((await here.inject({ method: 'GET', url: '/api/health', headers: { host: 'grellin.example' } })).json()).toMatchObject({ code: 'host.foreign' });
    expect((await here.inject({ method: 'GET', url: '/api/health', headers: { host: 'localhost', 'x-forwarded-for': '10.0.0.9' } })).json()).toMatchObject({
      code: 'host.foreign',
    });
    await demo.close();
  });
});
