import { signInSchema, type SignIn } from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import { signedIn, type Context } from '../context';
import { SESSION_COOKIE } from '../guard';
import { DEVICE_AGE_S, DEVICE_COOKIE, newDevice } from './device';
import { signIn, signOut } from './store';

export function accountRoutes(app: FastifyInstance, context: Context): void {
  const { db } = context.connection;
  const cookie = { path: '/', httpOnly: true, sameSite: 'strict' as const, secure: context.config.proxies !== null };

  app.post<{ Body: SignIn }>('/api/session', { config: { role: 'anyone' }, schema: { summary: 'Sign in', body: signInSchema } }, async (request, reply) => {
    const { token, me, maxAgeS } = await signIn(db, request.body.name, request.body.password, request.ip, context.now());
    reply.setCookie(SESSION_COOKIE, token, { ...cookie, maxAge: maxAgeS });
    // It stays when the session ends: the same browser is the same device to whoever signs in next.
    if (request.cookies[DEVICE_COOKIE] === undefined) reply.setCookie(DEVICE_COOKIE, newDevice(), { ...cookie, maxAge: DEVICE_AGE_S });
    return reply.send(me);
  });

  app.get('/api/session', { config: { role: 'reader' }, schema: { summary: 'Who is signed in' } }, (request) => signedIn(request));

  app.delete('/api/session', { config: { role: 'reader' }, schema: { summary: 'Sign out' } }, async (request, reply) => {
    await signOut(db, request.cookies[SESSION_COOKIE] ?? '');
    return reply.clearCookie(SESSION_COOKIE, cookie).code(204).send();
  });
}
