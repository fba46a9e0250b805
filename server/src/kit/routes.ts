import { newKitSchema, uuid, type NewKit } from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import { object } from 'yup';
import { signedIn, type Context } from '../context';
import { addKit, archiveKit, changeKit, listKits } from './store';

export function kitRoutes(app: FastifyInstance, context: Context): void {
  const { db } = context.connection;
  const params = object({ id: uuid() }).noUnknown();

  app.get('/api/kits', { config: { role: 'reader' }, schema: { summary: 'The kits, and what each lacks today' } }, () => listKits(db, context.today()));

  app.post<{ Body: NewKit }>(
    '/api/kits',
    { config: { role: 'officer' }, schema: { summary: 'Put a kit together', body: newKitSchema } },
    async (request, reply) => reply.code(201).send(await addKit(db, request.body, signedIn(request).id, context.now())),
  );

  app.put<{ Params: { id: string }; Body: NewKit }>(
    '/api/kits/:id',
    { config: { role: 'officer' }, schema: { summary: 'Change what a kit needs and holds', params, body: newKitSchema } },
    (request) => changeKit(db, request.params.id, request.body, signedIn(request).id, context.now()),
  );

  app.delete<{ Params: { id: string } }>('/api/kits/:id', { config: { role: 'officer' }, schema: { summary: 'Put a kit away', params } }, (request) =>
    archiveKit(db, request.params.id, signedIn(request).id, context.now()),
  );
}
