import { liftSchema, logQuerySchema, words, type Lift, type LogQuery, type RecordView } from '@grellin/contract';
import { findingInWords, headline, type Plan } from '@grellin/core';
import type { FastifyPluginCallback, FastifyRequest } from 'fastify';
import { object } from 'yup';
import { Coded, type Config, type Moment } from '../base';
import type { Database } from '../db';
import { signedIn } from '../account';
import { pictureBytes } from '../picture';
import { leaksOf } from '../register/leak';
import type { Histories } from '../run';
import { liftHold } from '../standing';
import { logPage } from './page';
import { issued, type Issue } from './paper';
import { recordView } from './store';

const params = object({ number: words(40) }).noUnknown();
const numberOf = (request: { readonly params: unknown }): string => (request.params as { number: string }).number;

/** What these routes work with. */
export interface RecordNeeds {
  readonly db: Database;
  /** The server’s clock, and what day it is at the station. */
  readonly now: () => Moment;
  readonly config: Pick<Config, 'publicUrl'>;
  readonly station: { readonly zone: string };
  readonly histories: Histories;
  /** Who draws papers, off the thread that answers. */
  readonly papers: {
    readonly certificate: (given: {
      readonly view: RecordView;
      readonly plan: Plan;
      readonly pictures: readonly Uint8Array[];
      readonly issue: Issue;
    }) => Promise<Buffer>;
    readonly tag: (given: { readonly view: RecordView; readonly why: string; readonly leaks: readonly string[]; readonly issue: Issue }) => Promise<Buffer>;
  };
}

export const recordRoutes: FastifyPluginCallback<RecordNeeds> = (app, { db, now, config, station, histories, papers }, done) => {
  const issueOf = (request: FastifyRequest): Issue => ({
    base: config.publicUrl ?? `${request.protocol}://${request.host}`,
    zone: station.zone,
  });

  app.get<{ Querystring: LogQuery }>(
    '/api/records',
    { config: { role: 'reader' }, schema: { summary: 'A page of the log, newest first', querystring: logQuerySchema } },
    (request) => logPage(db, request.query, station.zone),
  );

  app.get('/api/records/:number', { config: { role: 'reader' }, schema: { summary: 'One record', params } }, (request) =>
    recordView(db, histories, numberOf(request), now().day),
  );

  app.post<{ Body: Lift }>(
    '/api/records/:number/lift',
    { config: { role: 'officer' }, schema: { summary: 'Lift what a record without a result holds back, with the reason', params, body: liftSchema } },
    async (request, reply) => {
      await liftHold(db, numberOf(request), request.body, signedIn(request).id, now());
      return reply.code(204).send();
    },
  );

  app.get('/api/records/:number/certificate.pdf', { config: { role: 'reader' }, schema: { summary: 'The certificate', params } }, async (request, reply) => {
    const view = await recordView(db, histories, numberOf(request), now().day);
    const { plan } = await histories.upToDate(db, view.run);
    return reply
      .type('application/pdf')
      .header('content-disposition', `inline; filename="${view.number}-${view.tag.replace(/[^A-Za-z0-9-]/g, '_')}.pdf"`)
      .send(
        await issued(
          db,
          view.number,
          'certificate',
          async () => {
            const pictures = await Promise.all(view.pictures.map((p) => pictureBytes(db, p.sha256)));
            return papers.certificate({ view, plan, pictures, issue: issueOf(request) });
          },
          signedIn(request).id,
          now(),
        ),
      );
  });

  app.get('/api/records/:number/tag.pdf', { config: { role: 'reader' }, schema: { summary: 'The do-not-use tag', params } }, async (request, reply) => {
    const view = await recordView(db, histories, numberOf(request), now().day);
    if (!view.blocks && !(view.holds && view.lifted === null)) throw new Coded('record.notBlocking', 'This record blocks nothing: there is no tag to print.');
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
          () => papers.tag({ view, why: first ? findingInWords(first) : '', leaks, issue: issueOf(request) }),
          signedIn(request).id,
          now(),
        ),
      );
  });
  done();
};
