import { newObligationSchema, type NewObligation, type TodayView } from '@grellin/contract';
import { daysBetween, nextDue } from '@grellin/core';
import { and, isNotNull, isNull, eq } from 'drizzle-orm';
import type { FastifyInstance } from 'fastify';
import { v7 } from 'uuid';
import { listAssets } from '../asset/store';
import { asset } from '../asset/table';
import type { Context } from '../context';
import type { Queries } from '../db/database';
import { Coded } from '../errors';
import { instrument } from '../instrument/table';
import { publishedById } from '../procedure/store';
import { openRuns } from '../run/store';
import { obligation } from './table';

/** An instrument is named this many days before its calibration runs out. */
const CALIBRATION_AHEAD_DAYS = 30;

async function todayView(db: Queries, date: string): Promise<TodayView> {
  const assets = await listAssets(db, date);
  const gauges = await db
    .select()
    .from(instrument)
    .where(and(isNull(instrument.fittedTo), isNotNull(instrument.calibrationDue)));
  const falling = gauges
    .map((g) => ({ tag: g.tag, title: g.title, calibrationDue: g.calibrationDue ?? date, days: daysBetween(date, g.calibrationDue ?? date) }))
    .filter((g) => g.days <= CALIBRATION_AHEAD_DAYS)
    .sort((a, b) => a.days - b.days);
  const byDue = (a: { readonly due: string | null }, b: { readonly due: string | null }): number => (a.due ?? '').localeCompare(b.due ?? '');
  return {
    date,
    blocked: assets.filter((a) => a.readiness === 'blocked'),
    overdue: assets.filter((a) => a.readiness === 'overdue').sort(byDue),
    due: assets.filter((a) => a.readiness === 'due').sort(byDue),
    running: await openRuns(db),
    instruments: falling,
    ready: assets.filter((a) => a.readiness === 'ready' || a.readiness === 'due').length,
    total: assets.length,
  };
}

export function scheduleRoutes(app: FastifyInstance, context: Context): void {
  const { db } = context.connection;

  app.get('/api/today', { config: { role: 'reader' }, schema: { summary: 'What may not be used, what is late, due and running' } }, () =>
    todayView(db, context.now().toISOString().slice(0, 10)),
  );

  app.post<{ Body: NewObligation }>(
    '/api/obligations',
    { config: { role: 'officer' }, schema: { summary: 'Let an asset owe a procedure', body: newObligationSchema } },
    async (request, reply) => {
      const given = request.body;
      const { document } = publishedById(given.procedure);
      if (!document.ruleSets.some((r) => r.id === given.ruleSet)) throw new Coded('procedure.unknown', `${document.title} has no rule set ${given.ruleSet}.`);
      const [owing] = await db.select({ id: asset.id }).from(asset).where(eq(asset.id, given.asset));
      if (!owing) throw new Coded('asset.unknown', 'There is no such asset.');
      const due = nextDue({ interval: given.interval, counting: given.counting, anchor: given.anchor }, given.anchor);
      const made = await db
        .insert(obligation)
        .values({ ...given, id: v7(), due, lastDone: null })
        .onConflictDoNothing()
        .returning();
      if (!made[0]) throw new Coded('obligation.exists', 'The asset owes this procedure already.');
      return reply.code(201).send(made[0]);
    },
  );
}
