import {
  accountChangeSchema,
  firstOfficerSchema,
  newPersonSchema,
  passwordChangeSchema,
  signInSchema,
  uuid,
  type AccountChange,
  type FirstOfficer,
  type Me,
  type NewPerson,
  type PasswordChange,
  type SignedIn,
  type SignIn,
} from '@grellin/contract';
import type { FastifyPluginCallback, FastifyRequest } from 'fastify';
import { object } from 'yup';
import { signedIn } from './request';
import { Coded, type Config, type Moment } from '../base';
import type { Database } from '../db';
import { SESSION_COOKIE } from './guard';
import { DEVICE_AGE_S, DEVICE_COOKIE, newDevice } from './device';
import { endSession, listSessions, type Origin } from './session';
import { addPerson, changePassword, changePerson, createFirstOfficer, resetPassword, signIn, signOut } from './store';

const originOf = (request: FastifyRequest): Origin => ({ address: request.ip, agent: request.headers['user-agent'] ?? '' });

/** What these routes work with. */
export interface AccountNeeds {
  readonly db: Database;
  /** The server’s clock, and what day it is at the station. */
  readonly now: () => Moment;
  /** For what may not end or last longer by a jump of the machine’s clock: sessions. */
  readonly steady: () => Date;
  readonly config: Pick<Config, 'proxies' | 'firstToken'>;
  /** Streams that end with the session that they were opened under. */
  readonly streams: { readonly end: (which: (one: { readonly account: string; readonly session: string }) => boolean) => void };
  /** The station, for its zone. */
  readonly station: { readonly zone: string };
}

export const accountRoutes: FastifyPluginCallback<AccountNeeds> = (app, { db, now, steady, config, streams, station }, done) => {
  const cookie = { path: '/', httpOnly: true, sameSite: 'strict' as const, secure: config.proxies !== null };
  const params = object({ id: uuid() }).noUnknown();
  /** Streams of sessions that have ended end with them, at once at this server and within seconds at every other. */
  const ended = (sessions: readonly string[]): void => streams.end((s) => sessions.includes(s.session));
  const withZone = (me: Me): SignedIn => ({ ...me, zone: station.zone });
  interface One {
    Params: { id: string };
  }

  app.post<{ Body: SignIn }>('/api/session', { config: { role: 'anyone' }, schema: { summary: 'Sign in', body: signInSchema } }, async (request, reply) => {
    const { token, me, maxAgeS } = await signIn(db, request.body.name, request.body.password, originOf(request), steady());
    reply.setCookie(SESSION_COOKIE, token, { ...cookie, maxAge: maxAgeS });
    // It stays when the session ends: the same browser is the same device to whoever signs in next.
    if (request.cookies[DEVICE_COOKIE] === undefined) reply.setCookie(DEVICE_COOKIE, newDevice(), { ...cookie, maxAge: DEVICE_AGE_S });
    return reply.send(withZone(me));
  });

  app.get('/api/session', { config: { role: 'reader', unchangedPassword: true }, schema: { summary: 'Who is signed in' } }, (request) =>
    withZone(signedIn(request)),
  );

  app.delete('/api/session', { config: { role: 'reader', unchangedPassword: true }, schema: { summary: 'Sign out' } }, async (request, reply) => {
    ended(await signOut(db, request.cookies[SESSION_COOKIE] ?? ''));
    return reply.clearCookie(SESSION_COOKIE, cookie).code(204).send();
  });

  app.post<{ Body: FirstOfficer }>(
    '/api/first-officer',
    {
      config: { role: 'anyone' },
      schema: { summary: 'Make the first officer of an empty database, with the word that the start command printed', body: firstOfficerSchema },
    },
    async (request, reply) => {
      await createFirstOfficer(db, request.body, config.firstToken, now());
      return reply.code(204).send();
    },
  );

  app.post<{ Body: NewPerson }>(
    '/api/people',
    { config: { role: 'officer' }, schema: { summary: 'Add a person, with a one-time password', body: newPersonSchema } },
    async (request, reply) => reply.code(201).send(await addPerson(db, request.body, signedIn(request).id, now())),
  );

  app.patch<One & { Body: AccountChange }>(
    '/api/people/:id',
    { config: { role: 'officer' }, schema: { summary: 'Rename a person, set the role, disable or enable', params, body: accountChangeSchema } },
    async (request) => {
      const done = await changePerson(db, request.params.id, request.body, signedIn(request).id, now());
      if (request.body.disabled === true) streams.end((s) => s.account === request.params.id);
      return { change: done.change };
    },
  );

  app.post<One>(
    '/api/people/:id/password',
    { config: { role: 'officer' }, schema: { summary: 'Give a person a one-time password; all their sessions end', params } },
    async (request) => {
      const { ended: gone, ...given } = await resetPassword(db, request.params.id);
      ended(gone);
      return given;
    },
  );

  app.post<{ Body: PasswordChange }>(
    '/api/me/password',
    { config: { role: 'reader', unchangedPassword: true }, schema: { summary: 'Change your password; your other sessions end', body: passwordChangeSchema } },
    async (request, reply) => {
      ended(await changePassword(db, signedIn(request).id, request.body, request.sessionId ?? '', originOf(request), steady()));
      return reply.code(204).send();
    },
  );

  app.get('/api/me/sessions', { config: { role: 'reader' }, schema: { summary: 'Where you are signed in' } }, (request) =>
    listSessions(db, signedIn(request).id, request.sessionId, steady()),
  );

  app.delete<One>('/api/me/sessions/:id', { config: { role: 'reader' }, schema: { summary: 'End one of your sessions', params } }, async (request, reply) => {
    if (!(await endSession(db, signedIn(request).id, request.params.id))) throw new Coded('session.unknown', 'There is no such session of yours.');
    ended([request.params.id]);
    return reply.code(204).send();
  });
  done();
};
