import { randomBytes } from 'node:crypto';
import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { FastifyInstance } from 'fastify';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { inTurn } from '../../../core/test/testing/turn';
import { dump, isBare, restore } from '../../../tools/machine/dump.mjs';
import { startPostgres } from '../../../tools/machine/postgres.mjs';
import { bareConfig, build, inOnePicture, migrateDatabase, recomputeStanding, connect, walk } from '../../src';

/** A populated database of each older version, as its own program left it: the demo, open runs, a device claimed twice, an authorisation granted twice. */
const folder = new URL('./older', import.meta.url).pathname;
const migrations = new URL('../../drizzle', import.meta.url).pathname;
const dumps = (await readdir(folder)).filter((f) => f.endsWith('.dump')).sort();

async function freshDatabase(owner: string): Promise<string> {
  const name = `older_${randomBytes(6).toString('hex')}`;
  const admin = new pg.Client({ connectionString: owner });
  await admin.connect();
  await admin.query(`CREATE DATABASE ${name}`);
  await admin.end();
  const url = new URL(owner);
  url.pathname = `/${name}`;
  return url.href;
}

const verdicts = async (client: pg.Client) => (await client.query<{ number: string; verdict: string; head: string }>('SELECT number, verdict, head FROM record ORDER BY number')).rows; // prettier-ignore
const heads = async (client: pg.Client) => (await client.query<{ id: string; seq: number; head: string }>('SELECT id, seq, head FROM run ORDER BY id')).rows;
const verified = async (client: pg.Client) => inOnePicture(client, (kept) => walk(kept, null));

/** What only the first of them has: a device claimed twice, leases without secrets, no zone. Later programs let none of it come about. */
const FIRST = '0005.dump';

describe.each([...inTurn(dumps, 3)])('a database of an older program: %s', (file) => {
  let url: string;
  let client: pg.Client;
  let before: Awaited<ReturnType<typeof verdicts>>;
  let app: FastifyInstance;
  beforeAll(async () => {
    url = await freshDatabase(inject('ownerUrl'));
    restore(url, join(folder, file));
    client = new pg.Client({ connectionString: url });
    await client.connect();
    before = await verdicts(client);
    await migrateDatabase(url, migrations);
    app = await build(bareConfig(url));
    await app.ready();
  }, 120_000);
  afterAll(async () => {
    await app.close();
    await client.end();
  });

  it('keeps every verdict and every head, and its chains verify without a fault', async () => {
    expect(before.length).toBeGreaterThan(100);
    expect(await verdicts(client)).toEqual(before);
    const found = await verified(client);
    expect(found.faults).toEqual([]);
    expect(found.runs).toBeGreaterThan(before.length);
    console.log(
      `${file}: ${String(found.runs)} runs, ${String(found.events)} events; today's methods would find otherwise of ${String(found.otherwise.length)}`,
    );
  });

  it('puts openings and sealings in the order of its clocks, and stands as it should', async () => {
    const { rows } = await client.query('SELECT 1 FROM run r JOIN record c ON c.run = r.id WHERE c.sealed_order <= r.opened_order');
    expect(rows).toEqual([]);
    const connection = connect(url);
    // What a start has put right already is told in its log; nothing is left to be put right.
    expect(await recomputeStanding(connection.db)).toEqual([]);
    await connection.close();
  });

  if (file !== FIRST) return;

  it('leaves a device that was claimed twice with the run that was opened first, and one authorisation in force', async () => {
    const { rows: held } = await client.query<{ device: string; run: string }>('SELECT device, run FROM device_hold');
    expect(held.map((h) => h.device)).toEqual(['sim/PL-01']);
    const { rows: others } = await client.query('SELECT 1 FROM run WHERE NOT closed AND id <> $1 AND rig IS NOT NULL', [held[0]?.run]);
    expect(others).toEqual([]);
    const { rows: twice } = await client.query('SELECT account, procedure FROM authorisation WHERE withdrawn_at IS NULL GROUP BY 1, 2 HAVING count(*) > 1');
    expect(twice).toEqual([]);
  });

  it('opens its runs to whoever takes them over, and keeps what still comes under an old lease as late', async () => {
    const { rows } = await client.query<{ id: string; lease: number; account: string; device: string; hash: string | null }>(
      'SELECT run.id, l.lease, l.account, l.device, l.secret_hash AS hash FROM run JOIN run_lease l ON l.run = run.id WHERE NOT run.closed',
    );
    expect(new Set(rows.map((r) => r.id)).size).toBe(3);
    expect(rows.every((r) => r.hash === null && r.device === '')).toBe(true);
  });

  it('takes UTC for its zone, which its days were by', async () => {
    expect((await client.query('SELECT zone FROM station')).rows).toEqual([{ zone: 'UTC' }]);
  });
});

describe('a backup', () => {
  it('restores into a cluster that has never seen the program, with every head, its grants, and no fault', async () => {
    const source = await freshDatabase(inject('ownerUrl'));
    restore(source, join(folder, dumps.at(-1) ?? ''));
    await migrateDatabase(source, migrations);
    const place = await mkdtemp(join(tmpdir(), 'grellin-restore-'));
    const { chmod } = await import('node:fs/promises');
    await chmod(place, 0o755);
    const cluster = await startPostgres({ folder: join(place, 'pg'), durable: false });
    try {
      dump(source, join(place, 'backup'));
      expect(isBare(cluster.url)).toBe(true);
      restore(cluster.url, join(place, 'backup'));
      expect(isBare(cluster.url)).toBe(false);
      const [from, to] = [new pg.Client({ connectionString: source }), new pg.Client({ connectionString: cluster.url })];
      await Promise.all([from.connect(), to.connect()]);
      expect(await heads(to)).toEqual(await heads(from));
      expect(await verdicts(to)).toEqual(await verdicts(from));
      expect((await verified(to)).faults).toEqual([]);
      // The seal is as protected there as it was here.
      await to.query('SET ROLE grellin_app');
      await expect(to.query("UPDATE run_event SET event = '{}'")).rejects.toThrow('permission denied');
      await expect(to.query('SELECT count(*) FROM record')).resolves.toBeDefined();
      await Promise.all([from.end(), to.end()]);
    } finally {
      cluster.stop();
      await rm(place, { recursive: true, force: true });
    }
  }, 120_000);
});
