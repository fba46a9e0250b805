import { stationSchema, type StationFacts } from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import type { Context } from '../context';

export function stationRoutes(app: FastifyInstance, context: Context): void {
  app.get('/api/station', { config: { role: 'reader' }, schema: { summary: 'The station: its name and time zone' } }, () => context.station.facts);

  app.put<{ Body: StationFacts }>(
    '/api/station',
    { config: { role: 'officer' }, schema: { summary: 'Name the station, and set its time zone', body: stationSchema } },
    (request) => context.station.change(request.body),
  );
}
