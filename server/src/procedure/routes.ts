import type { FastifyInstance } from 'fastify';
import { builtIn } from './store';

export function procedureRoutes(app: FastifyInstance): void {
  app.get('/api/procedures', { config: { role: 'reader' }, schema: { summary: 'The procedures, with their digests' } }, () => builtIn);
}
