import { spawn } from 'node:child_process';
import { Agent, request } from 'node:http';
import { join } from 'node:path';
import type { EventOf } from '@grellin/core';
import {
  appendEvents,
  authoriseForAll,
  connect,
  createAccount,
  Histories,
  insertInstruments,
  machineClocks,
  Moment,
  asset,
  type Connection,
} from '@grellin/server';
import { setupFor } from '@grellin/core/practice';
import { v7 } from 'uuid';
import { bencher, emptyDatabase } from '../measure/database';

/** The product's server in a process of its own, on an empty database of the cluster. */
export interface Served {
  readonly url: string;
  readonly databaseUrl: string;
  readonly connection: Connection;
  readonly cookie: string;
  readonly suits: readonly string[];
  readonly gauge: string;
  readonly pid: number;
  readonly stop: () => Promise<void>;
}

const agent = new Agent({ keepAlive: true, maxSockets: 1000 });

/** One request. @returns status, text and the cookies that were set */
export function ask(
  served: Pick<Served, 'url'> & { readonly cookie?: string },
  method: string,
  path: string,
  body?: unknown,
): Promise<{ readonly status: number; readonly text: string; readonly cookies: readonly string[] }> {
  return new Promise((resolve, reject) => {
    const payload = body === undefined ? undefined : JSON.stringify(body);
    const asked = request(
      `${served.url}${path}`,
      {
        method,
        agent,
        headers: {
          ...(served.cookie ? { cookie: served.cookie } : {}),
          ...(payload === undefined ? {} : { 'content-type': 'application/json', 'content-length': Buffer.byteLength(payload) }),
        },
      },
      (reply) => {
        let text = '';
        reply.setEncoding('utf8').on('data', (part: string) => (text += part));
        reply.on('end', () => resolve({ status: reply.statusCode ?? 0, text, cookies: (reply.headers['set-cookie'] ?? []).map((c) => c.split(';')[0] ?? '') }));
        reply.on('error', reject);
      },
    );
    asked.on('error', reject);
    asked.end(payload);
  });
}

/** Starts a server of `suits` suits with one gauge for all. */
export async function serve(owner: string, dist: string, name: string, suits: number): Promise<Served> {
  const at = await emptyDatabase(owner, name);
  const connection = connect(at);
  const now = new Moment(new Date(), 'UTC');
  const me = await createAccount(connection.db, { ...bencher, fullName: 'The bench', role: 'officer' }, false, now);
  await authoriseForAll(connection.db, me.id, '2099-01-01', 'BENCH', me.id, now);
  const made = Array.from({ length: suits }, (_, i) => ({
    id: v7(),
    tag: `GS-${String(i).padStart(4, '0')}`,
    serial: `S-${String(i)}`,
    class: 'gas-tight-suit',
    title: 'Gas-tight suit',
    place: 'Bench',
    practice: true,
    attributes: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } },
    createdAt: now,
  }));
  await connection.db.insert(asset).values(made);
  const copy = Object.values(setupFor('suit.inflation', 'in-h2o-4').instruments)[0];
  if (!copy) throw new Error('the suit has no gauge');
  const { low, high, resolution, accuracy, correlation } = copy;
  const gauge = v7();
  await insertInstruments(
    connection.db,
    [{ id: gauge, tag: 'MG-01', title: 'MG-01', fittedTo: null, low, high, resolution, accuracy, correlation, calibrationDue: '2099-01-01', address: null, simulated: false, rig: null }],
    now,
  ); // prettier-ignore
  const child = spawn(process.execPath, [join(dist, 'server.mjs')], {
    env: { ...process.env, DATABASE_URL: at, HOST: '127.0.0.1', PORT: '0', LOG: '0' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const url = await new Promise<string>((resolve, reject) => {
    child.once('exit', (code) => reject(new Error(`the server ended (${String(code)})`)));
    child.stdout.on('data', (part: Buffer) => {
      const found = /listening (\S+)/.exec(part.toString());
      if (found?.[1]) resolve(found[1]);
    });
  });
  const signedIn = await ask({ url }, 'POST', '/api/session', bencher);
  if (signedIn.status !== 200) throw new Error(`sign-in: ${signedIn.text}`);
  const ended = new Promise<void>((done) => child.once('exit', () => done()));
  return {
    url,
    databaseUrl: at,
    connection,
    cookie: signedIn.cookies.join('; '),
    suits: made.map((m) => m.id),
    gauge,
    pid: child.pid ?? 0,
    stop: async () => {
      child.removeAllListeners('exit');
      if (child.exitCode === null) {
        child.kill('SIGTERM');
        await ended;
      }
      await connection.close();
    },
  };
}

/** A run on one of the suits, in which something can be said. */
export class Said {
  private n = 0;
  private readonly began = Date.now();
  private constructor(
    private readonly served: Served,
    readonly id: string,
    private readonly lease: { readonly lease: number; readonly secret: string },
  ) {}

  static async open(served: Served, suit: string): Promise<Said> {
    const reply = await ask(served, 'POST', '/api/runs', {
      procedure: 'suit.inflation',
      ruleSet: 'in-h2o-4',
      assets: { suit },
      instruments: { suit: served.gauge },
    });
    if (reply.status !== 201) throw new Error(`open: ${reply.text}`);
    const { id, lease, secret } = JSON.parse(reply.text) as { id: string; lease: number; secret: string };
    return new Said(served, id, { lease, secret });
  }

  private words(count: number): EventOf<'disturbed'>[] {
    return Array.from({ length: count }, () => ({ id: v7(), source: 'bench:load', n: ++this.n, at: Date.now() - this.began, kind: 'disturbed', note: 'a door was opened' })); // prettier-ignore
  }

  /** The server's own appending, without the request around it. @returns what appends some events */
  async here(): Promise<(count: number) => Promise<unknown>> {
    const { db, pool } = this.served.connection;
    const histories = new Histories();
    const { rows } = await pool.query<{ account: string; device: string }>('SELECT account, device FROM run_lease WHERE run = $1', [this.id]);
    const [holder] = rows;
    if (!holder) throw new Error('nobody holds the run');
    const person = { ...holder, ...this.lease, role: 'officer' } as const;
    return (count) =>
      appendEvents(db, histories, {
        run: this.id,
        events: this.words(count),
        person,
        by: holder.account,
        now: new Moment(new Date(), 'UTC'),
        clocks: machineClocks,
      });
  }

  /** Appends some events in one request. */
  async say(count: number): Promise<void> {
    const events = this.words(count);
    const reply = await ask(this.served, 'POST', `/api/runs/${this.id}/events`, { ...this.lease, events });
    if (reply.status !== 201) throw new Error(`append: ${reply.text}`);
  }
}
