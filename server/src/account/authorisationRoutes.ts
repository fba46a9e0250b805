import { authorisationSchema, uuid, type Authorisation } from '@grellin/contract';
import type { FastifyPluginCallback } from 'fastify';
import { object } from 'yup';
import { signedIn } from './request';
import { authorise, listPeople, withdraw } from './authorisation';
import type { Moment } from '../base';
import type { Database } from '../db';

/** What these routes work with. */
export interface PersonNeeds {
  readonly db: Database;
  /** The server’s clock, and what day it is at the station. */
  readonly now: () => Moment;
}

export const personRoutes: FastifyPluginCallback<PersonNeeds> = (app, { db, now }, done) => {
  app.get('/api/people', { config: { role: 'reader' }, schema: { summary: 'The people, and what each is authorised for' } }, () => listPeople(db, now()));

  app.post<{ Body: Authorisation }>(
    '/api/authorisations',
    { config: { role: 'officer' }, schema: { summary: 'Authorise somebody for procedures until a day', body: authorisationSchema } },
    async (request, reply) => reply.code(201).send(await authorise(db, request.body, signedIn(request).id, now())),
  );

  app.delete<{ Params: { id: string } }>(
    '/api/authorisations/:id',
    { config: { role: 'officer' }, schema: { summary: 'Withdraw an authorisation', params: object({ id: uuid() }).noUnknown() } },
    (request) => withdraw(db, request.params.id, signedIn(request).id, now()),
  );
  done();
};
