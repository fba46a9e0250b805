import { setupFor, rigFor } from '@grellin/core/practice';
import type { RunEvent } from '@grellin/core';

/** What a client does while everything behind the address comes and goes: it asks again until it is answered. */
export class Client {
  private cookie = '';
  /** Requests that had to be made again. */
  retried = 0;

  constructor(readonly base: string) {}

  /** Asks until there is an answer that is not about being away. */
  async ask<T>(method: string, path: string, body?: unknown): Promise<T> {
    for (;;) {
      try {
        const reply = await fetch(`${this.base}${path}`, {
          method,
          headers: { ...(this.cookie === '' ? {} : { cookie: this.cookie }), ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
          ...(body === undefined ? {} : { body: JSON.stringify(body) }),
          signal: AbortSignal.timeout(15_000),
        });
        const text = await reply.text();
        const set = reply.headers.getSetCookie().map((c) => c.split(';')[0] ?? '');
        if (set.length > 0) this.cookie = set.join('; ');
        if (reply.ok) return (text === '' ? undefined : JSON.parse(text)) as T;
        // What was refused for good is told; what is away, or was broken off, is asked again.
        if (reply.status < 500) throw new Refused(`${method} ${path}: ${String(reply.status)} ${text.slice(0, 300)}`);
      } catch (error) {
        if (error instanceof Refused) throw error;
      }
      this.retried++;
      await new Promise((done) => setTimeout(done, 150));
    }
  }
}

export class Refused extends Error {}

interface Opened {
  readonly id: string;
  readonly lease: number;
  readonly secret: string;
}

/** A run in which somebody says one thing after another, each until it is stored. */
export class Speaking {
  readonly sent: string[] = [];
  private n = 0;
  private stopped = false;

  constructor(
    private readonly client: Client,
    readonly run: Opened,
  ) {}

  async speak(): Promise<void> {
    const began = Date.now();
    while (!this.stopped) {
      this.n++;
      const event: RunEvent = {
        id: crypto.randomUUID(),
        source: 'bench:faults',
        n: this.n,
        at: Date.now() - began,
        kind: 'disturbed',
        note: `note ${String(this.n)}`,
      };
      await this.client.ask('POST', `/api/runs/${this.run.id}/events`, { lease: this.run.lease, secret: this.run.secret, events: [event] });
      this.sent.push(event.id);
      await new Promise((done) => setTimeout(done, 40));
    }
  }

  stop(): void {
    this.stopped = true;
  }
}

/** An officer, an item of the suits for each typed run, a valve on a bench at 200 Hz, and its gauges. */
export async function setUp(
  client: Client,
  token: string,
): Promise<{ readonly typed: readonly Speaking[]; readonly streaming: Opened; readonly device: string }> {
  const officer = { name: 'faults', fullName: 'The faults', password: 'kittiwakes over the outer skerry' };
  await client.ask('POST', '/api/first-officer', { token, ...officer });
  await client.ask('POST', '/api/session', { name: officer.name, password: officer.password });
  const asset = async (tag: string, kind: string, attributes: object): Promise<string> =>
    (await client.ask<{ id: string }>('POST', '/api/assets', { tag, serial: `S-${tag}`, class: kind, title: tag, place: 'Bench', practice: true, attributes }))
      .id;
  const gauge = async (
    tag: string,
    copy: { low: unknown; high: unknown; resolution: unknown; accuracy: unknown; correlation: number },
    fittedTo: string | null,
    address: string | null,
    rig: string | null,
  ) => {
    const { low, high, resolution, accuracy, correlation } = copy;
    return (await client.ask<{ id: string }>('POST', '/api/instruments', { tag, title: tag, fittedTo, low, high, resolution, accuracy, correlation, calibrationDue: '2099-01-01', address, rig })).id; // prettier-ignore
  };
  const suit = setupFor('suit.inflation', 'in-h2o-4');
  const eye = await gauge('MG-01', Object.values(suit.instruments)[0] as never, null, null, null);
  const typed: Speaking[] = [];
  for (const n of [1, 2, 3]) {
    const id = await asset(`GS-0${String(n)}`, 'gas-tight-suit', {
      openFaced: false,
      exhaustValves: { value: 2, unit: '1' },
      adapters: { value: 2, unit: '1' },
    });
    const opened = await client.ask<Opened>('POST', '/api/runs', {
      procedure: 'suit.inflation',
      ruleSet: 'in-h2o-4',
      assets: { suit: id },
      instruments: { suit: eye },
    });
    typed.push(new Speaking(client, opened));
  }
  const relief = setupFor('valve.relief', 'asme');
  const device = `${relief.device}-01`;
  const valve = await asset('RV-01', 'relief-valve', Object.values(relief.assets)[0]?.attributes ?? {});
  const instruments: Record<string, string> = {};
  for (const [channel, copy] of Object.entries(relief.instruments)) {
    const input = relief.inputs[channel];
    instruments[channel] = await gauge(
      `${channel}-01`,
      copy,
      copy.fitted ? valve : null,
      input === undefined ? null : `sim/${device}/${input}`,
      input === undefined ? null : (rigFor('valve.relief') ?? null),
    );
  }
  const streaming = await client.ask<Opened>('POST', '/api/runs', { procedure: 'valve.relief', ruleSet: 'asme', assets: { valve }, instruments });
  return { typed, streaming, device };
}
