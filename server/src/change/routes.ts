import { uuid } from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import { object } from 'yup';
import { signedIn, type Context } from '../context';
import { listChanges, undoChange } from './store';

export function changeRoutes(app: FastifyInstance, context: Context): void {
  const { db } = context.connection;

  app.get('/api/changes', { config: { role: 'officer' }, schema: { summary: 'The newest changes of the register that can be undone' } }, () => listChanges(db));

  app.post<{ Params: { id: string } }>(
    '/api/changes/:id/undo',
    {
      config: { role: 'tester' },
      schema: { summary: 'Take a change back: an officer anybody’s, a tester their own', params: object({ id: uuid() }).noUnknown() },
    },
    (request) => undoChange(db, request.params.id, signedIn(request), context.now()),
  );
}
