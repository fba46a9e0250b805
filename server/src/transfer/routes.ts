import { importSchema, isUuid, registerQuerySchema, words, type RegisterQuery } from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import { mixed, object } from 'yup';
import { assetsByIds } from '../asset/page';
import { signedIn, type Context } from '../context';
import { Coded } from '../errors';
import { registerCsv, registerJson } from './export';
import { importRegister } from './import';
import type { LabelForm } from './labels';

/** Fifty thousand rows with their attributes. */
const IMPORT_LIMIT = 42_000_000;
const MOST_LABELS = 500;

export function transferRoutes(app: FastifyInstance, context: Context): void {
  const { db } = context.connection;
  const { today } = context;
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

  app.post<{ Body: { csv: string; columns: Record<string, string>; write: boolean } }>(
    '/api/assets/import',
    { config: { role: 'officer' }, bodyLimit: IMPORT_LIMIT, schema: { summary: 'Take a register’s CSV in, or say what that would do', body: importSchema } },
    (request) =>
      importRegister(
        db,
        (csv, columns) => context.papers.carryOut('rows', { csv, columns }),
        request.body.csv,
        request.body.columns,
        request.body.write,
        signedIn(request).id,
        context.now(),
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
        .send(await context.papers.bytes('labels', { assets: found, form: request.query.form ?? 'sheet' }));
    },
  );
}
