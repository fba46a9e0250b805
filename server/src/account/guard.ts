import type { AccountRole } from '@grellin/contract';
import type { FastifyInstance, FastifyRequest } from 'fastify';
import { Coded, isLoopback } from '../base';
import type { Database } from '../db';
import { sessionOf } from './session';

export const SESSION_COOKIE = 'grellin_session';

const rank: Readonly<Record<AccountRole, number>> = { reader: 1, tester: 2, officer: 3 };
const forwarded = ['forwarded', 'x-forwarded-for', 'x-forwarded-host', 'x-forwarded-proto', 'x-real-ip', 'via'];
/** Methods that change nothing: a page elsewhere may make a browser send them, and cannot read the answer. */
const safe: ReadonlySet<string> = new Set(['GET', 'HEAD', 'OPTIONS']);

/** One route as it was registered: what the guard decides by, and what the matrix of the tests is made from. */
export interface GuardedRoute {
  readonly method: string;
  readonly url: string;
  readonly role: AccountRole | 'anyone';
}

declare module 'fastify' {
  interface FastifyInstance {
    /** Every route, in the order of registration. */
    readonly guarded: readonly GuardedRoute[];
  }
}

function hostName(request: FastifyRequest): string {
  const host = request.headers.host ?? '';
  return host.startsWith('[') ? host.slice(0, host.indexOf(']') + 1) : (host.split(':')[0] ?? '');
}

/** Demo accounts have published passwords: they work for the person at this machine and nobody further. */
function refuseStrangers(request: FastifyRequest): void {
  if (!isLoopback(hostName(request))) throw new Coded('host.foreign', 'With demo accounts Grellin answers on loopback only.');
  const header = forwarded.find((h) => request.headers[h] !== undefined);
  if (header !== undefined) throw new Coded('host.foreign', 'With demo accounts Grellin does not answer through a proxy.', { header });
}

/** An origin is scheme, host and port: a page of the same host under another scheme is another site. */
function refuseForeignOrigin(request: FastifyRequest): void {
  const { origin } = request.headers;
  // A browser always names the origin of an unsafe request; Sec-Fetch-Site catches the one that does not.
  const site = request.headers['sec-fetch-site'];
  const elsewhere = site !== undefined && site !== 'same-origin' && site !== 'none';
  const foreign = origin === undefined ? elsewhere : origin !== `${request.protocol}://${request.host}`;
  if (foreign) throw new Coded('origin.foreign', 'This request comes from another site.');
}

/** What the guard works with. */
export interface GuardNeeds {
  readonly db: Database;
  /** A clock that no jump of the machine’s moves. */
  readonly steady: () => Date;
}

/**
 * Looks at every request before its route does: host, origin, session and role. What decides is the route that the router has matched, never how the
 * path was spelled; and a route that names no role cannot be registered.
 * @param demo whether this database has accounts whose passwords are published
 */
export function guard(app: FastifyInstance, { db, steady }: GuardNeeds, demo: boolean): void {
  const guarded: GuardedRoute[] = [];
  app.decorate('guarded', guarded);
  app.decorateRequest('me', null);
  app.decorateRequest('sessionId', null);
  app.addHook('onRoute', ({ method, url, config }) => {
    const role = config?.role;
    if (role === undefined) throw new Error(`${[method].flat().join(', ')} ${url} names no role: nobody could be kept out of it.`);
    for (const one of [method].flat()) guarded.push({ method: one, url, role });
  });
  app.addHook('onRequest', async (request, reply) => {
    // Answers are a person's own: no cache keeps them. Files of the page, whose names carry a hash, say otherwise of themselves.
    reply.header('cache-control', 'no-store');
    if (demo) refuseStrangers(request);
    if (!safe.has(request.method)) refuseForeignOrigin(request);
    if (request.is404) return;
    const { role } = request.routeOptions.config;
    const token = request.cookies[SESSION_COOKIE];
    if (role === 'anyone') return;
    const session = token ? await sessionOf(db, token, steady()) : null;
    request.me = session?.me ?? null;
    request.sessionId = session?.id ?? null;
    if (!request.me) throw new Coded('session.none', 'Sign in first.');
    if (request.me.mustChange && !request.routeOptions.config.unchangedPassword)
      throw new Coded('password.mustChange', 'Your password was given to you for once: change it first.');
    if (role === undefined || rank[request.me.role] < rank[role]) throw new Coded('role.tooLow', `This is for the ${role ?? 'officer'}.`);
  });
}
