import fastifyCompress from '@fastify/compress';
import fastifyCookie from '@fastify/cookie';
import fastifyHelmet from '@fastify/helmet';
import { parse } from '@grellin/contract';
import { sql } from 'drizzle-orm';
import Fastify, { type FastifyInstance } from 'fastify';
import type { Schema } from 'yup';
import { type Clocks, type Config, isLoopback, machineClocks, Moment, steadyHours } from '../base';
import { connect, sealUnprotected } from '../db';
import { documentRoutes } from '../document';
import { procedureRoutes, publishCatalogue } from '../procedure';
import { recomputeStanding, refreshMissing } from '../standing';
import { Station, stationRoutes } from '../station';
import { accountRoutes, guard, hasDemoAccounts, isEmpty, personRoutes } from '../account';
import { assetRoutes } from '../register/item';
import { kitRoutes } from '../register/kit';
import { Devices, instrumentRoutes } from '../register/instrument';
import { leakRoutes } from '../register/leak';
import { obligationRoutes } from '../register/obligation';
import { FanOut, Histories, InstrumentReader, LiveRuns, OpenStreams, runRoutes } from '../run';
import { pictureRoutes } from '../picture';
import { recordRoutes } from '../record';
import { alongRoutes } from '../along';
import { roundRoutes } from '../round';
import { calibrationRoutes } from '../calibration';
import { todayRoutes } from '../answer/today';
import { itemAnswerRoutes } from '../answer/item';
import { planRoutes } from '../answer/plan';
import { calendarRoutes } from '../answer/calendar';
import { changeRoutes } from '../change';
import { transferRoutes } from '../transfer';
import { Anchors, verifyRoutes } from '../verify';
import { Papers } from '../paper';
import { answerFaults } from './answer';
import { refuseOldPages } from './edition';
import { openApi } from './openApi';
import { serveWeb } from './web';

const BODY_LIMIT = 1_048_576;
const REQUEST_MS = 60_000;

/**
 * Makes the server. It does not listen: `main.ts` does, and tests use `inject`.
 * @throws Error when demo accounts exist and the host is not loopback
 */
export async function build(config: Config, clocks: Clocks = machineClocks): Promise<FastifyInstance> {
  const clock = (): Date => new Date(clocks.read().wallMs);
  const steady = steadyHours(clocks);
  const connection = connect(config.databaseUrl);
  const demo = await hasDemoAccounts(connection.db);
  if (demo && !isLoopback(config.host)) {
    await connection.close();
    throw new Error(`This database has demo accounts, whose passwords are published: HOST must be loopback, not ${config.host}.`);
  }
  await publishCatalogue(connection.db, clock());
  await refreshMissing(connection.db);
  let closing = false;
  // Behind the first answers: a station of a hundred thousand items is not kept waiting for it.
  const recomputed = recomputeStanding(connection.db, () => closing).catch(() => []);
  const live = new LiveRuns(config.databaseUrl);
  const station = await Station.of(connection.db);
  const now = (): Moment => new Moment(clock(), station.zone);
  const today = (): string => now().day;
  const papers = new Papers();
  const anchors = new Anchors(connection.pool, config.anchorFile, now, (at) => now().dayOf(at));
  const streams = new OpenStreams(connection.db, steady);
  const fanOut = new FanOut(() => connection.db, live);
  const histories = new Histories();
  const devices = new Devices(config.instruments);
  const { db, pool } = connection;
  // Every plugin says which of these it works with; a test hands in others.
  const parts = { config, db, pool, live, devices, fanOut, streams, station, papers, anchors, histories, now, steady, clocks, today };
  const reader = new InstrumentReader(parts, histories);

  const app = Fastify({
    logger: config.log ? { level: 'warn' } : false,
    bodyLimit: BODY_LIMIT,
    trustProxy: config.proxies === null ? false : [...config.proxies],
    forceCloseConnections: true,
    // A body that trickles in holds nothing for longer than this.
    requestTimeout: REQUEST_MS,
  });
  app.setValidatorCompiler(({ schema }) => (value: unknown) => {
    try {
      return { value: parse<unknown>(schema as unknown as Schema<unknown>, value) };
    } catch (error) {
      return { error: error as Error };
    }
  });
  answerFaults(app);
  await app.register(fastifyHelmet, { contentSecurityPolicy: false, strictTransportSecurity: config.proxies !== null });
  await app.register(fastifyCookie);
  await app.register(fastifyCompress, { threshold: 2048 });
  refuseOldPages(app);
  guard(app, parts, demo);
  await openApi(app);

  app.get('/api/health', { config: { role: 'anyone' }, schema: { summary: 'Whether the server and its database answer' } }, async () => {
    await connection.db.execute(sql`SELECT 1`);
    return { ok: true, demo, empty: await isEmpty(connection.db) };
  });
  app.get('/api/openapi.json', { config: { role: 'anyone' }, schema: { hide: true } }, () => app.swagger());
  await app.register(accountRoutes, parts);
  await app.register(personRoutes, parts);
  await app.register(stationRoutes, parts);
  await app.register(procedureRoutes);
  await app.register(documentRoutes, parts);
  await app.register(assetRoutes, parts);
  await app.register(kitRoutes, parts);
  await app.register(instrumentRoutes, parts);
  await app.register(leakRoutes, parts);
  await app.register(obligationRoutes, parts);
  await app.register(runRoutes, parts);
  await app.register(roundRoutes, parts);
  await app.register(alongRoutes, parts);
  await app.register(pictureRoutes, parts);
  await app.register(recordRoutes, parts);
  await app.register(calibrationRoutes, parts);
  await app.register(todayRoutes, parts);
  await app.register(itemAnswerRoutes, parts);
  await app.register(planRoutes, parts);
  await app.register(calendarRoutes, parts);
  await app.register(changeRoutes, parts);
  await app.register(transferRoutes, parts);
  await app.register(verifyRoutes, parts);
  if (config.webFolder !== null) await serveWeb(app, config.webFolder, config.serviceWorker);

  app.addHook('onReady', async () => {
    await live.start();
    reader.start();
    anchors.start();
  });
  const unprotected = await sealUnprotected(connection.pool);
  if (unprotected !== null) app.log.warn(unprotected);
  void recomputed.then((stale) => {
    for (const { tag, before, after } of stale) app.log.warn({ tag, before, after }, 'standing was stale');
  });
  app.addHook('onClose', async () => {
    closing = true;
    await recomputed;
    await reader.stop();
    streams.stop();
    station.stop();
    anchors.stop();
    await papers.close();
    await live.stop();
    await connection.close();
  });
  return app;
}
