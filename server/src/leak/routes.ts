import { newLeakSchema, type NewLeak } from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import { signedIn, type Context } from '../context';
import { markLeak } from './store';

export function leakRoutes(app: FastifyInstance, context: Context): void {
  app.post<{ Body: NewLeak }>(
    '/api/leaks',
    { config: { role: 'tester' }, schema: { summary: 'Mark a leak on the item that a run was made on', body: newLeakSchema } },
    async (request, reply) => reply.code(201).send({ id: await markLeak(context.connection.db, request.body, signedIn(request).id, context.now()) }),
  );
}
