import { digest, publishTableSchema, readTableSchema, withdrawTableSchema, type PublishTable, type ReadTableBody } from '@grellin/contract';
import type { FastifyPluginCallback } from 'fastify';
import { object } from 'yup';
import { signedIn } from '../account';
import type { Moment } from '../base';
import type { Database } from '../db';
import { readTableCsv, tableCsv } from './csv';
import { listTables, publishTable, tableByDigest, withdrawTable } from './store';

/** What these routes work with. */
export interface DocumentNeeds {
  readonly db: Database;
  readonly now: () => Moment;
  /** The day at the station, ISO. */
  readonly today: () => string;
}

/** The station's own documents: what authorities lay down, entered or read from a file, an edition at a time. */
export const documentRoutes: FastifyPluginCallback<DocumentNeeds> = (app, { db, now, today }, done) => {
  const params = object({ digest: digest() }).noUnknown();
  const officer = { role: 'officer' } as const;

  app.get('/api/tables', { config: { role: 'reader' }, schema: { summary: 'Kept tables of figures, every edition' } }, () => listTables(db, today()));

  app.post<{ Body: PublishTable }>(
    '/api/tables',
    { config: officer, schema: { summary: 'Publish an edition of a table, by docs/figure-table.schema.json', body: publishTableSchema } },
    async (request, reply) => {
      const { table, sure } = request.body;
      return reply.code(201).send(await publishTable(db, table, sure === true, signedIn(request).id, now()));
    },
  );

  app.post<{ Body: ReadTableBody }>(
    '/api/tables/read',
    { config: officer, schema: { summary: 'Read the lines of a table from CSV, without keeping them', body: readTableSchema } },
    (request) => readTableCsv(request.body.kind, request.body.csv),
  );

  app.get<{ Params: { digest: string } }>(
    '/api/tables/:digest',
    { config: { role: 'reader' }, schema: { summary: 'A table as JSON, by docs/figure-table.schema.json', params } },
    (request) => tableByDigest(db, request.params.digest),
  );

  app.get<{ Params: { digest: string } }>(
    '/api/tables/:digest/csv',
    { config: { role: 'reader' }, schema: { summary: 'A table’s lines as CSV', params } },
    async (request, reply) => {
      const table = await tableByDigest(db, request.params.digest);
      return reply.type('text/csv; charset=utf-8').header('content-disposition', 'attachment; filename="table.csv"').send(tableCsv(table));
    },
  );

  app.post<{ Params: { digest: string }; Body: { reason: string } }>(
    '/api/tables/:digest/withdraw',
    { config: officer, schema: { summary: 'Withdraw an edition: no run is opened by it any more', params, body: withdrawTableSchema } },
    (request) => withdrawTable(db, request.params.digest, request.body.reason, signedIn(request).id, now()),
  );
  done();
};
