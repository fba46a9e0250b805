import { appendSchema, newRunSchema, uuid, type NewRun } from '@grellin/contract';
import type { RunEvent } from '@grellin/core';
import type { FastifyInstance } from 'fastify';
import { object, string } from 'yup';
import { signedIn, type Context } from '../context';
import { Coded } from '../errors';
import { appendEvents } from './append';
import type { Histories } from './history';
import { openRun } from './open';
import { openRuns, runView, takeOver } from './store';
import { streamRun } from './stream';

const params = object({ id: uuid() }).noUnknown();
const idOf = (request: { readonly params: unknown }): string => (request.params as { id: string }).id;
const afterSchema = object({
  after: string()
    .matches(/^\d{1,9}$/, 'whole')
    .optional(),
}).noUnknown();

export function runRoutes(app: FastifyInstance, context: Context, histories: Histories): void {
  const { db } = context.connection;

  app.get('/api/clock', { config: { role: 'reader' }, schema: { summary: 'The server’s clock, for the browser to compare its own with' } }, () => ({
    now: context.now().getTime(),
  }));

  app.get('/api/runs', { config: { role: 'reader' }, schema: { summary: 'Runs that are still open' } }, () => openRuns(db));

  app.post<{ Body: NewRun }>('/api/runs', { config: { role: 'tester' }, schema: { summary: 'Open a run', body: newRunSchema } }, async (request, reply) => {
    const id = await openRun(context, request.body, signedIn(request).id);
    return reply.code(201).send(await runView(db, id));
  });

  app.get('/api/runs/:id', { config: { role: 'reader' }, schema: { summary: 'A run', params } }, (request) => runView(db, idOf(request)));

  app.get(
    '/api/runs/:id/events',
    { config: { role: 'reader' }, schema: { summary: 'The run’s events as they are stored (server-sent events)', params, querystring: afterSchema } },
    (request, reply) => {
      const header = request.headers['last-event-id'];
      const asked = typeof header === 'string' && /^\d{1,9}$/.test(header) ? header : (request.query as { after?: string }).after;
      return streamRun(context, reply, idOf(request), Number(asked ?? '0'));
    },
  );

  app.post('/api/runs/:id/lease', { config: { role: 'tester' }, schema: { summary: 'Take a run over', params } }, async (request) => ({
    lease: await takeOver(db, idOf(request), signedIn(request).id),
  }));

  app.post<{ Body: { lease: number; events: RunEvent[] } }>(
    '/api/runs/:id/events',
    { config: { role: 'tester' }, schema: { summary: 'Append events, all or none', params, body: appendSchema } },
    async (request, reply) => {
      const me = signedIn(request);
      const { lease, events } = request.body;
      if (events.some((e) => e.source === 'server' || e.source.startsWith('instrument:')))
        throw new Coded('source.reserved', 'This source is not a browser’s.');
      if (me.role !== 'officer' && events.some((e) => e.kind === 'amended')) throw new Coded('role.tooLow', 'Only an officer may amend.');
      const appended = await appendEvents(db, histories, { run: idOf(request), events, lease, by: me.id, now: context.now() });
      return reply.code(201).send(appended);
    },
  );
}
