import { importSchema, isUuid, logQuerySchema, registerQuerySchema, words, type AssetRow, type LogQuery, type RegisterQuery } from '@grellin/contract';
import type { FastifyPluginCallback } from 'fastify';
import { mixed, object } from 'yup';
import { Coded, type Config, type Moment } from '../base';
import type { Database } from '../db';
import { signedIn } from '../account';
import { assetsByIds } from '../register/item';
import { logCsv, registerCsv, registerJson } from './export';
import { importRegister } from './import';
import type { LabelForm } from './labels';
import type { ReadRow, RowsAsked } from './read';

/** Fifty thousand rows with their attributes. */
const IMPORT_LIMIT = 42_000_000;
const MOST_LABELS = 500;

/** What these routes work with. */
export interface TransferNeeds {
  readonly db: Database;
  /** The server’s clock, and what day it is at the station. */
  readonly now: () => Moment;
  /** The day at the station, ISO. */
  readonly today: () => string;
  readonly config: Pick<Config, 'publicUrl'>;
  readonly station: { readonly zone: string };
  /** Who reads and draws what is long, off the thread that answers. */
  readonly papers: {
    readonly rows: (given: RowsAsked) => Promise<readonly ReadRow[]>;
    readonly labels: (given: { readonly assets: readonly AssetRow[]; readonly form: LabelForm; readonly base: string }) => Promise<Buffer>;
  };
}

export const transferRoutes: FastifyPluginCallback<TransferNeeds> = (app, { db, now, today, config, station, papers }, done) => {
  const reader = { role: 'reader' } as const;

  app.get<{ Querystring: RegisterQuery }>(
    '/api/assets.csv',
    { config: reader, schema: { summary: 'The register as CSV (RFC 4180)', querystring: registerQuerySchema } },
    async (request, reply) => {
      const file = await registerCsv(db, request.query, today());
      return reply.type('text/csv; charset=utf-8; header=present').header('content-disposition', 'attachment; filename="register.csv"').send(file);
    },
  );

  app.get<{ Querystring: RegisterQuery }>(
    '/api/assets.json',
    { config: reader, schema: { summary: 'The register as JSON, by docs/register.schema.json', querystring: registerQuerySchema } },
    async (request, reply) => {
      const file = await registerJson(db, request.query, today());
      return reply.type('application/json; charset=utf-8').header('content-disposition', 'attachment; filename="register.json"').send(file);
    },
  );

  app.get<{ Querystring: LogQuery }>(
    '/api/records.csv',
    { config: reader, schema: { summary: 'The log, or what a question finds of it, as CSV (RFC 4180)', querystring: logQuerySchema } },
    async (request, reply) => {
      const file = await logCsv(db, request.query, station.zone);
      return reply.type('text/csv; charset=utf-8; header=present').header('content-disposition', 'attachment; filename="log.csv"').send(file);
    },
  );

  app.post<{ Body: { csv: string; columns: Record<string, string>; write: boolean; sure?: boolean } }>(
    '/api/assets/import',
    { config: { role: 'officer' }, bodyLimit: IMPORT_LIMIT, schema: { summary: 'Take a register’s CSV in, or say what that would do', body: importSchema } },
    (request) =>
      importRegister(
        db,
        (csv, columns) => papers.rows({ csv, columns, sure: request.body.sure === true }),
        request.body.csv,
        request.body.columns,
        request.body.write,
        signedIn(request).id,
        now(),
      ),
  );

  app.get<{ Querystring: { assets: string; form?: LabelForm } }>(
    '/api/labels.pdf',
    {
      config: reader,
      schema: {
        summary: 'Labels with QR codes, on a sheet or a tape',
        querystring: object({ assets: words(40_000), form: mixed<LabelForm>().oneOf(['sheet', 'tape']) }).noUnknown(),
      },
    },
    async (request, reply) => {
      const ids = [...new Set(request.query.assets.split(','))];
      if (ids.length > MOST_LABELS || !ids.every(isUuid)) throw new Coded('labels.assets', `Name up to ${String(MOST_LABELS)} assets by their ids.`);
      const found = [...(await assetsByIds(db, ids, today()))].sort((a, b) => a.tag.localeCompare(b.tag));
      if (found.length === 0) throw new Coded('asset.unknown', 'There is no such asset.');
      return reply
        .type('application/pdf')
        .header('content-disposition', 'inline; filename="labels.pdf"')
        .send(await papers.labels({ assets: found, form: request.query.form ?? 'sheet', base: config.publicUrl ?? `${request.protocol}://${request.host}` }));
    },
  );
  done();
};
