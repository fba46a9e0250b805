import type { FastifyPluginCallback } from 'fastify';
import { Together } from '../../base';
import type { Database } from '../../db';
import { todayView } from './view';

/** What these routes work with. */
export interface TodayNeeds {
  readonly db: Database;
  /** The day at the station, ISO. */
  readonly today: () => string;
}

export const todayRoutes: FastifyPluginCallback<TodayNeeds> = (app, { db, today: day }, done) => {
  const today = new Together(() => todayView(db, day()));
  app.get('/api/today', { config: { role: 'reader' }, schema: { summary: 'What may not be used, what is late, due and running' } }, () => today.ask());
  done();
};
