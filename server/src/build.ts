import fastifyCompress from '@fastify/compress';
import fastifyCookie from '@fastify/cookie';
import fastifyHelmet from '@fastify/helmet';
import fastifySwagger from '@fastify/swagger';
import { jsonSchemaOf, Malformed, parse, type Problem } from '@grellin/contract';
import { sql } from 'drizzle-orm';
import Fastify, { type FastifyError, type FastifyInstance, type FastifySchema } from 'fastify';
import type { Schema } from 'yup';
import { accountRoutes } from './account/routes';
import { hasDemoAccounts, isEmpty } from './account/store';
import { assetRoutes } from './asset/routes';
import { isLoopback, type Config } from './config';
import type { Context } from './context';
import { connect } from './db/database';
import { isAway, isNoValue } from './db/refusal';
import { sealUnprotected } from './db/seal';
import { Coded } from './errors';
import { guard } from './guard';
import { Devices } from './instrument/devices';
import { instrumentRoutes } from './instrument/routes';
import { leakRoutes } from './leak/routes';
import { calendarRoutes } from './calendar/routes';
import { changeRoutes } from './change/routes';
import { kitRoutes } from './kit/routes';
import { personRoutes } from './person/routes';
import { planRoutes } from './plan/routes';
import { procedureRoutes } from './procedure/routes';
import { publishCatalogue } from './procedure/store';
import { recordRoutes } from './record/routes';
import { Histories } from './run/history';
import { FanOut } from './run/fanOut';
import { LiveRuns } from './run/live';
import { OpenStreams } from './run/openStreams';
import { InstrumentReader } from './run/reader';
import { runRoutes } from './run/routes';
import { scheduleRoutes } from './schedule/routes';
import { recomputeStanding, refreshMissing } from './standing/store';
import { transferRoutes } from './transfer/routes';
import { machineClocks, steadyHours, type Clocks } from './station/clocks';
import { Moment } from './station/moment';
import { stationRoutes } from './station/routes';
import { Station } from './station/store';
import { Papers } from './paper/pool';
import { Anchors } from './verify/anchors';
import { verifyRoutes } from './verify/routes';
import { serveWeb } from './web';

declare module 'fastify' {
  interface FastifySchema {
    summary?: string;
    hide?: boolean;
  }
}

const BODY_LIMIT = 1_048_576;
const REQUEST_MS = 60_000;

/** Turns whatever went wrong into a coded answer. What we did not foresee is logged and told apart from what the client did. */
function answerTo(error: FastifyError | Error): { readonly status: number; readonly problem: Problem } {
  if (error instanceof Coded) return { status: error.status, problem: { code: error.code, message: error.message, values: error.values } };
  if (error instanceof Malformed) return { status: 400, problem: { code: 'malformed', message: error.message, flaws: error.flaws } };
  if (isAway(error))
    return { status: 503, problem: { code: 'database.away', message: 'The database cannot be reached just now. Nothing was changed: try again.' } };
  if (isNoValue(error)) return { status: 400, problem: { code: 'value.impossible', message: 'A value in this request is none that could be kept.' } };
  const code = 'code' in error ? error.code : '';
  if (code === 'FST_ERR_CTP_BODY_TOO_LARGE') return { status: 413, problem: { code: 'body.tooLarge', message: 'The body is too large.' } };
  if (code === 'FST_ERR_CTP_INVALID_MEDIA_TYPE') return { status: 415, problem: { code: 'body.type', message: 'The body must be JSON.' } };
  const status = 'statusCode' in error ? error.statusCode : undefined;
  if (status !== undefined && status >= 400 && status < 500) return { status: 400, problem: { code: 'json', message: 'The request cannot be read.' } };
  return { status: 500, problem: { code: 'server.fault', message: 'The server could not do this. Nothing was changed.' } };
}

/** What is logged of a fault: a database's own message, without the values of the query that it was given. */
function withoutParameters(error: Error): Record<string, unknown> {
  const cause = error.cause instanceof Error ? error.cause : error;
  const { code } = cause as { readonly code?: unknown };
  return { fault: cause.message, ...(code === undefined ? {} : { code }), stack: cause.stack ?? error.stack };
}

async function openApi(app: FastifyInstance): Promise<void> {
  await app.register(fastifySwagger, {
    openapi: { openapi: '3.1.0', info: { title: 'Grellin', version: '1', description: 'Scheduled leak checks: assets, runs, records.' } },
    transform: ({ schema, url }: { schema: FastifySchema; url: string }) => {
      const { body, params, querystring, summary, hide } = schema as FastifySchema | Record<string, never>;
      const shown = Object.fromEntries(
        Object.entries({ body, params, querystring })
          .filter(([, s]) => s !== undefined)
          .map(([k, s]) => [k, jsonSchemaOf(s)]),
      );
      return { schema: { ...shown, ...(summary === undefined ? {} : { summary }), ...(hide === undefined ? {} : { hide }) }, url };
    },
  });
}

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
  const context: Context = { config, connection, live, devices: new Devices(config.instruments), fanOut, streams, station, papers, now, steady, clocks, today };
  const histories = new Histories();
  const reader = new InstrumentReader(context, histories);

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
  app.setErrorHandler((error: FastifyError, request, reply) => {
    const { status, problem } = answerTo(error);
    // A refusal is told by its code and its route: what was sent may hold names and secrets.
    if (status >= 500) request.log.error(withoutParameters(error));
    else request.log.warn({ code: problem.code, status, route: request.routeOptions.url ?? null, by: request.me?.id ?? null }, 'refused');
    const wait = status === 503 ? '1' : problem.code === 'signIn.tooMany' ? problem.values?.['seconds'] : undefined;
    if (wait !== undefined) reply.header('retry-after', wait);
    return reply.code(status).send(problem);
  });
  app.setNotFoundHandler((_request, reply) => reply.code(404).send({ code: 'route.unknown', message: 'There is nothing here.' } satisfies Problem));
  await app.register(fastifyHelmet, { contentSecurityPolicy: false, strictTransportSecurity: config.proxies !== null });
  await app.register(fastifyCookie);
  await app.register(fastifyCompress, { threshold: 2048 });
  guard(app, context, demo);
  await openApi(app);

  app.get('/api/health', { config: { role: 'anyone' }, schema: { summary: 'Whether the server and its database answer' } }, async () => {
    await connection.db.execute(sql`SELECT 1`);
    return { ok: true, demo, empty: await isEmpty(connection.db) };
  });
  app.get('/api/openapi.json', { config: { role: 'anyone' }, schema: { hide: true } }, () => app.swagger());
  accountRoutes(app, context);
  assetRoutes(app, context);
  calendarRoutes(app, context);
  changeRoutes(app, context);
  instrumentRoutes(app, context);
  kitRoutes(app, context);
  leakRoutes(app, context);
  personRoutes(app, context);
  planRoutes(app, context);
  procedureRoutes(app);
  recordRoutes(app, context, histories);
  runRoutes(app, context, histories);
  scheduleRoutes(app, context);
  stationRoutes(app, context);
  transferRoutes(app, context);
  verifyRoutes(app, context, anchors);
  if (config.webFolder !== null) await serveWeb(app, config.webFolder);

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
