import { once } from 'node:events';
import { connect, type AddressInfo, type Server, type Socket } from 'node:net';
import { createInterface } from 'node:readline';
import { formatData, formatHello, parseData, parseHello, parseScene } from '@grellin/contract';
import { deviceSetups } from '@grellin/core/practice';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { loggerServer, Shelf } from '../src/logger/server';

let server: Server;
const shelf = new Shelf();
beforeAll(() => new Promise<void>((done) => void (server = loggerServer(shelf)).listen(0, '127.0.0.1', done)));
afterAll(() => {
  shelf.end();
  server.close();
});

class Client {
  private readonly lines: AsyncIterator<string>;
  readonly socket: Socket;
  constructor() {
    this.socket = connect((server.address() as AddressInfo).port, '127.0.0.1');
    this.lines = createInterface({ input: this.socket })[Symbol.asyncIterator]();
  }
  async ask(line: string): Promise<string> {
    this.socket.write(`${line}\n`);
    return this.next();
  }
  async next(): Promise<string> {
    const got = await this.lines.next();
    return got.done ? 'END' : got.value;
  }
}

describe('the line protocol', () => {
  it('greets, steps without skipping a reading, and replays what it has kept', async () => {
    const c = new Client();
    const hello = parseHello(await c.ask('OPEN PL-77'));
    expect(hello).toMatchObject({ device: 'PL-77', everyMs: 500, inputs: { p1: 'mbar' } });
    expect(await c.ask('FREE 0')).toBe('OK');
    const from = parseHello(await c.ask('OPEN PL-77'))?.clockMs ?? 0;
    expect(await c.ask('STEP 10')).toMatch(/^OK \d+$/);
    c.socket.write(`FROM ${from + 1}\n`);
    const lines = [];
    for (let i = 0; i < 20; i++) lines.push(parseData(await c.next()));
    const times = lines.map((l) => l?.at ?? 0);
    expect(times.every((t, i) => i === 0 || t - (times[i - 1] ?? 0) === 500)).toBe(true);
    c.socket.destroy();
  });

  it('at ×60 with more benches than this machine can carry goes slower, says so, goes on answering, and leaves no reading out', async () => {
    const benches: Client[] = [];
    const open = async (): Promise<void> => {
      const c = new Client();
      await c.ask(`OPEN RB-${String(60 + benches.length)}`);
      await c.ask('FREE 60');
      benches.push(c);
    };
    await open();
    const [first] = benches as [Client];
    let behind = false;
    // How many it can carry hangs on the machine and on what else it does: one more, until it says that it cannot.
    while (!behind && benches.length < 400) {
      for (let i = 0; i < 8; i++) await open();
      for (let i = 0; i < 20 && !behind; i++) {
        behind = parseScene((await first.ask('LOOK')).slice(3))?.behind ?? false;
        await new Promise((done) => setTimeout(done, 20));
      }
    }
    expect(behind).toBe(true);
    for (const c of benches) expect(await c.ask('FREE 0')).toBe('OK');
    const end = parseHello(await first.ask('OPEN RB-60'))?.clockMs ?? 0;
    first.socket.write(`FROM ${String(Math.max(0, end - 2000))}\n`);
    const times: number[] = [];
    while ((times.at(-1) ?? 0) < end) times.push(parseData(await first.next())?.at ?? end);
    expect(times.length).toBeGreaterThan(200);
    expect(times.every((t, i) => i === 0 || t - (times[i - 1] ?? 0) === 5)).toBe(true);
    for (const c of benches) c.socket.destroy();
  }, 120_000);

  it('never turns its clock back when the rig is set up anew', async () => {
    const c = new Client();
    await c.ask('OPEN PL-78');
    const before = Number((await c.ask('STEP 100')).slice(3));
    expect(await c.ask('RESET zip%20end')).toBe('OK');
    expect(Number((await c.ask('STEP 1')).slice(3))).toBeGreaterThan(before);
    c.socket.destroy();
  });

  it('makes the same noise again from the same seed, and other noise without one', async () => {
    const values = async (device: string, reset: string): Promise<unknown[]> => {
      const c = new Client();
      await c.ask(`OPEN ${device}`);
      await c.ask('FREE 0');
      await c.ask('STEP 1');
      expect(await c.ask(reset)).toBe('OK');
      const from = Number((await c.ask('STEP 0')).slice(3));
      await c.ask('STEP 20');
      c.socket.write(`FROM ${String(from + 1)}\n`);
      const got: unknown[] = [];
      for (let i = 0; i < 40; i++) got.push(parseData(await c.next())?.values);
      c.socket.destroy();
      return got;
    };
    const first = await values('PL-71', 'RESET none 7');
    expect(await values('PL-72', 'RESET none 7')).toEqual(first);
    expect(await values('PL-73', 'RESET none')).not.toEqual(first);
  });

  it('leaves no line out when the rig is set up anew between two lines', async () => {
    const c = new Client();
    await c.ask('OPEN PL-75');
    await new Promise((done) => setTimeout(done, 700)); // running freely, somewhere between two lines
    expect(await c.ask('RESET none')).toBe('OK');
    await c.ask('STEP 3');
    await c.ask('FREE 0');
    c.socket.write('FROM 0\n');
    const times: number[] = [];
    for (let i = 0; i < 7; i++) times.push(parseData(await c.next())?.at ?? -1);
    expect(times).toEqual([500, 1000, 1500, 2000, 2500, 3000, 3500]);
    c.socket.destroy();
  });

  it.each([
    ['FROM 0', 'ERR open-first'],
    ['OPEN XX-1', 'ERR no such device'],
    ['OPEN ../etc', 'ERR no such device'],
  ])('answers %s before a device with %s', async (line, answer) => {
    const c = new Client();
    expect(await c.ask(line)).toBe(answer);
    c.socket.destroy();
  });

  it.each([
    ['STEP -1', 'ERR number'],
    ['STEP 1e9', 'ERR number'],
    ['FREE 61', 'ERR number'],
    ['FROM x', 'ERR number'],
    ['HAND kick 0', 'ERR no such move'],
    ['HAND fill 9e99', 'ERR no such move'],
    ['UNTIL alarm x', 'ERR number'],
    ['UNTIL nothing 5', 'ERR it did not happen'],
    ['RESET moths', 'ERR no such fault'],
    ['RESET none many', 'ERR number'],
    ['%E0%A4%A', 'ERR word'],
    ['', 'ERR word'],
  ])('answers "%s" with %s', async (line, answer) => {
    const c = new Client();
    await c.ask('OPEN PL-79');
    expect(await c.ask(line)).toBe(answer);
    c.socket.destroy();
  });

  it.each(deviceSetups.map((d) => [d.device, d.procedure] as const))('has a rig behind every kind of device: %s for %s', async (device) => {
    const c = new Client();
    const hello = parseHello(await c.ask(`OPEN ${device}-90`));
    await c.ask('FREE 0');
    const kind = deviceSetups.find((d) => d.device === device);
    expect(Object.keys(hello?.inputs ?? {}).sort()).toEqual([...new Set(Object.values(kind?.sent ?? {}).map((s) => s.input))].sort());
    const scene = parseScene((await c.ask('LOOK')).slice(3));
    expect(scene).toMatchObject({ speed: 0, wrong: [], bubbles: {} });
    // What a device sends and what is read beside it do not overlap.
    for (const input of Object.keys(scene?.seen ?? {})) expect(hello?.inputs[input]).toBeUndefined();
    c.socket.destroy();
  });

  it('shows what is wrong with a rig, and lets time pass until something happens', async () => {
    const c = new Client();
    await c.ask('OPEN BS-91');
    await c.ask('FREE 0');
    await c.ask(`RESET ${encodeURIComponent('free flow')}`);
    expect(parseScene((await c.ask('LOOK')).slice(3))?.wrong.length).toBeGreaterThan(0);
    await c.ask('RESET none');
    await c.ask('HAND open 0');
    await c.ask('STEP 5');
    await c.ask('HAND shut 0');
    await c.ask('HAND bleed 0');
    expect(await c.ask('UNTIL alarm 600')).toBe('OK');
    const scene = parseScene((await c.ask('LOOK')).slice(3));
    expect(scene?.happening).toContain('alarm');
    c.socket.destroy();
  });

  it('answers another device while a long stretch of time is worked out', async () => {
    const busy = new Client();
    await busy.ask('OPEN RB-92');
    await busy.ask('FREE 0');
    const worked = busy.ask('STEP 600').then(() => 'worked out');
    const other = new Client();
    const answered = other.ask('OPEN PL-92').then(() => 'answered');
    expect(await Promise.race([worked, answered])).toBe('answered');
    await worked;
    for (const c of [busy, other]) c.socket.destroy();
  });

  it('goes on for the others when one client is killed', async () => {
    const killed = new Client();
    await killed.ask('OPEN PL-76');
    killed.socket.write('FROM 0\n');
    const ended = once(killed.socket, 'close');
    killed.socket.resetAndDestroy();
    await ended;
    const other = new Client();
    expect(await other.ask('OPEN PL-76')).toMatch(/^HELLO PL-76/);
    expect(await other.ask('STEP 5')).toMatch(/^OK/);
    other.socket.destroy();
  });

  it('hangs up on a line without end', async () => {
    const c = new Client();
    await c.ask('OPEN PL-79');
    expect(await c.ask('x'.repeat(10_000))).toBe('END');
  });

  it('reads what it writes, and takes a damaged line for none', () => {
    expect(parseData(formatData({ at: 1500, values: { p1: -0.02, p2: 1e-7 } }))).toEqual({ at: 1500, values: { p1: -0.02, p2: 1e-7 } });
    const hello = { device: 'PL-01', boot: 'ab', clockMs: 5, everyMs: 500, inputs: { p1: "[in_i'H2O]" } };
    expect(parseHello(formatHello(hello))).toEqual(hello);
    for (const line of ['D', 'D x p1=1', 'D 500 p1=', 'D 500 p1=NaN', 'D 500 p1=1 x', 'E 500 p1=1']) expect(parseData(line)).toBeNull();
  });
});
