import type { ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Writable } from 'node:stream';
import type { PositionedEvent, RunView } from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { FanOut, PAGE } from '../../src/run/fanOut';
import { LiveRuns } from '../../src/run/live';
import { Feed, Line } from '../../src/run/stream';
import { Cable } from '../testing/cable';
import { loggers, passwords, Person, station, type Station } from '../testing/station';

/** As much as a browser may leave unread; run/stream.ts. */
const MOST_UNREAD = 1 << 18;

let s: Station;
let sims: Awaited<ReturnType<typeof loggers>>;
let cable: Cable;
let app: FastifyInstance;
let tester: Person;
let run: RunView;

beforeAll(async () => {
  s = await station();
  sims = await loggers();
  const to = new URL(s.url);
  cable = await Cable.to(to.hostname, Number(to.port));
  to.port = String(cable.port);
  app = await s.serve({ databaseUrl: to.href, instruments: sims.entry });
  await app.listen({ port: 0, host: '127.0.0.1' });
  tester = await new Person(app).signIn('tester');
  run = await tester.open(s, { instruments: { suit: s.ids.logger } });
});
afterAll(async () => {
  cable.mend();
  await s.close();
  cable.close();
  await sims.close();
});

const address = (): string => `http://127.0.0.1:${String((app.server.address() as AddressInfo).port)}`;
const rig = (command: Record<string, unknown>) => tester.ask('POST', `/api/instruments/${s.ids.logger}/rig`, command);
const stored = async (): Promise<number[]> => {
  const { rows } = await s.connection.pool.query<{ event: { kind: string; at: number; everyMs: number; values: number[] } }>(
    "SELECT event FROM run_event WHERE run = $1 AND event->>'kind' = 'samples' ORDER BY seq",
    [run.id],
  );
  return rows.flatMap(({ event }) => event.values.map((_, i) => event.at + i * event.everyMs));
};

describe('a server whose database goes away', () => {
  it('says 503 with when to try again, keeps its streams and its instruments, and loses no reading', async () => {
    const reply = await app.inject({ method: 'POST', url: '/api/session', payload: { name: 'tester', password: passwords.tester } });
    const cookie = `grellin_session=${reply.cookies[0]?.value ?? ''}`;
    const stop = new AbortController();
    const stream = await fetch(`${address()}/api/runs/${run.id}/events?after=0`, { headers: { cookie }, signal: stop.signal });
    const seen: PositionedEvent[] = [];
    const listening = (async () => {
      let text = '';
      for await (const part of stream.body ?? []) {
        text += Buffer.from(part as Uint8Array).toString();
        const messages = text.split('\n\n');
        text = messages.pop() ?? '';
        for (const m of messages) {
          const data = /^data: (.*)$/m.exec(m)?.[1];
          if (data !== undefined) seen.push(...(JSON.parse(data) as { events: PositionedEvent[] }).events);
        }
      }
    })().catch(() => undefined);

    await rig({ act: 'free', speed: 10 });
    await expect.poll(async () => (await stored()).length, { timeout: 15_000 }).toBeGreaterThan(20);
    for (let i = 0; i < 4; i++) {
      cable.cut();
      // Checked-out and idle connections alike are gone: the process must not be.
      const away = await app.inject({ method: 'GET', url: '/api/health' });
      expect(away.statusCode).toBe(503);
      expect(away.headers['retry-after']).toBe('1');
      expect(away.json()).toMatchObject({ code: 'database.away' });
      await new Promise((done) => setTimeout(done, 900));
      cable.mend();
      const before = (await stored()).length;
      await expect.poll(async () => (await app.inject({ method: 'GET', url: '/api/health' })).statusCode, { timeout: 15_000 }).toBe(200);
      await expect.poll(async () => (await stored()).length, { timeout: 15_000 }).toBeGreaterThan(before + 20);
    }
    const times = await stored();
    const holes = times.filter((t, i) => i > 0 && t - (times[i - 1] ?? 0) !== 500);
    expect(holes).toEqual([]);
    // The stream was never broken off, and told each event once, in order.
    await expect.poll(() => seen.at(-1)?.seq ?? 0, { timeout: 15_000 }).toBeGreaterThan(5);
    expect(seen.map((e) => e.seq)).toEqual(seen.map((_, i) => i + 1));
    stop.abort();
    await listening;
  }, 90_000);
});

describe('watchers', () => {
  it('who never read are not written to without end', async () => {
    const before = (await stored()).length;
    for (let i = 0; i < 12; i++) await rig({ act: 'step', seconds: 7200 });
    await expect.poll(async () => (await stored()).length, { timeout: 30_000 }).toBeGreaterThanOrEqual(before + 12 * 14_000);
    const said = await s.connection.pool.query<{ n: string }>('SELECT sum(length(event::text)) AS n FROM run_event WHERE run = $1', [run.id]);
    expect(Number(said.rows[0]?.n)).toBeGreaterThan(3 * MOST_UNREAD);
    const live = new LiveRuns(s.url);
    await live.start();
    const fanOut = new FanOut(() => s.connection.db, live);
    // As a socket to which nobody listens: what is written to it stays.
    const deaf = Array.from({ length: 40 }, () => new Writable({ write: () => undefined, highWaterMark: 1 << 14 }));
    const ends = deaf.map((raw) => fanOut.watch(run.id, new Feed(run.id, 0, new Line(raw as unknown as ServerResponse))));
    let heard = 0;
    const ears = new Writable({
      write: (part: Buffer, _encoding, done) => {
        heard += part.length;
        done();
      },
    });
    ends.push(fanOut.watch(run.id, new Feed(run.id, 0, new Line(ears as unknown as ServerResponse))));
    await expect.poll(() => heard, { timeout: 15_000 }).toBeGreaterThan(2.5 * MOST_UNREAD);
    // Each is written to until it has no room, and no further, whatever is said after that.
    const unread = (): number[] => deaf.map((raw) => raw.writableLength);
    await expect.poll(() => Math.min(...unread()), { timeout: 60_000 }).toBeGreaterThanOrEqual(MOST_UNREAD);
    const full = unread();
    // A page is written whole: how much stands in one depends on how fast the gauge was read.
    const longest = await s.connection.pool.query<{ n: string }>('SELECT max(length(event::text)) AS n FROM run_event WHERE run = $1', [run.id]);
    expect(Math.max(...full)).toBeLessThan(MOST_UNREAD + PAGE * (Number(longest.rows[0]?.n) + 500));
    const sofar = heard;
    await rig({ act: 'step', seconds: 600 });
    await expect.poll(() => heard, { timeout: 30_000 }).toBeGreaterThan(sofar);
    expect(deaf.every((raw, i) => raw.destroyed || raw.writableLength === full[i])).toBe(true);
    for (const end of ends) end();
    await live.stop();
  }, 90_000);

  it('lose their stream when their session ends', async () => {
    const reply = await app.inject({ method: 'POST', url: '/api/session', payload: { name: 'reader', password: passwords.reader } });
    const cookie = `grellin_session=${reply.cookies[0]?.value ?? ''}`;
    const stream = await fetch(`${address()}/api/runs/${run.id}/events?after=0`, { headers: { cookie } });
    const ended = (async () => {
      await stream.text();
    })().then(
      () => 'ended',
      () => 'ended',
    );
    // Ended by another server, as far as this one knows.
    await s.connection.pool.query("DELETE FROM session WHERE account = (SELECT id FROM account WHERE name = 'reader')");
    expect(await Promise.race([ended, new Promise((done) => setTimeout(() => done('still open'), 15_000))])).toBe('ended');
  }, 30_000);
});
