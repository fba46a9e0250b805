import { stationSchema, type StationFacts } from '@grellin/contract';
import type { FastifyPluginCallback } from 'fastify';
import type { Station } from './store';

/** What these routes work with. */
export interface StationNeeds {
  readonly station: Station;
}

export const stationRoutes: FastifyPluginCallback<StationNeeds> = (app, { station }, done) => {
  app.get('/api/station', { config: { role: 'reader' }, schema: { summary: 'The station: its name and time zone' } }, () => station.facts);

  app.put<{ Body: StationFacts }>(
    '/api/station',
    { config: { role: 'officer' }, schema: { summary: 'Name the station, and set its time zone', body: stationSchema } },
    (request) => station.change(request.body),
  );
  done();
};
