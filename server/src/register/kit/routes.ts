import { newKitSchema, uuid, type NewKit } from '@grellin/contract';
import type { FastifyPluginCallback } from 'fastify';
import { object } from 'yup';
import type { Moment } from '../../base';
import type { Database } from '../../db';
import { signedIn } from '../../account';
import { addKit, archiveKit, changeKit, listKits } from './store';

/** What these routes work with. */
export interface KitNeeds {
  readonly db: Database;
  /** The server’s clock, and what day it is at the station. */
  readonly now: () => Moment;
  /** The day at the station, ISO. */
  readonly today: () => string;
}

export const kitRoutes: FastifyPluginCallback<KitNeeds> = (app, { db, now, today }, done) => {
  const params = object({ id: uuid() }).noUnknown();

  app.get('/api/kits', { config: { role: 'reader' }, schema: { summary: 'The kits, and what each lacks today' } }, () => listKits(db, today()));

  app.post<{ Body: NewKit }>(
    '/api/kits',
    { config: { role: 'officer' }, schema: { summary: 'Put a kit together', body: newKitSchema } },
    async (request, reply) => reply.code(201).send(await addKit(db, request.body, signedIn(request).id, now())),
  );

  app.put<{ Params: { id: string }; Body: NewKit }>(
    '/api/kits/:id',
    { config: { role: 'officer' }, schema: { summary: 'Change what a kit needs and holds', params, body: newKitSchema } },
    (request) => changeKit(db, request.params.id, request.body, signedIn(request).id, now()),
  );

  app.delete<{ Params: { id: string } }>('/api/kits/:id', { config: { role: 'officer' }, schema: { summary: 'Put a kit away', params } }, (request) =>
    archiveKit(db, request.params.id, signedIn(request).id, now()),
  );
  done();
};
