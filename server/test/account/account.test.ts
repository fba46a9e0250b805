import { spawnSync } from 'node:child_process';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { FastifyInstance } from 'fastify';
import { bareConfig, build } from '../../src';
import { HeldClock } from '../testing/speaker';
import { Person, station, type Station } from '../testing/station';

let s: Station;
let app: FastifyInstance;
const clock = new HeldClock('2026-11-25T08:00:00Z');
beforeAll(async () => {
  s = await station();
  app = await s.serve({}, clock);
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

  const attempt = (password: string, remoteAddress = '127.0.0.1', name = 'officer') =>
    app.inject({ method: 'POST', url: '/api/session', payload: { name, password }, remoteAddress });

  it('slows a guesser down for that name from that address, never more than a minute, and keeps the owner out nowhere else', async () => {
    const tries: number[] = [];
    for (let i = 0; i < 12; i++) tries.push((await attempt('wrong', '10.0.0.9')).statusCode);
    expect(tries.slice(0, 4)).toEqual([401, 401, 401, 401]);
    expect(tries.slice(4)).toEqual(tries.slice(4).map(() => 429));
    const told = await attempt('officer-password', '10.0.0.9');
    expect(told.statusCode).toBe(429);
    expect(Number(told.headers['retry-after'])).toBeGreaterThan(0);
    expect((await attempt('officer-password')).statusCode).toBe(200);
    // However long it goes on, a minute's wait is all that stands between the owner and the door.
    for (let i = 0; i < 20; i++) {
      clock.ms += 61_000;
      expect((await attempt('wrong', '10.0.0.9')).statusCode).toBe(401);
    }
    clock.ms += 61_000;
    expect((await attempt('officer-password', '10.0.0.9')).statusCode).toBe(200);
  });

  it('counts guesses that come at the same time', async () => {
    const statuses = (await Promise.all(Array.from({ length: 16 }, (_, i) => attempt(`guess ${String(i)}`, '10.0.0.10')))).map((r) => r.statusCode);
    expect(statuses.filter((n) => n === 401).length).toBeLessThanOrEqual(5);
    expect(statuses.filter((n) => n === 429).length).toBeGreaterThanOrEqual(11);
  });

  it('believes a forwarded address of the declared proxy alone', async () => {
    const behind = await s.serve({ proxies: ['10.9.9.9'] }, clock);
    const through = (proxy: string, forwarded: string) =>
      behind.inject({
        method: 'POST',
        url: '/api/session',
        payload: { name: 'tester', password: 'wrong' },
        remoteAddress: proxy,
        headers: { 'x-forwarded-for': forwarded },
      });
    // A stranger names a new address with every guess: it is the stranger's own that counts.
    const stranger: number[] = [];
    for (let i = 0; i < 6; i++) stranger.push((await through('10.1.1.1', `192.0.2.${String(i)}`)).statusCode);
    expect(stranger.at(-1)).toBe(429);
    const proxied: number[] = [];
    for (let i = 0; i < 6; i++) proxied.push((await through('10.9.9.9', `192.0.2.${String(i)}`)).statusCode);
    expect(proxied).toEqual(proxied.map(() => 401));
  });

  it('ends a session at sign-out and after twelve hours', async () => {
    const person = await new Person(app).signIn('reader');
    expect((await person.ask('GET', '/api/session')).status).toBe(200);
    clock.ms += 12 * 3_600_000 + 1;
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
    // A calendar's link carries its own secret: a calendar program cannot sign in. What a device took along has one too: it is asked for before anybody signs in.
    const open = ['/api/health', '/api/session', '/api/first-officer', '/api/verify', '/api/calendar/{secret}.ics', '/api/along/{id}/state'];
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

describe('people', () => {
  let officer: Person;
  beforeAll(async () => {
    officer = await new Person(app).signIn('officer');
  });
  const signIn = async (name: string, password: string) => {
    const person = new Person(app);
    return { status: await person.signInAs(name, password), person };
  };

  it('are added with a password for once, which has to be changed before anything else', async () => {
    const made = await officer.ask<{ id: string; password: string }>('POST', '/api/people', { name: 'ines', fullName: 'Ines Halvard', role: 'tester' });
    expect(made.status).toBe(201);
    expect(made.body.password).toMatch(/^([a-z2-9]{4}-){3}[a-z2-9]{4}$/);
    const { person } = await signIn('ines', made.body.password);
    expect((await person.ask('GET', '/api/session')).body).toMatchObject({ name: 'ines', mustChange: true });
    expect(await person.ask('GET', '/api/today')).toMatchObject({ status: 403, body: { code: 'password.mustChange' } });
    expect(await person.ask('POST', '/api/me/password', { old: 'another', password: 'red kite over Skarvoy' })).toMatchObject({
      status: 403,
      body: { code: 'password.wrong' },
    });
    for (const common of ['passwordpassword', 'qwertyuiopas', 'ineshalvard12', 'Password1234'])
      expect(await person.ask('POST', '/api/me/password', { old: made.body.password, password: common })).toMatchObject({
        status: 400,
        body: { code: 'password.common' },
      });
    expect(await person.ask('POST', '/api/me/password', { old: made.body.password, password: 'short' })).toMatchObject({
      status: 400,
      body: { code: 'malformed' },
    });
    expect((await person.ask('POST', '/api/me/password', { old: made.body.password, password: 'red kite over Skarvoy' })).status).toBe(204);
    expect((await person.ask('GET', '/api/today')).status).toBe(200);
    expect((await signIn('ines', made.body.password)).status).toBe(401);
    expect((await officer.ask('POST', '/api/people', { name: 'ines', fullName: 'Another', role: 'reader' })).body).toMatchObject({ code: 'account.exists' });
  });

  it('who are disabled are out at once, with every session, and come back when the officer undoes it', async () => {
    const { body } = await officer.ask<{ id: string; password: string }>('POST', '/api/people', { name: 'olu', fullName: 'Olu Brekke', role: 'reader' });
    const { person } = await signIn('olu', body.password);
    const done = await officer.ask<{ change: string }>('PATCH', `/api/people/${body.id}`, { disabled: true });
    expect(await person.ask('GET', '/api/session')).toMatchObject({ status: 401 });
    expect((await signIn('olu', body.password)).status).toBe(401);
    expect((await officer.ask('POST', `/api/changes/${done.body.change}/undo`)).status).toBe(200);
    expect((await signIn('olu', body.password)).status).toBe(200);
    const { rows } = await s.connection.pool.query<{ rows: unknown }>("SELECT rows FROM change WHERE rows::text LIKE '%olu%'");
    expect(JSON.stringify(rows)).not.toContain('argon2');
  });

  it('always leave one officer who can sign in, even when two disable one another at the same time', async () => {
    const me = (await officer.ask<{ id: string }>('GET', '/api/session')).body.id;
    expect(await officer.ask('PATCH', `/api/people/${me}`, { disabled: true })).toMatchObject({ status: 409, body: { code: 'account.lastOfficer' } });
    expect(await officer.ask('PATCH', `/api/people/${me}`, { role: 'reader' })).toMatchObject({ status: 409, body: { code: 'account.lastOfficer' } });
    const { body } = await officer.ask<{ id: string; password: string }>('POST', '/api/people', {
      name: 'second',
      fullName: 'Second Officer',
      role: 'officer',
    });
    const { person } = await signIn('second', body.password);
    await person.ask('POST', '/api/me/password', { old: body.password, password: 'four grey seals asleep' });
    const both = await Promise.all([
      officer.ask('PATCH', `/api/people/${body.id}`, { disabled: true }),
      person.ask('PATCH', `/api/people/${me}`, { disabled: true }),
    ]);
    expect(both.filter((b) => b.status === 200)).toHaveLength(1);
    const { rows } = await s.connection.pool.query("SELECT 1 FROM account WHERE role = 'officer' AND disabled_at IS NULL");
    expect(rows).toHaveLength(1);
    await s.connection.pool.query("UPDATE account SET disabled_at = now() WHERE name = 'second'");
    await s.connection.pool.query("UPDATE account SET disabled_at = NULL WHERE name = 'officer'");
    officer = await new Person(app).signIn('officer');
  });

  it('see where they are signed in, and end it', async () => {
    const [here, there] = [await new Person(app).signIn('reader'), await new Person(app).signIn('reader')];
    const listed = (await here.ask<{ id: string; current: boolean; address: string }[]>('GET', '/api/me/sessions')).body;
    expect(listed.filter((l) => l.current)).toHaveLength(1);
    const other = (await there.ask<{ id: string; current: boolean }[]>('GET', '/api/me/sessions')).body.find((l) => l.current);
    expect((await officer.ask('DELETE', `/api/me/sessions/${other?.id ?? ''}`)).body).toMatchObject({ code: 'session.unknown' });
    expect((await here.ask('DELETE', `/api/me/sessions/${other?.id ?? ''}`)).status).toBe(204);
    expect((await there.ask('GET', '/api/session')).status).toBe(401);
    expect((await here.ask('GET', '/api/session')).status).toBe(200);
  });

  it('have one authorisation in force for a procedure, whoever grants at the same time', async () => {
    const me = (await officer.ask<{ id: string }>('GET', '/api/session')).body.id;
    const grant = () => officer.ask('POST', '/api/authorisations', { account: me, procedures: ['suit.inflation'], until: '2030-01-01', stamp: 'O' });
    expect((await Promise.all([grant(), grant(), grant(), grant()])).map((g) => g.status)).toEqual([201, 201, 201, 201]);
    const { rows } = await s.connection.pool.query("SELECT 1 FROM authorisation WHERE account = $1 AND procedure = 'suit.inflation' AND withdrawn_at IS NULL", [
      me,
    ]);
    expect(rows).toHaveLength(1);
  });
});

describe('a machine whose clock jumps', () => {
  it('ahead by three days signs nobody out, and back by three does not let a session last longer', async () => {
    const jumping = new HeldClock('2026-11-25T08:00:00Z');
    const jumpy = await s.serve({}, jumping);
    const person = await new Person(jumpy).signIn('reader');
    jumping.set(3 * 86_400_000);
    expect((await person.ask('GET', '/api/today')).status).toBe(200);
    jumping.set(-6 * 86_400_000);
    jumping.ms += 12 * 3_600_000 + 1;
    expect((await person.ask('GET', '/api/today')).status).toBe(401);
  });
});

describe('the first officer of an empty database', () => {
  it('is made once, with the word that the start command printed', async () => {
    const empty = await station({ people: false });
    const fresh = await empty.serve({ firstToken: 'the word' });
    const make = (token: string, name = 'chief') =>
      fresh.inject({ method: 'POST', url: '/api/first-officer', payload: { token, name, fullName: 'The Chief', password: 'red kite over Skarvoy' } });
    expect((await fresh.inject({ method: 'GET', url: '/api/health' })).json()).toMatchObject({ empty: true });
    expect((await make('another')).json()).toMatchObject({ code: 'first.token' });
    const both = await Promise.all([make('the word'), make('the word', 'rival')]);
    expect(both.map((b) => b.statusCode).sort()).toEqual([204, 409]);
    expect((await make('the word', 'third')).json()).toMatchObject({ code: 'first.done' });
    expect((await fresh.inject({ method: 'GET', url: '/api/health' })).json()).toMatchObject({ empty: false });
    const shut = await empty.serve();
    expect(
      (
        await shut.inject({
          method: 'POST',
          url: '/api/first-officer',
          payload: { token: 'null', name: 'x', fullName: 'X', password: 'red kite over Skarvoy' },
        })
      ).json(),
    ).toMatchObject({ code: 'first.token' });
    await empty.close();
  });
});

describe('npm run account', () => {
  const make = (args: readonly string[], password: string) =>
    spawnSync(process.execPath, [new URL('../../../tools/account.mjs', import.meta.url).pathname, ...args], {
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
    await expect(build(bareConfig(demo.url, { host: '0.0.0.0' }))).rejects.toThrow('loopback');
    const here = await demo.serve();
    expect((await here.inject({ method: 'GET', url: '/api/health', headers: { host: 'localhost:4600' } })).statusCode).toBe(200);
    expect((await here.inject({ method: 'GET', url: '/api/health', headers: { host: 'grellin.example' } })).json()).toMatchObject({ code: 'host.foreign' });
    expect((await here.inject({ method: 'GET', url: '/api/health', headers: { host: 'localhost', 'x-forwarded-for': '10.0.0.9' } })).json()).toMatchObject({
      code: 'host.foreign',
    });
    await demo.close();
  });
});
