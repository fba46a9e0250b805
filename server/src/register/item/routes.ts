import {
  assetChangeSchema,
  beyondUseSchema,
  bulkChangeSchema,
  newAssetSchema,
  newOccasionSchema,
  registerQuerySchema,
  savedViewSchema,
  uuid,
  type AssetChange,
  type BeyondUse,
  type BulkChange,
  type NewAsset,
  type NewOccasion,
  type RegisterQuery,
  type SavedView,
} from '@grellin/contract';
import type { FastifyPluginCallback } from 'fastify';
import { object } from 'yup';
import type { Moment } from '../../base';
import type { Database } from '../../db';
import { signedIn } from '../../account';
import { noteBeyondUse } from '../../standing';
import { registerPage } from './page';
import { addAsset, changeAsset, changeMany, noteOccasion, places } from './store';
import { dropView, keepView, listViews } from './savedViews';

/** What these routes work with. */
export interface AssetNeeds {
  readonly db: Database;
  /** The server’s clock, and what day it is at the station. */
  readonly now: () => Moment;
  /** The day at the station, ISO. */
  readonly today: () => string;
}

export const assetRoutes: FastifyPluginCallback<AssetNeeds> = (app, { db, now, today }, done) => {
  const params = object({ id: uuid() }).noUnknown();
  const officer = { role: 'officer' } as const;
  const reader = { role: 'reader' } as const;
  interface One {
    Params: { id: string };
  }

  app.get<{ Querystring: RegisterQuery }>(
    '/api/assets',
    { config: reader, schema: { summary: 'A page of the register, with readiness', querystring: registerQuerySchema } },
    (request) => registerPage(db, request.query, today()),
  );

  app.get('/api/places', { config: reader, schema: { summary: 'The places that are in use' } }, () => places(db));

  app.post<{ Body: NewAsset }>(
    '/api/assets',
    { config: officer, schema: { summary: 'Add an asset to the register', body: newAssetSchema } },
    async (request, reply) => reply.code(201).send(await addAsset(db, request.body, signedIn(request).id, now())),
  );

  app.patch<One & { Body: AssetChange }>(
    '/api/assets/:id',
    { config: officer, schema: { summary: 'Change an asset; an asset is put away, never erased', params, body: assetChangeSchema } },
    (request) => changeAsset(db, request.params.id, request.body, signedIn(request).id, now()),
  );

  app.post<{ Body: BulkChange }>(
    '/api/assets/bulk',
    { config: officer, schema: { summary: 'Change many assets at once, or none', body: bulkChangeSchema } },
    (request) => changeMany(db, request.body, signedIn(request).id, now()),
  );

  app.post<{ Body: NewOccasion }>(
    '/api/occasions',
    { config: { role: 'tester' }, schema: { summary: 'Note that assets came, were used, repaired, filled or fumigated', body: newOccasionSchema } },
    async (request, reply) => reply.code(201).send(await noteOccasion(db, request.body, signedIn(request).id, now())),
  );

  app.post<One & { Body: BeyondUse }>(
    '/api/assets/:id/beyond-use',
    { config: officer, schema: { summary: 'Note how a condemned item was put beyond use', params, body: beyondUseSchema } },
    async (request, reply) => {
      await noteBeyondUse(db, request.params.id, request.body, signedIn(request).id, now());
      return reply.code(204).send();
    },
  );

  app.get('/api/views', { config: reader, schema: { summary: 'The questions to the register that you keep' } }, (request) =>
    listViews(db, signedIn(request).id),
  );

  app.post<{ Body: SavedView }>(
    '/api/views',
    { config: reader, schema: { summary: 'Keep a question to the register', body: savedViewSchema } },
    async (request, reply) => reply.code(201).send(await keepView(db, signedIn(request).id, request.body)),
  );

  app.delete<One>('/api/views/:id', { config: reader, schema: { summary: 'Forget a question', params } }, async (request, reply) => {
    await dropView(db, signedIn(request).id, request.params.id);
    return reply.code(204).send();
  });
  done();
};
