import { appendSchema, isUuid, newRunSchema, uuid, words, type NewRun, type OpenedRun } from '@grellin/contract';
import type { RunEvent } from '@grellin/core';
import type { FastifyPluginCallback } from 'fastify';
import { object, string } from 'yup';
import { type Clocks, Coded, type Moment } from '../base';
import type { Database } from '../db';
import { deviceOf, requireAuthorised, signedIn } from '../account';
import type { Devices } from '../register/instrument';
import { appendEvents } from './append';
import type { Histories } from './history';
import { openRun } from './open';
import { clockOf, openRunsWithClocks, runView, takeOver } from './store';
import { streamRuns } from './stream';
import type { FanOut } from './fanOut';
import type { OpenStreams } from './openStreams';

const params = object({ id: uuid() }).noUnknown();
const idOf = (request: { readonly params: unknown }): string => (request.params as { id: string }).id;
const afterSchema = object({
  after: string()
    .matches(/^\d{1,9}$/, 'whole')
    .optional(),
}).noUnknown();

/** At most a dozen runs: more than one person can watch. */
const MOST_FOLLOWED = 12;
const followSchema = object({
  follow: words(600).test({
    name: 'follow',
    message: 'follow',
    skipAbsent: true,
    test: (v) => {
      const wanted = v.split(',').map((one) => one.split(':'));
      return wanted.length <= MOST_FOLLOWED && wanted.every(([run = '', seq = '', ...more]) => isUuid(run) && /^\d{1,9}$/.test(seq) && more.length === 0);
    },
  }),
}).noUnknown();

/** What these routes work with. */
export interface RunNeeds {
  readonly db: Database;
  /** The server’s clock, and what day it is at the station. */
  readonly now: () => Moment;
  /** The day at the station, ISO. */
  readonly today: () => string;
  /** What a run's clock goes on by. */
  readonly clocks: Clocks;
  readonly devices: Devices;
  readonly histories: Histories;
  readonly fanOut: FanOut;
  readonly streams: OpenStreams;
}

export const runRoutes: FastifyPluginCallback<RunNeeds> = (app, { db, now, today, clocks, devices, histories, fanOut, streams }, done) => {
  app.get('/api/runs', { config: { role: 'reader' }, schema: { summary: 'Runs that are still open' } }, () => openRunsWithClocks(db, clocks.read()));

  app.post<{ Body: NewRun }>('/api/runs', { config: { role: 'tester' }, schema: { summary: 'Open a run', body: newRunSchema } }, async (request, reply) => {
    const { id, secret } = await openRun({ db, now, clocks, devices }, request.body, { account: signedIn(request).id, device: deviceOf(request) });
    return reply.code(201).send({ ...(await runView(db, id)), secret } satisfies OpenedRun);
  });

  app.get('/api/runs/:id', { config: { role: 'reader' }, schema: { summary: 'A run', params } }, (request) => runView(db, idOf(request)));

  app.get(
    '/api/runs/:id/clock',
    { config: { role: 'reader' }, schema: { summary: 'What the run’s clock shows, for the browser to compare its own with', params } },
    (request) => clockOf(db, idOf(request), clocks.read()),
  );

  app.get(
    '/api/runs/:id/events',
    { config: { role: 'reader' }, schema: { summary: 'The run’s events as they are stored (server-sent events)', params, querystring: afterSchema } },
    (request, reply) => {
      const header = request.headers['last-event-id'];
      const asked = typeof header === 'string' && /^\d{1,9}$/.test(header) ? header : (request.query as { after?: string }).after;
      return streamRuns({ db, fanOut, streams }, request, reply, [{ run: idOf(request), seq: Number(asked ?? '0') }]);
    },
  );

  app.get(
    '/api/runs/events',
    { config: { role: 'reader' }, schema: { summary: 'Events of several runs on one connection: `follow=run:position,…`', querystring: followSchema } },
    (request, reply) => {
      const { follow } = request.query as { follow: string };
      const wanted = follow.split(',').map((one) => one.split(':'));
      return streamRuns(
        { db, fanOut, streams },
        request,
        reply,
        wanted.map(([run = '', seq = '0']) => ({ run, seq: Number(seq) })),
      );
    },
  );

  app.post('/api/runs/:id/lease', { config: { role: 'tester' }, schema: { summary: 'Take a run over', params } }, async (request) => {
    const me = signedIn(request);
    const { procedure } = await runView(db, idOf(request));
    await requireAuthorised(db, me.id, procedure, today());
    return takeOver(db, idOf(request), { account: me.id, device: deviceOf(request) }, now());
  });

  app.post<{ Body: { lease: number; secret?: string; events: RunEvent[] } }>(
    '/api/runs/:id/events',
    { config: { role: 'tester' }, schema: { summary: 'Append events, all or none', params, body: appendSchema } },
    async (request, reply) => {
      const me = signedIn(request);
      const { lease, secret, events } = request.body;
      if (events.some((e) => e.source === 'server' || e.source.startsWith('instrument:')))
        throw new Coded('source.reserved', 'This source is not a browser’s.');
      if (events.some((e) => e.kind === 'samples' && !e.source.startsWith('csv:')))
        throw new Coded('source.reserved', 'Samples come from an instrument, or from a logger’s file whose source says so.');
      const person = { account: me.id, role: me.role, device: deviceOf(request), lease, secret };
      const appended = await appendEvents(db, histories, { run: idOf(request), events, person, by: me.id, now: now(), clocks });
      return reply.code(201).send(appended);
    },
  );
  done();
};
