import { uuid } from '@grellin/contract';
import type { FastifyPluginCallback } from 'fastify';
import { object } from 'yup';
import type { Moment } from '../../base';
import type { Database } from '../../db';
import { assetView } from './view';

/** What these routes work with. */
export interface ItemAnswerNeeds {
  readonly db: Database;
  /** The server’s clock, and what day it is at the station. */
  readonly now: () => Moment;
}

export const itemAnswerRoutes: FastifyPluginCallback<ItemAnswerNeeds> = (app, { db, now }, done) => {
  const params = object({ id: uuid() }).noUnknown();
  app.get<{ Params: { id: string } }>(
    '/api/assets/:id',
    { config: { role: 'reader' }, schema: { summary: 'One asset: what it owes, its tests, its records', params } },
    (request) => assetView(db, request.params.id, now()),
  );
  done();
};
