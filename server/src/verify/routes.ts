import { MessageChannel, type MessagePort } from 'node:worker_threads';
import {
  certificateCodeSchema,
  PROVED_RUN_FILE_FORMAT,
  words,
  verifyCode,
  verifyRun,
  type CertificateAnswer,
  type CertificateCode,
  type ProvedRunFile,
  type VerificationProgress,
} from '@grellin/contract';
import { eq } from 'drizzle-orm';
import type { FastifyPluginCallback } from 'fastify';
import { object } from 'yup';
import { Coded, type Config, type Moment } from '../base';
import { asset, type Database, standing } from '../db';
import { readinessOf } from '../standing';
import { sha256 } from '../run';
import type { Anchors } from './anchors';
import { Bucket } from './bucket';
import { bundleLines } from './bundle';
import { everyRunWhole, keptRun, proceduresOf, recordByNumber } from './source';
import type { Pool } from 'pg';

/** Certificates that one address may ask about in a minute: more than a person holds in a hand. */
const A_MINUTE = 30;

const recordParams = object({ number: words(40) }).noUnknown();

/** What these routes work with. */
export interface VerifyNeeds {
  readonly db: Database;
  /** The server’s clock, and what day it is at the station. */
  readonly now: () => Moment;
  /** The day at the station, ISO. */
  readonly today: () => string;
  readonly pool: Pool;
  readonly config: Pick<Config, 'databaseUrl' | 'anchorFile'>;
  readonly anchors: Anchors;
  /** Who walks through all that is kept, off the thread that answers; progress comes through the port. */
  readonly papers: {
    readonly verify: (url: string, anchorFile: string | null, port: MessagePort, signal: AbortSignal) => Promise<VerificationProgress>;
  };
}

export const verifyRoutes: FastifyPluginCallback<VerifyNeeds> = (app, { db, now, today, pool, config, anchors, papers }, done) => {
  const bucket = new Bucket(A_MINUTE, 60_000);
  let verifying = false;

  app.get(
    '/api/verification',
    { exposeHeadRoute: false, config: { role: 'officer' }, schema: { summary: 'Verify everything that is kept, with progress (server-sent events)' } },
    async (_request, reply) => {
      if (verifying) throw new Coded('verification.running', 'A verification is running at this server already.');
      verifying = true;
      reply.hijack();
      const { raw } = reply;
      raw.on('error', () => undefined);
      raw.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' });
      const say = (progress: VerificationProgress): void => {
        if (!raw.destroyed) raw.write(`data: ${JSON.stringify(progress)}\n\n`);
      };
      const { port1, port2 } = new MessageChannel();
      port1.on('message', (progress: VerificationProgress) => say(progress));
      try {
        const stop = new AbortController();
        raw.on('close', () => stop.abort());
        const done = await papers.verify(config.databaseUrl, config.anchorFile, port2, stop.signal);
        say({ ...done, finished: true });
      } catch {
        say({ done: 0, total: 0, events: 0, faultCount: 0, faults: [], otherwise: [], finished: true, failed: true });
      } finally {
        verifying = false;
        port1.close();
        raw.end();
      }
      return reply;
    },
  );

  app.get('/api/anchors', { config: { role: 'officer' }, schema: { summary: 'The anchors: the head of all heads, night by night' } }, () => anchors.list());

  app.post('/api/anchors', { config: { role: 'officer' }, schema: { summary: 'Anchor all that is sealed now' } }, async (_request, reply) =>
    reply.code(201).send(await anchors.write()),
  );

  app.get(
    '/api/bundle',
    // Its head alone would hold a connection for a body that nobody reads.
    { exposeHeadRoute: false, config: { role: 'officer' }, schema: { summary: 'Everything that verifying needs, one JSON thing a line' } },
    (_request, reply) =>
      reply
        .type('application/x-ndjson')
        .header('content-disposition', 'attachment; filename="grellin-bundle.ndjson"')
        .send(bundleLines(pool, proceduresOf, everyRunWhole, now())),
  );

  app.get<{ Params: { readonly number: string } }>(
    '/api/records/:number/run.json',
    { config: { role: 'reader' }, schema: { summary: 'The run of a record with its chain (grellin-run/2), to be judged anywhere', params: recordParams } },
    async (request, reply) => {
      const record = await recordByNumber(pool, request.params.number);
      const run = record && (await keptRun(pool, record.run));
      const document = run && (await proceduresOf(pool)).find((p) => p.digest === run.digest)?.document;
      if (!record || !document) throw new Coded('record.unknown', 'There is no such record.');
      const file: ProvedRunFile = {
        format: PROVED_RUN_FILE_FORMAT,
        procedure: { id: document.id, edition: document.edition },
        head: { seq: run.seq, hash: run.head },
        chain: run.chain,
      };
      return reply.header('content-disposition', `attachment; filename="${record.number}-run.json"`).send(file);
    },
  );

  app.post<{ Body: CertificateCode }>(
    '/api/verify',
    { config: { role: 'anyone' }, schema: { summary: 'Hold one certificate against what is kept: nothing else can be asked', body: certificateCodeSchema } },
    async (request): Promise<CertificateAnswer> => {
      if (!bucket.take(request.ip, Date.now())) throw new Coded('verify.tooMany', 'Too many certificates at once. Wait a minute.', { seconds: '60' });
      const code = request.body;
      const record = await recordByNumber(pool, code.number);
      // Who does not hold the full head learns nothing, not even whether there is such a record.
      if (record?.head !== code.head) return { known: false };
      const run = await keptRun(pool, record.run);
      const documents = new Map((await proceduresOf(pool)).map((p) => [p.digest, p.document]));
      const { faults } = run ? await verifyRun(run, documents, sha256) : { faults: [] };
      const [item] = await db.select({ asset, standing }).from(asset).innerJoin(standing, eq(standing.asset, asset.id)).where(eq(asset.id, record.asset)); // prettier-ignore
      const now = item ? readinessOf(item.standing, today()) : null;
      return {
        known: true,
        number: record.number,
        verdict: record.verdict,
        sealedAt: record.sealedAt,
        tag: item?.asset.tag ?? '',
        serial: item?.asset.serial ?? '',
        sound: run !== null && faults.length === 0 && verifyCode(code, record).length === 0,
        faults: [...verifyCode(code, record), ...faults].map((f) => f.message),
        amended: run?.chain.some((l) => !l.late && l.event.kind === 'amended') ?? false,
        readiness: now?.readiness ?? null,
        why: now?.why ?? null,
      };
    },
  );
  done();
};
