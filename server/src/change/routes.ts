import { uuid } from '@grellin/contract';
import type { FastifyPluginCallback } from 'fastify';
import { object } from 'yup';
import type { Moment } from '../base';
import type { Database } from '../db';
import { signedIn } from '../account';
import { listChanges, undoChange } from './store';

/** What these routes work with. */
export interface ChangeNeeds {
  readonly db: Database;
  /** The server’s clock, and what day it is at the station. */
  readonly now: () => Moment;
}

export const changeRoutes: FastifyPluginCallback<ChangeNeeds> = (app, { db, now }, done) => {
  app.get('/api/changes', { config: { role: 'officer' }, schema: { summary: 'The newest changes of the register that can be undone' } }, () => listChanges(db));

  app.post<{ Params: { id: string } }>(
    '/api/changes/:id/undo',
    {
      config: { role: 'tester' },
      schema: { summary: 'Take a change back: an officer anybody’s, a tester their own', params: object({ id: uuid() }).noUnknown() },
    },
    (request) => undoChange(db, request.params.id, signedIn(request), now()),
  );
  done();
};
