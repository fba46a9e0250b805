import { randomBytes } from 'node:crypto';
import type { AddressInfo, Server } from 'node:net';
import type { RunView } from '@grellin/contract';
import { addDays, type EventBody, type RunEvent } from '@grellin/core';
import type { FastifyInstance, InjectOptions } from 'fastify';
import { eq } from 'drizzle-orm';
import pg from 'pg';
import { v7 } from 'uuid';
import { inject } from 'vitest';
import { loggerServer, Shelf } from '../../../tools/src/logger/server';
import {
  asset,
  authoriseForAll,
  bareConfig,
  build,
  connect,
  createAccount,
  insertInstruments,
  machineClocks,
  Moment,
  obligation,
  refreshStanding,
  type Clocks,
  type Config,
  type Connection,
  type InstrumentFacts,
} from '../../src';

/** A small station in a database of its own: two suits, a truck, gauges and people. */
export interface Station {
  readonly url: string;
  readonly connection: Connection;
  readonly ids: {
    readonly suit: string;
    readonly suit2: string;
    readonly truck: string;
    readonly manual: string;
    readonly expired: string;
    readonly logger: string;
    readonly dash: string;
    readonly dash2: string;
  };
  /** A server on this database; closed with the station. */
  readonly serve: (more?: Partial<Config>, clocks?: Clocks) => Promise<FastifyInstance>;
  readonly close: () => Promise<void>;
}

export const passwords = { officer: 'officer-password', tester: 'tester-password', reader: 'reader-password' } as const;

/**
 * @param options.now the day that its dates count from: that of the clock which a test holds
 * @param options.people false for a database that nobody can sign in to yet
 */
export async function station(options: { readonly demo?: boolean; readonly now?: Date; readonly people?: boolean } = {}): Promise<Station> {
  const owner = inject('ownerUrl');
  const name = `t_${randomBytes(6).toString('hex')}`;
  const admin = new pg.Client({ connectionString: owner });
  await admin.connect();
  await admin.query(`CREATE DATABASE ${name} TEMPLATE template_grellin`);
  await admin.end();
  const url = owner.replace(/postgres$/, name);
  const connection = connect(url);
  const { db } = connection;
  const now = new Moment(options.now ?? new Date(), 'UTC');
  const today = now.day;
  for (const [role, password] of options.people === false ? [] : Object.entries(passwords)) {
    const made = await createAccount(db, { name: role, fullName: `The ${role}`, role: role as keyof typeof passwords, password }, options.demo ?? false, now);
    if (role !== 'reader') await authoriseForAll(db, made.id, addDays(today, 300), role.toUpperCase(), made.id, now);
  }

  const made = (tag: string, kind: string, attributes: typeof asset.$inferSelect.attributes) => ({
    id: v7(),
    tag,
    serial: `S-${tag}`,
    class: kind,
    title: tag,
    place: 'Bench',
    practice: true,
    attributes,
    createdAt: now,
  });
  const suit = made('GS-01', 'gas-tight-suit', {
    openFaced: false,
    exhaustValves: { value: 2, unit: '1' },
    adapters: { value: 2, unit: '1' },
    buildStandard: 'ASTM F1052',
  });
  const suit2 = made('GS-02', 'gas-tight-suit', { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } });
  const truck = made('TR-01', 'truck', { useAs: 'single' });
  await db.insert(asset).values([suit, suit2, truck]);
  const gauge = (tag: string, unit: string, high: number, more: Partial<InstrumentFacts> = {}): InstrumentFacts & { readonly id: string } => ({
    id: v7(),
    tag,
    title: tag,
    fittedTo: null,
    low: { value: 0, unit },
    high: { value: high, unit },
    resolution: { value: 0.01, unit },
    accuracy: { value: 0.02, unit },
    correlation: 0.9,
    calibrationDue: addDays(today, 100),
    address: null,
    simulated: false,
    rig: null,
    ...more,
  });
  const inH2O = "[in_i'H2O]";
  const manual = gauge('MG-01', inH2O, 20);
  const expired = gauge('MG-09', inH2O, 20, { calibrationDue: addDays(today, -1) });
  const logger = gauge('PL-01', 'mbar', 50, { address: 'sim/PL-01/p1', simulated: true, rig: 'suit' });
  const dash = gauge('TR-01 primary', '[psi]', 150, { fittedTo: truck.id, calibrationDue: null });
  const dash2 = gauge('TR-01 secondary', '[psi]', 150, { fittedTo: truck.id, calibrationDue: null });
  await insertInstruments(db, [manual, expired, logger, dash, dash2], now);
  await db.insert(obligation).values({
    id: v7(),
    asset: suit.id,
    procedure: 'suit.inflation',
    ruleSet: 'in-h2o-4',
    interval: 'P1Y',
    counting: 'rolling',
    anchor: '2026-01-01',
    due: addDays(today, 5),
    lastDone: null,
  });

  const servers: FastifyInstance[] = [];
  return {
    url,
    connection,
    ids: { suit: suit.id, suit2: suit2.id, truck: truck.id, manual: manual.id, expired: expired.id, logger: logger.id, dash: dash.id, dash2: dash2.id },
    serve: async (more = {}, clocks = machineClocks) => {
      const app = await build(bareConfig(url, more), clocks);
      await app.ready();
      servers.push(app);
      return app;
    },
    close: async () => {
      for (const app of servers) await app.close();
      await connection.close();
    },
  };
}

/** A person at a server. */
export class Person {
  private cookie = '';
  /** Of leases, by run and number. */
  readonly secrets = new Map<string, string>();
  constructor(private readonly app: FastifyInstance) {}

  /** The same person at the same browser, at another server of the database. */
  at(app: FastifyInstance): Person {
    const there = new Person(app);
    there.cookie = this.cookie;
    for (const [lease, secret] of this.secrets) there.secrets.set(lease, secret);
    return there;
  }

  async signIn(role: keyof typeof passwords): Promise<this> {
    await this.signInAs(role, passwords[role]);
    return this;
  }

  /** @returns the answer's status */
  async signInAs(name: string, password: string): Promise<number> {
    const reply = await this.app.inject({ method: 'POST', url: '/api/session', payload: { name, password } });
    this.cookie = reply.cookies.map((c) => `${c.name}=${c.value}`).join('; ');
    return reply.statusCode;
  }

  /** The same browser signs in again: it is the same device to the server. */
  async signInAgain(role: keyof typeof passwords): Promise<void> {
    const reply = await this.app.inject({ method: 'POST', url: '/api/session', headers: { cookie: this.cookie }, payload: { name: role, password: passwords[role] } }); // prettier-ignore
    const fresh = reply.cookies.map((c) => `${c.name}=${c.value}`);
    const kept = this.cookie.split('; ').filter((c) => !fresh.some((f) => f.split('=')[0] === c.split('=')[0]));
    this.cookie = [...kept, ...fresh].join('; ');
  }

  // The caller says what it expects to read, as with any JSON.
  // eslint-disable-next-line @typescript-eslint/no-unnecessary-type-parameters
  async ask<T = Record<string, unknown>>(
    method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE',
    url: string,
    payload?: unknown,
    headers: Record<string, string> = {},
  ): Promise<{ readonly status: number; readonly body: T; readonly raw: Buffer; readonly headers: Readonly<Record<string, unknown>> }> {
    const [, of] = /^\/api\/runs\/([0-9a-f-]+)\/events$/.exec(url) ?? [];
    const lease = (payload as { lease?: number } | undefined)?.lease;
    const secret = of === undefined || lease === undefined ? undefined : this.secrets.get(`${of}:${String(lease)}`);
    if (secret !== undefined) payload = { secret, ...(payload as object) };
    const options: InjectOptions = { method, url, headers: { ...(this.cookie === '' ? {} : { cookie: this.cookie }), ...headers } };
    const reply = await this.app.inject(payload === undefined ? options : { ...options, payload: payload as object });
    const json = /^application\/json/.test(String(reply.headers['content-type']));
    // Whoever opens a run or takes it over remembers what the lease was given out with, as a browser does.
    if (method === 'POST' && reply.statusCode < 300 && /^\/api\/(runs(\/[0-9a-f-]+\/lease)?|rounds\/[0-9a-f-]+\/runs)$/.test(url)) {
      const { id = url.split('/')[3] ?? '', lease: given, secret: told } = JSON.parse(reply.payload) as { id?: string; lease: number; secret: string };
      this.secrets.set(`${id}:${String(given)}`, told);
    }
    return {
      status: reply.statusCode,
      body: (json && reply.payload !== '' ? JSON.parse(reply.payload) : reply.payload) as T,
      raw: reply.rawPayload,
      headers: reply.headers,
    };
  }

  async open(s: Station, more: Record<string, unknown> = {}): Promise<RunView> {
    const { status, body } = await this.ask<RunView>('POST', '/api/runs', {
      procedure: 'suit.inflation',
      ruleSet: 'in-h2o-4',
      assets: { suit: s.ids.suit },
      instruments: { suit: s.ids.manual },
      ...more,
    });
    if (status !== 201) throw new Error(JSON.stringify(body));
    return body;
  }
}

/** Writes events of one source for the API. */
export class Pen {
  private n = 0;
  constructor(
    private readonly source = 'bench:test',
    private readonly started = 0,
  ) {}
  write(at: number, body: EventBody): RunEvent {
    this.n += 1;
    return { id: v7(), source: this.source, n: this.n, at: Math.max(this.started, at), ...body };
  }
}

/** The simulated instruments, listening on loopback. */
export async function loggers(): Promise<{ readonly entry: Config['instruments']; readonly close: () => Promise<void> }> {
  const shelf = new Shelf();
  const server: Server = loggerServer(shelf);
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const { port } = server.address() as AddressInfo;
  return {
    entry: { sim: { host: '127.0.0.1', port } },
    close: () => {
      shelf.end();
      server.close(); // readers are gone by now, and the test's process ends the rest
      return Promise.resolve();
    },
  };
}

/** Works out how some assets stand after a test has written to their tables by itself. */
export const refreshed = (db: Connection['db'], assets: readonly string[]): Promise<void> => db.transaction((tx) => refreshStanding(tx, assets));

/** What an asset owes has been passed on a day: by a certificate from outside, say. Its due dates stay where they are. */
export async function passedOn(db: Connection['db'], assetId: string, day: string): Promise<void> {
  await db
    .update(obligation)
    .set({ lastDone: day, lastDoneAt: new Date(`${day}T12:00:00Z`) })
    .where(eq(obligation.asset, assetId));
  await refreshed(db, [assetId]);
}
