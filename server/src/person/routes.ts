import { authorisationSchema, uuid, type Authorisation } from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import { object } from 'yup';
import { signedIn, type Context } from '../context';
import { authorise, listPeople, withdraw } from './store';

export function personRoutes(app: FastifyInstance, context: Context): void {
  const { db } = context.connection;

  app.get('/api/people', { config: { role: 'reader' }, schema: { summary: 'The people, and what each is authorised for' } }, () =>
    listPeople(db, context.now()),
  );

  app.post<{ Body: Authorisation }>(
    '/api/authorisations',
    { config: { role: 'officer' }, schema: { summary: 'Authorise somebody for procedures until a day', body: authorisationSchema } },
    async (request, reply) => reply.code(201).send(await authorise(db, request.body, signedIn(request).id, context.now())),
  );

  app.delete<{ Params: { id: string } }>(
    '/api/authorisations/:id',
    { config: { role: 'officer' }, schema: { summary: 'Withdraw an authorisation', params: object({ id: uuid() }).noUnknown() } },
    (request) => withdraw(db, request.params.id, signedIn(request).id, context.now()),
  );
}
