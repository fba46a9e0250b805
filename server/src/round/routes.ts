import { newRoundSchema, roundItemSchema, uuid, type NewRound, type OpenedRun, type RoundItem } from '@grellin/contract';
import type { FastifyPluginCallback } from 'fastify';
import { object } from 'yup';
import { deviceOf, signedIn } from '../account';
import type { Clocks, Moment } from '../base';
import type { Database } from '../db';
import type { Devices } from '../register/instrument';
import { runView, type Histories } from '../run';
import { sheetCsv } from './sheet';
import { closeRound, listRounds, openInRound, openRound, roundView } from './store';

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
    async (request, reply) => reply.code(201).send(await openRound(db, request.body, signedIn(request).id, now())),
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
