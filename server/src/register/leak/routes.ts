import { newLeakSchema, type NewLeak } from '@grellin/contract';
import type { FastifyPluginCallback } from 'fastify';
import type { Moment } from '../../base';
import type { Database } from '../../db';
import { signedIn } from '../../account';
import { markLeak } from './store';

/** What these routes work with. */
export interface LeakNeeds {
  readonly db: Database;
  /** The server’s clock, and what day it is at the station. */
  readonly now: () => Moment;
}

export const leakRoutes: FastifyPluginCallback<LeakNeeds> = (app, { db, now }, done) => {
  app.post<{ Body: NewLeak }>(
    '/api/leaks',
    { config: { role: 'tester' }, schema: { summary: 'Mark a leak on the item that a run was made on', body: newLeakSchema } },
    async (request, reply) => reply.code(201).send({ id: await markLeak(db, request.body, signedIn(request).id, now()) }),
  );
  done();
};
