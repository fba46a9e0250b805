import {
  deferralSchema,
  newObligationSchema,
  outsideSchema,
  proposalSchema,
  uuid,
  type Deferral,
  type NewObligation,
  type OutsideCertificate,
} from '@grellin/contract';
import type { FastifyPluginCallback } from 'fastify';
import { object } from 'yup';
import type { Moment } from '../../base';
import type { Database } from '../../db';
import { signedIn } from '../../account';
import { outsideScan, settleOutside } from './outside';
import { addObligation, addUsual, bringForward, defer, dropObligation } from './store';

/** A scan of a few pages, as base64 in JSON. */
const SCAN_LIMIT = 6_000_000;

/** What these routes work with. */
export interface ObligationNeeds {
  readonly db: Database;
  /** The server’s clock, and what day it is at the station. */
  readonly now: () => Moment;
}

export const obligationRoutes: FastifyPluginCallback<ObligationNeeds> = (app, { db, now }, done) => {
  const params = object({ id: uuid() }).noUnknown();
  const officer = { role: 'officer' } as const;
  interface One {
    Params: { id: string };
  }

  app.post<{ Body: NewObligation }>(
    '/api/obligations',
    { config: officer, schema: { summary: 'Let an asset owe a procedure', body: newObligationSchema } },
    async (request, reply) => reply.code(201).send(await addObligation(db, request.body, signedIn(request).id, now())),
  );

  app.post<One>('/api/assets/:id/usual', { config: officer, schema: { summary: 'Let an asset owe all that its class usually does', params } }, (request) =>
    addUsual(db, request.params.id, signedIn(request).id, now()),
  );

  app.delete<One>('/api/obligations/:id', { config: officer, schema: { summary: 'An asset no longer owes something', params } }, (request) =>
    dropObligation(db, request.params.id, signedIn(request).id, now()),
  );

  app.post<One & { Body: Deferral }>(
    '/api/obligations/:id/deferral',
    { config: officer, schema: { summary: 'Put a due date off, with the reason', params, body: deferralSchema } },
    (request) => defer(db, request.params.id, request.body, signedIn(request).id, now()),
  );

  app.post<One & { Body: { to: string } }>(
    '/api/obligations/:id/proposal',
    { config: officer, schema: { summary: 'Bring a due date forward, as the trend proposes', params, body: proposalSchema } },
    (request) => bringForward(db, request.params.id, request.body.to, signedIn(request).id, now()),
  );

  app.post<One & { Body: OutsideCertificate }>(
    '/api/obligations/:id/outside',
    { config: officer, bodyLimit: SCAN_LIMIT, schema: { summary: 'Settle what is owed by a certificate from outside', params, body: outsideSchema } },
    async (request, reply) => reply.code(201).send(await settleOutside(db, request.params.id, request.body, signedIn(request).id, now())),
  );

  app.get<One>(
    '/api/outside/:id',
    { config: { role: 'reader' }, schema: { summary: 'The scan of a certificate from outside', params } },
    async (request, reply) => {
      const { mime, scan } = await outsideScan(db, request.params.id);
      // A scan comes from elsewhere: it is never shown as a page of this site.
      return reply.type(mime).header('content-disposition', 'attachment').header('x-content-type-options', 'nosniff').send(scan);
    },
  );
  done();
};
