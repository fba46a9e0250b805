import { spawn, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { mkdtemp, chmod, rm } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { inTurn } from '../../core/test/testing/turn';

const root = fileURLToPath(new URL('../..', import.meta.url));
let folder: string;
let data: string;
const begun: ChildProcess[] = [];

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'grellin-start-'));
  await chmod(folder, 0o755); // the user postgres must enter it
  data = join(folder, 'data');
});
afterAll(() => rm(folder, { recursive: true, force: true }));

interface Started {
  readonly child: ChildProcess;
  readonly url: string;
  readonly said: () => string;
}

/** `npm start` on an empty station of its own, as a person's shell or a service manager would start it. */
function start(): Promise<Started> {
  const env = { ...process.env, GRELLIN_DATA: data, GRELLIN_TEST: '1', GRELLIN_DEMO: '0', PORT: '0' };
  delete (env as Record<string, unknown>)['DATABASE_URL'];
  const child = spawn('npm', ['start', '--', '--api-only'], { cwd: root, env, stdio: ['ignore', 'pipe', 'pipe'] });
  begun.push(child);
  let said = '';
  return new Promise((resolve, reject) => {
    const hear = (part: Buffer): void => {
      said += part.toString();
      const found = /Grellin\s+(http:\S+)/.exec(said);
      if (found?.[1]) resolve({ child, url: found[1], said: () => said });
    };
    child.stdout.on('data', hear);
    child.stderr.on('data', hear);
    child.on('exit', (code) => reject(new Error(`npm start ended (${String(code)}):\n${said}`)));
  });
}

const pidsOf = (): Record<string, { pid: number }> => JSON.parse(readFileSync(join(data, 'begun.json'), 'utf8')) as Record<string, { pid: number }>;
const alive = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    // A process that nobody has collected yet is gone all the same.
    return !readFileSync(`/proc/${String(pid)}/stat`, 'utf8').includes(') Z ');
  } catch {
    return false;
  }
};
const healthy = async (url: string): Promise<number> => (await fetch(`${url}/api/health`).catch(() => null))?.status ?? 0;

afterEach(async () => {
  for (const child of begun.splice(0)) {
    if (child.exitCode !== null || child.signalCode !== null) continue;
    child.kill('SIGTERM');
    await new Promise((done) => child.once('exit', done));
  }
});

describe('npm start', () => {
  it.each([...inTurn(['SIGTERM', 'SIGINT', 'SIGHUP', 'SIGKILL'] as const, 2)])(
    'ends database, instruments and server when npm itself gets %s',
    async (signal) => {
      const { child } = await start();
      const pids = Object.values(pidsOf()).map((p) => p.pid);
      expect(pids).toHaveLength(3);
      child.kill(signal);
      await expect.poll(() => pids.filter(alive), { timeout: 40_000 }).toEqual([]);
    },
    120_000,
  );

  it('starts the server, the instruments and the database again when each is killed, says so, and answers at the same address', async () => {
    const { url, said } = await start();
    for (const name of ['the server', 'the simulated instruments', 'the database']) {
      const { pid } = pidsOf()[name] as { pid: number };
      process.kill(pid, 'SIGKILL');
      await expect.poll(() => pidsOf()[name]?.pid, { timeout: 60_000 }).not.toBe(pid);
      await expect.poll(() => healthy(url), { timeout: 60_000 }).toBe(200);
      await expect.poll(said, { timeout: 10_000 }).toContain(`${name}: running again`);
    }
    // An empty station says how the first officer is made.
    expect(said()).toMatch(/make the first officer at http:\S+\/first with the word {2}\S{12}/);
  }, 180_000);

  it('finds what a killed start has left behind, and ends it before it begins', async () => {
    const { child } = await start();
    const left = pidsOf();
    const keeper = Number(readFileSync(join(data, 'lock'), 'utf8'));
    process.kill(keeper, 'SIGKILL');
    await new Promise((done) => child.once('exit', done));
    expect(Object.values(left).filter((p) => alive(p.pid))).toHaveLength(3);
    const again = await start();
    expect(again.said()).toContain('ending the server of an earlier start');
    expect(Object.values(left).filter((p) => alive(p.pid))).toEqual([]);
    expect(await healthy(again.url)).toBe(200);
  }, 180_000);

  it('says in one line that its port is taken', async () => {
    const taken = createServer();
    await new Promise<void>((done) => taken.listen(0, '127.0.0.1', done));
    const { port } = taken.address() as { port: number };
    const child = spawn(process.execPath, ['tools/start.mjs', '--api-only'], {
      cwd: root,
      env: { ...process.env, GRELLIN_DATA: data, PORT: String(port) },
      stdio: 'pipe',
    });
    let said = '';
    child.stderr.on('data', (part: Buffer) => (said += part.toString()));
    const code = await new Promise((done) => child.once('exit', done));
    taken.close();
    expect(code).toBe(1);
    expect(said.trim().split('\n')).toEqual([`Port ${String(port)} of 127.0.0.1 is in use by another program: set PORT to another one.`]);
  }, 60_000);
});
