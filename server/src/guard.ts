import type { AccountRole } from '@grellin/contract';
import type { FastifyInstance, FastifyRequest } from 'fastify';
import { sessionOf } from './account/store';
import { isLoopback } from './config';
import type { Context } from './context';
import { Coded } from './errors';

export const SESSION_COOKIE = 'grellin_session';

const rank: Readonly<Record<AccountRole, number>> = { reader: 1, tester: 2, officer: 3 };
const forwarded = ['forwarded', 'x-forwarded-for', 'x-forwarded-host', 'x-forwarded-proto', 'x-real-ip', 'via'];

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

function refuseForeignOrigin(request: FastifyRequest): void {
  const origin = request.headers.origin;
  if (origin === undefined) {
    // A browser always names the origin of an unsafe request; Sec-Fetch-Site catches the one that does not.
    const site = request.headers['sec-fetch-site'];
    if (site !== undefined && site !== 'same-origin' && site !== 'none') throw new Coded('origin.foreign', 'This request comes from another site.');
    return;
  }
  const own = URL.canParse(origin) ? new URL(origin).host : '';
  if (own !== request.headers.host) throw new Coded('origin.foreign', 'This request comes from another site.');
}

/** Looks at every request before its route does: host, origin, session and role. */
export function guard(app: FastifyInstance, context: Context, demo: boolean): void {
  app.decorateRequest('me', null);
  app.addHook('onRequest', async (request) => {
    if (demo) refuseStrangers(request);
    if (request.method !== 'GET' && request.method !== 'HEAD') refuseForeignOrigin(request);
    if (!request.url.startsWith('/api/')) return;
    const token = request.cookies[SESSION_COOKIE];
    request.me = token ? await sessionOf(context.connection.db, token, context.now()) : null;
    const needed = request.routeOptions.config.role ?? 'officer';
    if (request.is404 || needed === 'anyone') return;
    if (!request.me) throw new Coded('session.none', 'Sign in first.');
    if (rank[request.me.role] < rank[needed]) throw new Coded('role.tooLow', `This is for the ${needed}.`);
  });
}
