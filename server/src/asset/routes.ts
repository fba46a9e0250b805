import { newAssetSchema, uuid, type NewAsset } from '@grellin/contract';
import { desc, eq } from 'drizzle-orm';
import type { FastifyInstance } from 'fastify';
import { object } from 'yup';
import type { Context } from '../context';
import { instrumentRow } from '../instrument/store';
import { instrument } from '../instrument/table';
import { leaksOf } from '../leak/store';
import { listRecords } from '../record/store';
import { obligation } from '../schedule/table';
import { addAsset, assetById, listAssets } from './store';

export function assetRoutes(app: FastifyInstance, context: Context): void {
  const { db } = context.connection;
  const today = (): string => context.now().toISOString().slice(0, 10);

  app.get('/api/assets', { config: { role: 'reader' }, schema: { summary: 'The register with readiness' } }, () => listAssets(db, today()));

  app.post<{ Body: NewAsset }>(
    '/api/assets',
    { config: { role: 'officer' }, schema: { summary: 'Add an asset to the register', body: newAssetSchema } },
    async (request, reply) => reply.code(201).send(await addAsset(db, request.body, context.now())),
  );

  app.get(
    '/api/assets/:id',
    { config: { role: 'reader' }, schema: { summary: 'One asset: what it owes, its gauges, its records', params: object({ id: uuid() }).noUnknown() } },
    async (request) => {
      const { id } = request.params as { id: string };
      const row = await assetById(db, id, today());
      const owed = await db.select().from(obligation).where(eq(obligation.asset, id)).orderBy(desc(obligation.due));
      const fitted = await db.select().from(instrument).where(eq(instrument.fittedTo, id));
      return { ...row, obligations: owed, instruments: fitted.map((i) => instrumentRow(i)), records: await listRecords(db, id), leaks: await leaksOf(db, id) };
    },
  );
}
