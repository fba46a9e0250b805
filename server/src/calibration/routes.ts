import { calibrationSchema, uuid, zeroCheckSchema, type NewCalibration } from '@grellin/contract';
import type { Quantity } from '@grellin/core';
import type { FastifyPluginCallback } from 'fastify';
import { object } from 'yup';
import type { Moment } from '../base';
import type { Database } from '../db';
import { signedIn } from '../account';
import { calibrate, checkZero, instrumentView } from './store';

/** What these routes work with. */
export interface CalibrationNeeds {
  readonly db: Database;
  /** The server’s clock, and what day it is at the station. */
  readonly now: () => Moment;
}

export const calibrationRoutes: FastifyPluginCallback<CalibrationNeeds> = (app, { db, now }, done) => {
  const params = object({ id: uuid() }).noUnknown();

  app.get<{ Params: { id: string } }>(
    '/api/instruments/:id',
    { config: { role: 'reader' }, schema: { summary: 'One instrument: its calibrations, and what was recalled for it', params } },
    (request) => instrumentView(db, request.params.id, now()),
  );

  app.post<{ Params: { id: string }; Body: NewCalibration }>(
    '/api/instruments/:id/calibrations',
    { config: { role: 'officer' }, schema: { summary: 'Keep a calibration; found out of tolerance, runs are judged again', params, body: calibrationSchema } },
    async (request, reply) => reply.code(201).send(await calibrate(db, request.params.id, request.body, signedIn(request).id, now())),
  );

  app.post<{ Params: { id: string }; Body: { shows: Quantity; note?: string } }>(
    '/api/instruments/:id/zero',
    { config: { role: 'tester' }, schema: { summary: 'Keep what an instrument shows at nothing', params, body: zeroCheckSchema } },
    async (request, reply) =>
      reply.code(201).send(await checkZero(db, request.params.id, request.body.shows, request.body.note ?? '', signedIn(request).id, now())),
  );
  done();
};
