import { randomBytes, createHash } from 'node:crypto';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { Agent, request as ask } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Fastify, { type FastifyInstance } from 'fastify';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { guard } from '../../src/account/guard';
import { inTurn } from '../../../core/test/testing/turn';
import { station, type Station } from '../testing/station';

type Who = 'nobody' | 'reader' | 'tester' | 'officer';
const people: readonly Who[] = ['nobody', 'reader', 'tester', 'officer'];
const rank = { anyone: 0, nobody: 0, reader: 1, tester: 2, officer: 3 } as const;
const none = '01a21210-5165-73ba-a61a-96e6123016d0';

let s: Station;
let app: FastifyInstance;
let folder: string;
let port: number;
const agent = new Agent({ keepAlive: true, maxSockets: 8 });
const accounts = new Map<string, string>();

beforeAll(async () => {
  s = await station();
  folder = await mkdtemp(join(tmpdir(), 'grellin-web-'));
  await writeFile(join(folder, 'index.html'), '<html>the page</html>');
  await writeFile(join(folder, 'main-ABCDEFGH.js'), 'export {};');
  app = await s.serve({ webFolder: folder });
  await app.listen({ port: 0, host: '127.0.0.1' });
  port = (app.server.address() as AddressInfo).port;
  const { rows } = await s.connection.pool.query<{ name: string; id: string }>('SELECT name, id FROM account');
  for (const r of rows) accounts.set(r.name, r.id);
});
afterAll(async () => {
  agent.destroy();
  await s.close();
  await rm(folder, { recursive: true });
});

/** A session without a password: the matrix signs in some thousands of times. */
async function sessionFor(who: Who): Promise<string> {
  if (who === 'nobody') return '';
  const token = randomBytes(32).toString('base64url');
  await s.connection.pool.query("INSERT INTO session (token_hash, account, expires_at) VALUES ($1, $2, now() + interval '1 hour')", [
    createHash('sha256').update(token).digest('hex'),
    accounts.get(who),
  ]);
  return `grellin_session=${token}`;
}

interface Answer {
  readonly status: number;
  readonly code: string | undefined;
  readonly type: string;
  readonly cache: string;
}

/** One request with its path exactly as it is written: no client puts it right. */
function send(method: string, path: string, headers: Record<string, string>): Promise<Answer> {
  return new Promise((resolve, reject) => {
    const body = method === 'GET' || method === 'HEAD' || method === 'OPTIONS' || method === 'DELETE' ? undefined : '{}';
    const sent = ask(
      {
        host: '127.0.0.1',
        port,
        method,
        path,
        agent,
        headers: { ...headers, ...(body === undefined ? {} : { 'content-type': 'application/json', 'content-length': '2' }) },
      },
      (reply) => {
        const type = String(reply.headers['content-type']);
        let text = '';
        reply.on('data', (part: Buffer) => (text += part.toString('latin1')));
        reply.on('end', () => {
          let code: string | undefined;
          if (type.startsWith('application/json') && text !== '') code = (JSON.parse(text) as { code?: string } | null)?.code;
          resolve({ status: reply.statusCode ?? 0, code, type, cache: String(reply.headers['cache-control']) });
        });
        reply.on('error', reject);
      },
    );
    sent.on('error', reject);
    sent.setTimeout(20_000, () => sent.destroy(new Error(`${method} ${path} has no end`)));
    sent.end(body);
  });
}

const hex = (text: string): string => Array.from(text, (c) => `%${c.charCodeAt(0).toString(16)}`).join('');
/** Ways to write a path that some router somewhere takes for the same one. */
const spellings: readonly (readonly [string, (path: string) => string])[] = [
  ['plain', (p) => p],
  ['one letter encoded', (p) => p.replace('/a', '/%61')],
  ['every letter encoded', (p) => p.replace(/[a-z]+/g, hex)],
  ['encoded twice', (p) => p.replace('/a', '/%2561')],
  ['slash encoded', (p) => `/${p.slice(1).replace('/', '%2f')}`],
  ['slashes doubled', (p) => p.replaceAll('/', '//')],
  ['dot segments', (p) => `/x/..${p}`],
  ['a dot segment', (p) => `/.${p}`],
  ['dot segments encoded', (p) => `/x/%2e%2e${p}`],
  ['absolute form', (p) => `http://127.0.0.1:${port}${p}`],
  ['absolute form of elsewhere', (p) => `http://elsewhere.example${p}`],
  ['another case', (p) => p.replace('/api', '/API')],
  ['trailing slash', (p) => `${p}/`],
  ['a question behind', (p) => `${p}?x=1`],
  ['a semicolon behind', (p) => `${p};x=1`],
];
const origins: readonly (readonly [string, () => Record<string, string>, boolean])[] = [
  ['none', () => ({}), true],
  ['own', () => ({ origin: `http://127.0.0.1:${port}` }), true],
  ['of another site', () => ({ origin: 'http://elsewhere.example' }), false],
  ['of another scheme', () => ({ origin: `https://127.0.0.1:${port}` }), false],
  ['of another port', () => ({ origin: 'http://127.0.0.1:1' }), false],
  ['null', () => ({ origin: 'null' }), false],
  ['fetched across sites', () => ({ 'sec-fetch-site': 'cross-site' }), false],
  ['fetched within the site', () => ({ 'sec-fetch-site': 'same-site' }), false],
];
const concrete = (url: string): string =>
  url
    .replace(':number', 'GR-0000-00000')
    .replace(/:secret/, 'x')
    .replace(/:[a-z]+/gi, none);
const isSafe = (method: string): boolean => ['GET', 'HEAD', 'OPTIONS'].includes(method);

describe('every route, for everybody, from everywhere, however it is spelled', () => {
  it('lets nobody in who may not, and tells strangers apart from routes that are not there', async () => {
    const routes = app.guarded.filter((r) => r.url !== '/*');
    expect(routes.length).toBeGreaterThan(70);
    let tried = 0;
    const deviations: string[] = [];
    const sessions = new Map<Who, string>();
    const one = async (
      route: (typeof routes)[number],
      who: Who,
      [spelling, write]: (typeof spellings)[number],
      [origin, headers, own]: (typeof origins)[number],
    ) => {
      // Signing out ends the session that the next request would need.
      const cookie = route.url === '/api/session' && route.method === 'DELETE' ? await sessionFor(who) : (sessions.get(who) ?? '');
      const { status, code } = await send(route.method, write(concrete(route.url)), { ...headers(), ...(cookie === '' ? {} : { cookie }) });
      tried++;
      const said = `${route.method} ${route.url} ${who}, ${spelling}, origin ${origin}: ${String(status)} ${code ?? ''}`;
      // A spelling that the router does not know leads to nothing at all; every other leads to the route and its guard.
      if (status === 404 && (code === 'route.unknown' || (code === undefined && route.method === 'HEAD')) && spelling !== 'plain') return;
      const foreign = !own && !isSafe(route.method);
      const barred = rank[who] < rank[route.role];
      const expected = foreign ? 403 : barred ? (who === 'nobody' ? 401 : 403) : null;
      const wrong =
        expected === null
          ? (status === 401 && code === 'session.none') || code === 'role.tooLow' || code === 'origin.foreign' || status >= 500
          : status !== expected;
      if (wrong) deviations.push(said);
    };
    let asked = 0;
    for (const [r, route] of routes.entries()) {
      // A hurried run asks each route in a third of the spellings and origins, and has them all at every third route.
      const [spelled, from] = [inTurn(spellings, 3, r), inTurn(origins, 3, r)];
      asked += people.length * (spelled.length + from.length);
      for (const who of people) sessions.set(who, await sessionFor(who));
      const work: Promise<void>[] = [];
      for (const who of people) {
        for (const spelling of spelled) work.push(one(route, who, spelling, origins[0] as (typeof origins)[number]));
        for (const origin of from) work.push(one(route, who, spellings[0] as (typeof spellings)[number], origin));
      }
      await Promise.all(work);
    }
    console.log(`doors: ${String(tried)} requests, ${String(routes.length)} routes, ${String(deviations.length)} deviations`);
    expect(deviations).toEqual([]);
    expect(tried).toBe(asked);
  }, 240_000);

  it('a route that names no role cannot be registered, and those that anyone may use are few', () => {
    const bare = Fastify();
    guard(bare, { db: s.connection.db, steady: () => new Date() }, false);
    expect(() => bare.get('/api/forgotten', () => 'everything')).toThrow('GET /api/forgotten names no role');
    expect(app.guarded.filter((r) => r.role === 'anyone' && r.method !== 'HEAD').map((r) => `${r.method} ${r.url}`)).toEqual([
      'GET /api/health',
      'GET /api/openapi.json',
      'POST /api/session',
      'POST /api/first-officer',
      // A device asks whether it may go on: the secret that it was given answers for it.
      'POST /api/along/:id/state',
      'GET /api/calendar/:secret.ics',
      'POST /api/verify',
      'GET /*',
    ]);
  });

  it('OPTIONS opens nothing', async () => {
    for (const { url } of app.guarded.filter((r) => r.method === 'GET')) expect((await send('OPTIONS', concrete(url), {})).status).toBe(404);
  });

  it('what the API does not know is said in JSON and never with the page', async () => {
    for (const path of ['/api', '/api/', '/api/elsewhere', '/API/people', '//api/elsewhere', '/%61pi/elsewhere', '/./api/elsewhere', '/api/people/'])
      expect({ path, ...(await send('GET', path, {})) }).toMatchObject({ path, status: 404, code: 'route.unknown' });
    expect(await send('GET', '/register', {})).toMatchObject({ status: 200, type: 'text/html' });
    expect(await send('GET', '/apiary', {})).toMatchObject({ status: 200, type: 'text/html' });
    expect(await send('GET', '/main-ABCDEFGH.js', {})).toMatchObject({
      cache: 'public, max-age=31536000, immutable',
      type: expect.stringContaining('javascript') as string,
    });
    expect((await send('GET', '/../../../etc/passwd', {})).type).not.toContain('plain');
  });

  it('gives everybody the same page, whose policy lets nothing be written into it', async () => {
    const [one, other] = [await app.inject('/register'), await app.inject('/today')];
    expect(one.body).toBe(other.body);
    const policy = String(one.headers['content-security-policy']);
    expect(policy).toBe(other.headers['content-security-policy']);
    expect(policy).toContain("script-src 'self';");
    expect(policy).toContain("style-src 'self';");
    expect(policy).not.toMatch(/nonce|unsafe-eval|script-src[^;]*unsafe/);
  });

  it('a service worker is asked for anew each time, and where it is switched off it takes itself out of every browser', async () => {
    await writeFile(join(folder, 'worker.js'), "importScripts('./ngsw-worker.js');");
    await writeFile(join(folder, 'ngsw-worker.js'), '/* keeps pages */');
    await writeFile(join(folder, 'ngsw.json'), '{}');
    await writeFile(join(folder, 'safety-worker.js'), '/* unregisters */');
    const [on, off] = [await s.serve({ webFolder: folder }), await s.serve({ webFolder: folder, serviceWorker: false })];
    for (const name of ['worker.js', 'ngsw-worker.js', 'ngsw.json']) {
      const kept = await on.inject(`/${name}`);
      expect({ name, status: kept.statusCode, cache: kept.headers['cache-control'] }).toEqual({ name, status: 200, cache: 'no-cache' });
    }
    expect((await on.inject('/worker.js')).body).toContain('importScripts');
    for (const name of ['worker.js', 'ngsw-worker.js']) expect((await off.inject(`/${name}`)).body).toBe('/* unregisters */');
    expect((await off.inject('/ngsw.json')).statusCode).toBe(404);
  });

  it('answers of the API are kept by no cache', async () => {
    const cookie = await sessionFor('reader');
    for (const path of ['/api/people', '/api/today', '/api/health', '/api/elsewhere'])
      expect({ path, ...(await send('GET', path, { cookie })) }).toMatchObject({ path, cache: 'no-store' });
  });
});
