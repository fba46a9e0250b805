import { spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { connect, inOnePicture, recomputeStanding, walk } from '@grellin/server';
import pg from 'pg';
import { Chance } from '../fuzz/chance';
import { Client, setUp } from './station';

/** The program behind `npm run faults`: ROOT names the checkout. */
const usage = `npm run faults [-- --kills N] [--seed N]

Starts the product on an empty station of its own, carries out four runs at the same time (three in which somebody speaks, one that a valve streams at
200 Hz), and kills server, instruments, PostgreSQL and connections N times (50), one after the other. Prints what was lost, doubled or put in another
order as a table; exit code 1 when anything was, or when an item stands otherwise than recomputed.
`;

const victims = ['the server', 'the simulated instruments', 'the database', 'connections'] as const;
type Victim = (typeof victims)[number];

function option(name: string, otherwise: number): number {
  const at = process.argv.indexOf(name);
  const value = at < 0 ? otherwise : Number(process.argv[at + 1]);
  if (!Number.isSafeInteger(value) || value < 0) throw new RangeError(`${name} asks for a whole number`);
  return value;
}

/** What ends again and again soon after it was started is given up by the start command: each is left alone until it has recovered. */
const WELL_MS = 11_000;

const sleep = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

/** The product, as `npm start` starts it, in a folder of its own. */
async function product(root: string, data: string): Promise<{ readonly url: string; readonly token: string; readonly stop: () => Promise<void> }> {
  const env: NodeJS.ProcessEnv = { ...process.env, GRELLIN_DATA: data, GRELLIN_DEMO: '0', PORT: '0', LOG: '0' };
  delete env['DATABASE_URL'];
  // A cluster for tests does not wait for its disk: what it has acknowledged may be gone after a crash. This one is as durable as a station's.
  delete env['GRELLIN_TEST'];
  const child = spawn(process.execPath, ['tools/start.mjs', '--api-only'], { cwd: root, env, stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  let stopping = false;
  const ended = new Promise<void>((done) => child.once('exit', () => done()));
  void ended.then(() => {
    if (stopping) return;
    // Whoever asks it would ask for ever.
    process.stderr.write(`the product has ended by itself:\n${said.slice(-4000)}\n`);
    process.exit(1);
  });
  return new Promise((resolve, reject) => {
    child.once('exit', (code) => reject(new Error(`the product ended (${String(code)}):\n${said}`)));
    const hear = (part: Buffer): void => {
      said += part.toString();
      const found = /Grellin\s+(http:\S+)[\s\S]*with the word\s+(\S+)/.exec(said);
      if (found?.[1] && found[2]) resolve({ url: found[1], token: found[2], stop: () => ((stopping = true), child.kill('SIGTERM'), ended) }); // prettier-ignore
    };
    child.stdout.on('data', hear);
    child.stderr.on('data', hear);
  });
}

async function main(): Promise<number> {
  const kills = option('--kills', 50);
  const seed = option('--seed', 1);
  const chance = new Chance(seed);
  const folder = mkdtempSync(join(tmpdir(), 'grellin-faults-'));
  chmodSync(folder, 0o755); // the user postgres must enter it
  const data = join(folder, 'data');
  const { url, token, stop } = await product(process.env['ROOT'] ?? '.', data);
  try {
    const client = new Client(url);
    const { typed, streaming } = await setUp(client, token);
    const refused: Error[] = [];
    const speaking = typed.map((t) => t.speak().catch((error: unknown) => refused.push(error instanceof Error ? error : new Error(String(error)))));
    const ownerUrl = (): string => {
      const port = readFileSync(join(data, 'cluster', 'postmaster.pid'), 'utf8').split('\n')[3] ?? '';
      return `postgres://grellin:${readFileSync(join(data, 'owner.password'), 'utf8').trim()}@127.0.0.1:${port}/postgres`;
    };
    const pidOf = (victim: Victim): number | undefined => (JSON.parse(readFileSync(join(data, 'begun.json'), 'utf8')) as Partial<Record<string, { pid: number }>>)[victim]?.pid; // prettier-ignore
    const counts = new Map<Victim, { kills: number; slowestMs: number }>(victims.map((v) => [v, { kills: 0, slowestMs: 0 }]));
    const struck = new Map<Victim, number>();
    const well = (v: Victim): boolean => v === 'connections' || performance.now() - (struck.get(v) ?? -Infinity) > WELL_MS;
    for (let i = 0; i < kills; i++) {
      while (!victims.some((v) => v !== 'connections' && well(v))) await sleep(200);
      const victim = i < victims.length ? (victims[i] as Victim) : chance.of(victims.filter(well));
      const began = performance.now();
      if (victim === 'connections') {
        const admin = new pg.Client({ connectionString: ownerUrl() });
        await admin.connect();
        await admin.query("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE usename = 'grellin_app'");
        await admin.end();
      } else {
        const pid = pidOf(victim);
        if (pid !== undefined) process.kill(pid, 'SIGKILL');
        while (pidOf(victim) === pid || pidOf(victim) === undefined) await sleep(50);
      }
      await client.ask('GET', '/api/health');
      struck.set(victim, performance.now());
      const count = counts.get(victim);
      if (count) {
        count.kills++;
        count.slowestMs = Math.max(count.slowestMs, performance.now() - began);
      }
      await sleep(400 + chance.below(1200));
    }
    for (const t of typed) t.stop();
    await Promise.all(speaking);
    const [first] = refused;
    if (first) throw first;
    await sleep(3000);

    const owner = new pg.Client({ connectionString: ownerUrl() });
    await owner.connect();
    let bad = 0;
    process.stdout.write('\nkilled                       times   longest until it answered\n');
    for (const [victim, { kills: n, slowestMs }] of counts)
      process.stdout.write(`${victim.padEnd(28)} ${String(n).padStart(5)}   ${(slowestMs / 1000).toFixed(1)} s\n`);
    process.stdout.write('\nrun                          acknowledged   stored   lost   doubled   out of order\n');
    const line = (name: string, told: number, stored: number, lost: number, doubled: number, reordered: number): void => {
      bad += lost + doubled + reordered;
      process.stdout.write(
        `${name.padEnd(28)} ${String(told).padStart(12)} ${String(stored).padStart(8)} ${String(lost).padStart(6)} ${String(doubled).padStart(9)} ${String(reordered).padStart(14)}\n`,
      );
    };
    for (const [i, t] of typed.entries()) {
      const { rows } = await owner.query<{ id: string }>(
        "SELECT event_id AS id FROM run_event WHERE run = $1 AND event->>'source' = 'bench:faults' ORDER BY seq",
        [t.run.id],
      );
      const stored = rows.map((r) => r.id);
      const unique = new Set(stored);
      const lost = t.sent.filter((id) => !unique.has(id)).length;
      const known = stored.filter((id) => t.sent.includes(id));
      line(
        `somebody speaks, ${String(i + 1)}`,
        t.sent.length,
        stored.length,
        lost,
        stored.length - unique.size,
        known.filter((id, k) => id !== t.sent[k]).length,
      );
    }
    const { rows } = await owner.query<{ event: { channel: string; at: number; everyMs: number; values: number[] } }>(
      "SELECT event FROM run_event WHERE run = $1 AND event->>'kind' = 'samples' ORDER BY seq",
      [streaming.id],
    );
    const times = rows.filter((r) => r.event.channel === rows[0]?.event.channel).flatMap(({ event: e }) => e.values.map((_, k) => e.at + k * e.everyMs));
    const every = rows[0]?.event.everyMs ?? 5;
    const steps = times.slice(1).map((t, k) => t - (times[k] ?? 0));
    line(
      'a valve at 200 Hz',
      times.length,
      times.length,
      // While the gauge itself was dead nothing was measured: that is a hole, and no loss.
      Math.max(0, steps.filter((d) => d > every * 1.5).length - (counts.get('the simulated instruments')?.kills ?? 0)),
      steps.filter((d) => d === 0).length,
      steps.filter((d) => d < 0).length,
    );
    // The valve is still read: its run may grow while it is looked through.
    const found = await inOnePicture(owner, (kept) => walk(kept, null));
    const connection = connect(ownerUrl());
    const stale = await recomputeStanding(connection.db);
    await connection.close();
    await owner.end();
    process.stdout.write(
      `\n${String(found.faults.length)} faults in the chains; ${String(stale.length)} items stood otherwise than recomputed; ${String(client.retried)} requests made again; seed ${String(seed)}\n`,
    );
    for (const f of found.faults.slice(0, 10)) process.stdout.write(`FAULT ${f.code} ${f.message}\n`);
    return bad + found.faults.length + stale.length === 0 && times.length > 200 ? 0 : 1;
  } finally {
    await stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

if (process.argv.includes('--help')) process.stdout.write(usage);
else process.exitCode = await main();
