import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { get } from 'node:http';
import { connect as dial } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { report } from '../measure/ratio';
import { ask, Said, serve, type Served } from './served';

const INSERTS_S = 4;
const APPENDS = 400;
const BATCH = 50;
const READERS = 200;
const APPENDERS = 20;
const WATCHERS = 500;
const DEAF = 40;
/** A reader looks at its list and reads it before it asks again. */
const LOOKS_EVERY_MS = 5000;
/** A hand on the bench says so much. */
const SAYS_EVERY_MS = 1000;

const sleep = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));
const quantile = (list: readonly number[], q: number): number =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(q * list.length))] ?? Number.NaN;
const took = async (work: () => Promise<unknown>): Promise<number> => {
  const from = performance.now();
  await work();
  return performance.now() - from;
};

/** Milliseconds of one insert by PostgreSQL's own load program, one client, prepared. */
async function plainInsert(served: Served): Promise<number> {
  const client = new pg.Client({ connectionString: served.databaseUrl });
  await client.connect();
  await client.query('CREATE TABLE IF NOT EXISTS bench_line (id bigserial PRIMARY KEY, run uuid, event jsonb)');
  await client.end();
  const script = join(tmpdir(), `grellin-insert-${String(process.pid)}.sql`);
  writeFileSync(
    script,
    `INSERT INTO bench_line (run, event) VALUES ('01900000-0000-7000-8000-000000000000', '{"kind":"disturbed","note":"a door was opened"}');\n`,
  );
  const bin = process.env['PG_BIN'] ?? '';
  const said = execFileSync(join(bin, 'pgbench'), ['-n', '-M', 'prepared', '-T', String(INSERTS_S), '-f', script, served.databaseUrl], { encoding: 'utf8' });
  const found = /latency average = ([\d.]+) ms/.exec(said);
  if (!found?.[1]) throw new Error(`pgbench said no latency:\n${said}`);
  return Number(found[1]);
}

async function appends(served: Served): Promise<void> {
  const run = await Said.open(served, served.suits[0] ?? '');
  const here = await run.here();
  for (let i = 0; i < 100; i++) await here(1);
  for (let i = 0; i < 10; i++) await here(BATCH);
  const singles: number[] = [];
  const batches: number[] = [];
  // Before, between and after: a noisy minute strikes both alike.
  const inserts = [await plainInsert(served)];
  for (let i = 0; i < APPENDS; i++) singles.push(await took(() => here(1)));
  inserts.push(await plainInsert(served));
  for (let i = 0; i < 40; i++) batches.push(await took(() => here(BATCH)));
  inserts.push(await plainInsert(served));
  const asked: number[] = [];
  const other = await Said.open(served, served.suits[1] ?? '');
  for (let i = 0; i < APPENDS; i++) asked.push(await took(() => other.say(1)));
  const insert = quantile(inserts, 0.5);
  const [single, batch] = [quantile(singles, 0.5), quantile(batches, 0.5) / BATCH];
  report(
    'append of one event ÷ one pgbench insert',
    single / insert,
    8,
    `${single.toFixed(2)} ms ÷ ${insert.toFixed(3)} ms; as a request over HTTP ${quantile(asked, 0.5).toFixed(2)} ms`,
  );
  report(`append of ${String(BATCH)} events, each ÷ one pgbench insert`, batch / insert, 2, `${batch.toFixed(3)} ms ÷ ${insert.toFixed(3)} ms`);
}

async function today(served: Served): Promise<void> {
  const look = (): Promise<number> =>
    took(async () => {
      const reply = await ask(served, 'GET', '/api/today');
      if (reply.status !== 200) throw new Error(reply.text);
    });
  for (let i = 0; i < 20; i++) await look();
  const alone: number[] = [];
  for (let i = 0; i < 200; i++) alone.push(await look());
  const runs = await Promise.all(served.suits.slice(2, 2 + APPENDERS).map((suit) => Said.open(served, suit)));
  let going = true;
  const appenders = runs.map(async (run, i) => {
    await sleep((i * SAYS_EVERY_MS) / APPENDERS);
    while (going) {
      await run.say(1);
      await sleep(SAYS_EVERY_MS);
    }
  });
  const loaded: number[] = [];
  const readers = Array.from({ length: READERS }, async (_, i) => {
    await sleep((i * LOOKS_EVERY_MS) / READERS);
    for (let k = 0; k < 4; k++) {
      loaded.push(await look());
      await sleep(LOOKS_EVERY_MS);
    }
  });
  await Promise.all(readers);
  going = false;
  await Promise.all(appenders);
  const [unloaded, p99] = [quantile(alone, 0.5), quantile(loaded, 0.99)];
  report(
    `p99 of Today under ${String(READERS)} readers and ${String(APPENDERS)} appenders ÷ its unloaded median`,
    p99 / unloaded,
    5,
    `${p99.toFixed(1)} ms ÷ ${unloaded.toFixed(1)} ms, ${String(loaded.length)} looks`,
  );
}

/** Somebody who watches a run, and says when each position came. */
function watcher(served: Served, run: string, came: (seq: number, at: number) => void): Promise<() => void> {
  return new Promise((resolve, reject) => {
    const asked = get(`${served.url}/api/runs/events?follow=${run}:0`, { headers: { cookie: served.cookie }, agent: false }, (reply) => {
      reply.setEncoding('utf8').on('data', (part: string) => {
        const at = performance.now();
        for (const [, seq] of part.matchAll(/^id: (\d+)$/gm)) came(Number(seq), at);
      });
      resolve(() => asked.destroy());
    });
    asked.on('error', reject);
  });
}

/** How long events of a run take to reach each of its watchers, ms. */
async function arrivals(served: Served, suit: string, watchers: number): Promise<readonly number[]> {
  const run = await Said.open(served, suit);
  const came = Array.from({ length: watchers }, () => new Map<number, number>());
  const ends: (() => void)[] = [];
  for (const times of came) ends.push(await watcher(served, run.id, (seq, at) => times.set(seq, at)));
  await sleep(1000);
  const delays: number[] = [];
  for (let i = 0; i < 60; i++) {
    const from = performance.now();
    await run.say(1);
    const seq = i + 2; // the opening is the first
    while (!came.every((times) => times.has(seq))) await sleep(1);
    // The first ones warm up.
    if (i >= 10) for (const times of came) delays.push((times.get(seq) ?? Number.NaN) - from);
  }
  for (const end of ends) end();
  return delays;
}

async function watching(served: Served): Promise<void> {
  const [one, many] = [await arrivals(served, served.suits[30] ?? '', 1), await arrivals(served, served.suits[31] ?? '', WATCHERS)];
  const [of1, of500] = [quantile(one, 0.99), quantile(many, 0.99)];
  report(`p99 of an event’s arrival at ${String(WATCHERS)} watchers ÷ at one`, of500 / of1, 4, `${of500.toFixed(1)} ms ÷ ${of1.toFixed(1)} ms`);
}

const residentMb = (pid: number): number => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${String(pid)}/status`, 'utf8'))?.[1]) / 1024;

/** Memory while a run grows that nobody reads who watches it, beside the same without them. */
async function deaf(served: Served): Promise<void> {
  const grow = async (suit: string): Promise<{ readonly run: Said; readonly grown: number }> => {
    const run = await Said.open(served, suit);
    for (let i = 0; i < 20; i++) await run.say(100);
    const before = residentMb(served.pid);
    for (let i = 0; i < 200; i++) await run.say(100);
    return { run, grown: residentMb(served.pid) - before };
  };
  await grow(served.suits[40] ?? '');
  const suit = served.suits[41] ?? '';
  const run = await Said.open(served, suit);
  const to = new URL(served.url);
  const sockets = Array.from({ length: DEAF }, () => {
    const socket = dial(Number(to.port), to.hostname);
    socket.on('error', () => undefined);
    socket.write(`GET /api/runs/events?follow=${run.id}:0 HTTP/1.1\r\nHost: ${to.host}\r\nCookie: ${served.cookie}\r\n\r\n`);
    socket.pause();
    return socket;
  });
  await sleep(500);
  for (let i = 0; i < 200; i++) await run.say(100);
  const early = residentMb(served.pid);
  for (let i = 0; i < 400; i++) await run.say(100);
  const late = residentMb(served.pid);
  for (const socket of sockets) socket.destroy();
  report(
    `memory after 60 000 events with ${String(DEAF)} watchers who never read ÷ after 20 000`,
    late / early,
    1.3,
    `${late.toFixed(0)} MB ÷ ${early.toFixed(0)} MB`,
  );
}

/** The server under load, over loopback. */
export async function load(owner: string, dist: string): Promise<void> {
  const served = await serve(owner, dist, 'load', 64);
  try {
    await appends(served);
    await today(served);
    await watching(served);
    await deaf(served);
  } finally {
    await served.stop();
  }
}
