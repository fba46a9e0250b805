import { alongSecretSchema, handInSchema, takeAlongSchema, uuid, type AlongSecret, type HandIn, type TakeAlong } from '@grellin/contract';
import type { FastifyPluginCallback } from 'fastify';
import { object } from 'yup';
import { deviceOf, signedIn } from '../account';
import { handIn } from './handIn';
import { alongState, endAlong, listAlong } from './store';
import { takeAlong, type TakingNeeds } from './take';

/** A run of a long shift, typed by hand, with a logger's file beside it. */
const HAND_IN_LIMIT = 8 * 1_048_576;

/** What a device takes along to work while it is away, and what it brings back. */
export const alongRoutes: FastifyPluginCallback<TakingNeeds> = (app, needs, done) => {
  const { db, now } = needs;
  const params = object({ id: uuid() }).noUnknown();
  interface One {
    Params: { id: string };
  }

  app.post<{ Body: TakeAlong }>(
    '/api/along',
    { config: { role: 'tester' }, schema: { summary: 'Take items along on this device, to test them while it is away', body: takeAlongSchema } },
    async (request, reply) => reply.code(201).send(await takeAlong(needs, request.body, { account: signedIn(request).id, device: deviceOf(request) })),
  );

  app.get('/api/along', { config: { role: 'officer' }, schema: { summary: 'Devices that are away, and what they took along' } }, () => listAlong(db, now()));

  app.post<One & { Body: HandIn }>(
    '/api/along/:id/runs',
    {
      bodyLimit: HAND_IN_LIMIT,
      config: { role: 'tester' },
      schema: { summary: 'Hand in a run that was carried out away, whole', params, body: handInSchema },
    },
    async (request, reply) =>
      reply.code(201).send(await handIn(needs, request.params.id, request.body, { account: signedIn(request).id, device: deviceOf(request) })),
  );

  app.post<One & { Body: AlongSecret }>(
    '/api/along/:id/state',
    {
      config: { role: 'anyone' },
      schema: { summary: 'Whether a device may go on with what it took along: its secret answers for it', params, body: alongSecretSchema },
    },
    async (request) => ({ state: await alongState(db, request.params.id, request.body.secret, now()) }),
  );

  app.post<One>(
    '/api/along/:id/end',
    { config: { role: 'officer' }, schema: { summary: 'End what a device took along: it is wiped when it next hears of the server', params } },
    (request) => endAlong(db, request.params.id, signedIn(request).id, now()),
  );
  done();
};
