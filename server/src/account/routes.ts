import { signInSchema, type SignIn } from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import { signedIn, type Context } from '../context';
import { SESSION_COOKIE } from '../guard';
import { signIn, signOut } from './store';

export function accountRoutes(app: FastifyInstance, context: Context): void {
  const { db } = context.connection;
  const cookie = { path: '/', httpOnly: true, sameSite: 'strict' as const, secure: context.config.proxies !== null };

  app.post<{ Body: SignIn }>('/api/session', { config: { role: 'anyone' }, schema: { summary: 'Sign in', body: signInSchema } }, async (request, reply) => {
    const { token, me, maxAgeS } = await signIn(db, request.body.name, request.body.password, request.ip, context.now());
    return reply.setCookie(SESSION_COOKIE, token, { ...cookie, maxAge: maxAgeS }).send(me);
  });

  app.get('/api/session', { config: { role: 'reader' }, schema: { summary: 'Who is signed in' } }, (request) => signedIn(request));

  app.delete('/api/session', { config: { role: 'reader' }, schema: { summary: 'Sign out' } }, async (request, reply) => {
    await signOut(db, request.cookies[SESSION_COOKIE] ?? '');
    return reply.clearCookie(SESSION_COOKIE, cookie).code(204).send();
  });
}
