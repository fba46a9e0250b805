import type { FastifyPluginCallback } from 'fastify';
import { builtIn } from './store';

export const procedureRoutes: FastifyPluginCallback = (app, _needs, done) => {
  app.get('/api/procedures', { config: { role: 'reader' }, schema: { summary: 'The procedures, with their digests' } }, () => builtIn);
  done();
};
