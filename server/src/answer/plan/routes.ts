import { keptPlanSchema, newPlanBenchSchema, uuid, type KeptPlan, type NewPlanBench } from '@grellin/contract';
import type { FastifyPluginCallback } from 'fastify';
import { object, string } from 'yup';
import type { Moment } from '../../base';
import type { Database } from '../../db';
import { signedIn } from '../../account';
import { addBench, dropBench, keepPlan, planView } from './store';

const WEEKS = 26;
const MOST_WEEKS = 156;
/** A plan of twenty-five thousand tests. */
const PLAN_LIMIT = 6_000_000;

/** What these routes work with. */
export interface PlanNeeds {
  readonly db: Database;
  /** The server’s clock, and what day it is at the station. */
  readonly now: () => Moment;
  /** The day at the station, ISO. */
  readonly today: () => string;
}

export const planRoutes: FastifyPluginCallback<PlanNeeds> = (app, { db, now, today }, done) => {
  app.get<{ Querystring: { weeks?: string } }>(
    '/api/plan',
    {
      config: { role: 'reader' },
      schema: { summary: 'What has to be planned, and where it was put', querystring: object({ weeks: string().matches(/^\d{1,3}$/, 'whole') }).noUnknown() },
    },
    (request) => planView(db, today(), Math.min(MOST_WEEKS, Number(request.query.weeks ?? WEEKS))),
  );

  app.put<{ Body: KeptPlan }>(
    '/api/plan',
    { config: { role: 'officer' }, bodyLimit: PLAN_LIMIT, schema: { summary: 'Keep a plan whole', body: keptPlanSchema } },
    (request) => keepPlan(db, request.body, signedIn(request).id, now()),
  );

  app.post<{ Body: NewPlanBench }>(
    '/api/plan/benches',
    { config: { role: 'officer' }, schema: { summary: 'Add a bench, or a place where tests are done', body: newPlanBenchSchema } },
    async (request, reply) => reply.code(201).send(await addBench(db, request.body, signedIn(request).id, now())),
  );

  app.delete<{ Params: { id: string } }>(
    '/api/plan/benches/:id',
    { config: { role: 'officer' }, schema: { summary: 'Put a bench away', params: object({ id: uuid() }).noUnknown() } },
    (request) => dropBench(db, request.params.id, signedIn(request).id, now()),
  );
  done();
};
