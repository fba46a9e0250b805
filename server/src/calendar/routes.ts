import { words } from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import { object } from 'yup';
import { signedIn, type Context } from '../context';
import { dropFeed, feedOf, newFeed } from './feed';

export function calendarRoutes(app: FastifyInstance, context: Context): void {
  const { db } = context.connection;

  app.post(
    '/api/calendar',
    { config: { role: 'reader' }, schema: { summary: 'Make the secret link of your calendar; an older one opens nothing any more' } },
    async (request, reply) => reply.code(201).send({ path: `/api/calendar/${await newFeed(db, signedIn(request).id, context.now())}.ics` }),
  );

  app.delete('/api/calendar', { config: { role: 'reader' }, schema: { summary: 'Close your calendar’s link' } }, async (request, reply) => {
    await dropFeed(db, signedIn(request).id);
    return reply.code(204).send();
  });

  app.get<{ Params: { secret: string } }>(
    '/api/calendar/:secret.ics',
    { config: { role: 'anyone' }, schema: { summary: 'What falls due, as an iCalendar (RFC 5545)', params: object({ secret: words(80) }).noUnknown() } },
    async (request, reply) => reply.type('text/calendar; charset=utf-8').send(await feedOf(db, request.params.secret, context.now())),
  );
}
