import { words } from '@grellin/contract';
import { findingInWords, headline } from '@grellin/core';
import type { FastifyInstance, FastifyRequest } from 'fastify';
import { object } from 'yup';
import { signedIn, type Context } from '../context';
import { Coded } from '../errors';
import type { Histories } from '../run/history';
import { leaksOf } from '../leak/store';
import { issued, type Issue } from './paper';
import { listRecords, recordView } from './store';

const params = object({ number: words(40) }).noUnknown();
const numberOf = (request: { readonly params: unknown }): string => (request.params as { number: string }).number;

export function recordRoutes(app: FastifyInstance, context: Context, histories: Histories): void {
  const { db } = context.connection;
  const issueOf = (request: FastifyRequest): Issue => ({
    base: context.config.publicUrl ?? `${request.protocol}://${request.host}`,
    zone: context.station.zone,
  });

  app.get('/api/records', { config: { role: 'reader' }, schema: { summary: 'The log' } }, () => listRecords(db));

  app.get('/api/records/:number', { config: { role: 'reader' }, schema: { summary: 'One record', params } }, (request) =>
    recordView(db, histories, numberOf(request)),
  );

  app.get('/api/records/:number/certificate.pdf', { config: { role: 'reader' }, schema: { summary: 'The certificate', params } }, async (request, reply) => {
    const view = await recordView(db, histories, numberOf(request));
    const { plan } = await histories.upToDate(db, view.run);
    return reply
      .type('application/pdf')
      .header('content-disposition', `inline; filename="${view.number}-${view.tag.replace(/[^A-Za-z0-9-]/g, '_')}.pdf"`)
      .send(
        await issued(
          db,
          view.number,
          'certificate',
          () => context.papers.bytes('certificate', { view, plan, issue: issueOf(request) }),
          signedIn(request).id,
          context.now(),
        ),
      );
  });

  app.get('/api/records/:number/tag.pdf', { config: { role: 'reader' }, schema: { summary: 'The do-not-use tag', params } }, async (request, reply) => {
    const view = await recordView(db, histories, numberOf(request));
    if (!view.blocks) throw new Coded('record.notBlocking', 'This record blocks nothing: there is no tag to print.');
    const { plan } = await histories.upToDate(db, view.run);
    const first = headline(plan, view.findings);
    const leaks = (await leaksOf(db, view.asset)).filter((l) => l.closedAt === null).map((l) => `Leak ${String(l.number)}: ${l.place}`);
    return reply
      .type('application/pdf')
      .header('content-disposition', `inline; filename="${view.number}-tag.pdf"`)
      .send(
        await issued(
          db,
          view.number,
          'tag',
          () => context.papers.bytes('tag', { view, why: first ? findingInWords(first) : '', leaks, issue: issueOf(request) }),
          signedIn(request).id,
          context.now(),
        ),
      );
  });
}
