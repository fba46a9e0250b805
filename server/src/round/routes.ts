import {
  newRoundSchema,
  roundAddSchema,
  roundItemSchema,
  roundTakeSchema,
  uuid,
  type NewRound,
  type OpenedRun,
  type RoundAdd,
  type RoundItem,
  type RoundTake,
} from '@grellin/contract';
import type { FastifyPluginCallback } from 'fastify';
import { object } from 'yup';
import { deviceOf, signedIn } from '../account';
import type { Clocks, Moment } from '../base';
import type { Database } from '../db';
import type { Devices } from '../register/instrument';
import { runView, type Histories } from '../run';
import { sheetCsv } from './sheet';
import { groupsOf, startDay } from './day';
import { addToRound, closeRound, leaveOutOfRound, openInRound, openRound, takeInRound } from './store';
import { listRounds, roundView } from './view';

/** What these routes work with. */
export interface RoundNeeds {
  readonly db: Database;
  readonly now: () => Moment;
  readonly clocks: Clocks;
  readonly devices: Devices;
  readonly histories: Histories;
}

export const roundRoutes: FastifyPluginCallback<RoundNeeds> = (app, needs, done) => {
  const { db, now } = needs;
  const params = object({ id: uuid() }).noUnknown();
  const reader = { role: 'reader' } as const;
  const tester = { role: 'tester' } as const;
  type One = { Params: { id: string } };

  app.get('/api/rounds', { config: reader, schema: { summary: 'Rounds that are open, and those of the last days' } }, () => listRounds(db));

  app.post<{ Body: NewRound }>(
    '/api/rounds',
    { config: tester, schema: { summary: 'Begin a round: items one after another by the same rules on the same gauges', body: newRoundSchema } },
    async (request, reply) => reply.code(201).send(await db.transaction((tx) => openRound(tx, request.body, signedIn(request).id, now()))),
  );

  app.post<{ Body: RoundAdd }>(
    '/api/rounds/groups',
    { config: reader, schema: { summary: 'What items owe, by procedure and rules: what could be a round', body: roundAddSchema } },
    (request) => groupsOf(db, request.body.assets),
  );

  app.post('/api/rounds/day', { config: tester, schema: { summary: 'Start the day’s work: a round of each rule set that is owed today' } }, (request) =>
    startDay(db, signedIn(request).id, now()),
  );

  app.post<One & { Body: RoundAdd }>(
    '/api/rounds/:id/items',
    { config: tester, schema: { summary: 'Put more items on the round’s list', params, body: roundAddSchema } },
    (request) => addToRound(db, request.params.id, request.body.assets, signedIn(request).id),
  );

  app.post<One & { Body: RoundTake }>(
    '/api/rounds/:id/take',
    { config: tester, schema: { summary: 'Take items, hand them to somebody, or put them back', params, body: roundTakeSchema } },
    async (request) => {
      await takeInRound(db, request.params.id, request.body, signedIn(request), now());
      return roundView(db, request.params.id);
    },
  );

  const item = object({ id: uuid(), asset: uuid() }).noUnknown();
  app.delete<{ Params: { id: string; asset: string } }>(
    '/api/rounds/:id/items/:asset',
    { config: tester, schema: { summary: 'Take an item that was not begun off the list', params: item } },
    async (request, reply) => {
      await leaveOutOfRound(db, request.params.id, request.params.asset);
      return reply.code(204).send();
    },
  );

  app.get<One>('/api/rounds/:id', { config: reader, schema: { summary: 'A round: its sheet', params } }, (request) => roundView(db, request.params.id));

  app.get<One>('/api/rounds/:id/sheet', { config: reader, schema: { summary: 'The round’s sheet as CSV', params } }, async (request, reply) => {
    const sheet = sheetCsv(await roundView(db, request.params.id));
    return reply.type('text/csv; charset=utf-8').header('content-disposition', 'attachment; filename="round.csv"').send(sheet);
  });

  app.post<One & { Body: RoundItem }>(
    '/api/rounds/:id/runs',
    { config: tester, schema: { summary: 'Open the run of the next item, by what was scanned or typed from it', params, body: roundItemSchema } },
    async (request, reply) => {
      const { id, secret } = await openInRound(needs, request.params.id, request.body, { account: signedIn(request).id, device: deviceOf(request) });
      return reply.code(201).send({ ...(await runView(db, id)), secret } satisfies OpenedRun);
    },
  );

  app.post<One>('/api/rounds/:id/end', { config: tester, schema: { summary: 'End a round; what is open in it goes on', params } }, (request) =>
    closeRound(db, request.params.id, signedIn(request).id, now()),
  );
  done();
};
