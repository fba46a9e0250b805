import { EDITION_HEADER, isUnderstood } from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import { Coded } from '../base';

/**
 * Answers no page that is too old to be understood. It is told so as of a server that is away for now (503): so a page of any age keeps what it has said and not
 * sent, and sends it when it has been loaded anew.
 */
export function refuseOldPages(app: FastifyInstance): void {
  app.addHook('onRequest', (request, _reply, done) => {
    const said = request.headers[EDITION_HEADER];
    const old = !isUnderstood(Array.isArray(said) ? said[0] : said);
    done(old ? new Coded('page.old', 'This page is older than the server understands: load it anew. What is unsent stays on this device.') : undefined);
  });
}
