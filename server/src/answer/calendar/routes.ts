import { words } from '@grellin/contract';
import type { FastifyPluginCallback } from 'fastify';
import { object } from 'yup';
import type { Moment } from '../../base';
import type { Database } from '../../db';
import { signedIn } from '../../account';
import { dropFeed, feedOf, newFeed } from './feed';

/** What these routes work with. */
export interface CalendarNeeds {
  readonly db: Database;
  /** The server’s clock, and what day it is at the station. */
  readonly now: () => Moment;
}

export const calendarRoutes: FastifyPluginCallback<CalendarNeeds> = (app, { db, now }, done) => {
  app.post(
    '/api/calendar',
    { config: { role: 'reader' }, schema: { summary: 'Make the secret link of your calendar; an older one opens nothing any more' } },
    async (request, reply) => reply.code(201).send({ path: `/api/calendar/${await newFeed(db, signedIn(request).id, now())}.ics` }),
  );

  app.delete('/api/calendar', { config: { role: 'reader' }, schema: { summary: 'Close your calendar’s link' } }, async (request, reply) => {
    await dropFeed(db, signedIn(request).id);
    return reply.code(204).send();
  });

  app.get<{ Params: { secret: string } }>(
    '/api/calendar/:secret.ics',
    { config: { role: 'anyone' }, schema: { summary: 'What falls due, as an iCalendar (RFC 5545)', params: object({ secret: words(80) }).noUnknown() } },
    async (request, reply) => reply.type('text/calendar; charset=utf-8').send(await feedOf(db, request.params.secret, now())),
  );
  done();
};
