import type { DataLine, Hello } from '@grellin/contract';
import type { EventOf } from '@grellin/core';
import { and, eq, isNotNull } from 'drizzle-orm';
import type pg from 'pg';
import { v7 } from 'uuid';
import type { Clocks, Config, Moment } from '../base';
import { type Database, instrument, isAway, lonelyClient, run, runInstrument } from '../db';
import { deviceKey, type Devices, type InputAddress, instrumentFacts, parseAddress, withItem } from '../register/instrument';
import { appendEvents } from './append';
import type { Histories } from './history';

const LOOK_MS = 500;
/** What the screen shows is at most this far behind the gauge. */
const CHUNK_MS = 200;
/** After a quiet while the first lines are not kept waiting, but for those that come with them. */
const BURST_MS = 25;
/** While the database is away it is asked again so often. */
const AWAY_MS = 500;
/** Lines that are kept while the database is away: ten minutes at 200 Hz. What is more is asked of the device again. */
const MOST_PENDING = 120_000;
/** First key of the two-part advisory lock; the second is the device. */
const READER_LOCK = 460_002;

interface Binding {
  readonly run: string;
  readonly channel: string;
  readonly tag: string;
  readonly unit: string;
  readonly address: InputAddress;
  readonly zeroMs: number;
  readonly by: string;
}

function lockKey(device: string): number {
  let h = 0;
  for (const c of device) h = (Math.imul(h, 31) + (c.codePointAt(0) ?? 0)) | 0;
  return h;
}

/** The right to read one device, which no two servers have at once. It goes with its connection. */
class DeviceLock {
  lost = false;

  private constructor(private readonly client: pg.Client) {
    client.on('error', () => (this.lost = true));
    client.on('end', () => (this.lost = true));
  }

  /** @returns the lock, or null when another has it */
  static async take(url: string, device: string): Promise<DeviceLock | null> {
    const client = lonelyClient(url);
    const lock = new DeviceLock(client);
    await client.connect();
    const got = await client.query<{ got: boolean }>('SELECT pg_try_advisory_lock($1, $2) AS got', [READER_LOCK, lockKey(device)]);
    if (got.rows[0]?.got) return lock;
    await client.end();
    return null;
  }

  async give(): Promise<void> {
    await this.client.end().catch(() => undefined);
  }
}

/** What reading instruments works with. */
export interface ReaderNeeds {
  readonly db: Database;
  readonly config: Pick<Config, 'databaseUrl'>;
  readonly devices: Devices;
  readonly now: () => Moment;
  readonly clocks: Clocks;
}

/** Reads one device for the one open run that has it, while this server holds the device's lock. */
class DeviceReading {
  private readonly stop = new AbortController();
  private pending: DataLine[] = [];
  private everyMs = 500;
  private offset: number;
  private readonly counts = new Map<string, { n: number; at: number }>();
  private readonly units = new Map<string, string>();
  readonly done: Promise<void>;
  /** It has ended by itself: the device or the database was gone. */
  over = false;

  constructor(
    private readonly needs: ReaderNeeds,
    private readonly histories: Histories,
    readonly device: string,
    private readonly bindings: readonly Binding[],
    private lock: DeviceLock,
  ) {
    this.offset = bindings[0]?.zeroMs ?? 0;
    this.done = this.read();
  }

  /** Where the run's chain stands for each of the device's channels. */
  private async resume(): Promise<number> {
    let last = 0;
    for (const b of this.bindings) {
      const { state } = await this.histories.upToDate(this.needs.db, b.run);
      const count = state.sources[this.source(b)] ?? { n: 0, at: 0 };
      const chunk = state.chunks[b.channel]?.item;
      const at = chunk && !chunk.typed ? chunk.at + (chunk.values.length - 1) * chunk.everyMs : count.at;
      this.counts.set(b.channel, { n: count.n, at });
      last = Math.max(last, at);
    }
    return last;
  }

  private source(b: Binding): string {
    return `instrument:${b.tag}`;
  }

  private async read(): Promise<void> {
    const first = this.bindings[0];
    if (!first) return;
    this.stop.signal.addEventListener('abort', () => this.wake?.());
    const flushing = this.flushes();
    try {
      const last = await this.resume();
      const hello = (h: Hello): number => {
        this.everyMs = h.everyMs;
        for (const [input, unit] of Object.entries(h.inputs)) this.units.set(input, unit);
        // A device started anew counts from the beginning: its clock is set behind what has been read, so that time never goes back.
        if (h.clockMs < this.offset + last) this.offset = h.clockMs - last - h.everyMs;
        return this.offset + last + 1;
      };
      await this.needs.devices.read(first.address, 0, hello, (d) => this.arrived(d), this.stop.signal);
    } catch {
      // The device is gone; the supervisor looks again.
    } finally {
      this.stop.abort();
      await flushing;
      this.over = true;
    }
  }

  private wake: (() => void) | null = null;

  private arrived(line: DataLine): void {
    this.pending.push(line);
    if (this.pending.length > MOST_PENDING) {
      this.pending = [];
      this.stop.abort();
    }
    this.wake?.();
  }

  serves(id: string): boolean {
    return this.bindings.some((b) => b.run === id);
  }

  private async flushes(): Promise<void> {
    let last = 0;
    while (!this.stop.signal.aborted || this.pending.length > 0) {
      if (this.pending.length === 0) await new Promise<void>((come) => (this.wake = come));
      await new Promise((done) => setTimeout(done, Math.max(BURST_MS, last + CHUNK_MS - performance.now())));
      last = performance.now();
      const lines = this.pending;
      this.pending = [];
      try {
        await this.requireLock();
        await this.flush(lines);
      } catch (error) {
        if (isAway(error) && !this.stop.signal.aborted) {
          // The device is read on: what comes is kept until the database is back.
          this.pending = [...lines, ...this.pending];
          this.unsure = true;
          await new Promise((done) => setTimeout(done, AWAY_MS));
        } else {
          // The run refused, or another server has the device now: what is pending is asked of the device again by the next reading.
          this.pending = [];
          this.stop.abort();
        }
      }
    }
  }

  /** After the database was away: its lock went with the connection, and whether the last lines were stored is not known. */
  private unsure = false;

  private async requireLock(): Promise<void> {
    if (!this.unsure && !this.lock.lost) return;
    if (this.lock.lost) {
      const again = await DeviceLock.take(this.needs.config.databaseUrl, this.device);
      if (!again) throw new Error('another server reads this device now');
      const before = this.lock;
      this.lock = again;
      await before.give();
    }
    await this.resume();
    this.unsure = false;
  }

  /** Lines that follow one another without a hole go into one event. */
  private async flush(lines: readonly DataLine[]): Promise<void> {
    for (const b of this.bindings) {
      const count = { ...(this.counts.get(b.channel) ?? { n: 0, at: 0 }) };
      const points = lines.flatMap((l) => {
        const value = l.values[b.address.input];
        const at = l.at - this.offset;
        return value === undefined || at <= count.at || at < 0 ? [] : [{ at, value }];
      });
      const events: EventOf<'samples'>[] = [];
      for (let i = 0; i < points.length;) {
        let j = i + 1;
        while (j < points.length && (points[j]?.at ?? 0) - (points[j - 1]?.at ?? 0) === this.everyMs && j - i < 5000) j++;
        const chunk = points.slice(i, j);
        count.n += 1;
        count.at = chunk.at(-1)?.at ?? count.at;
        const unit = this.units.get(b.address.input) ?? b.unit;
        events.push({
          id: v7(),
          source: this.source(b),
          n: count.n,
          at: chunk[0]?.at ?? 0,
          kind: 'samples',
          channel: b.channel,
          unit,
          everyMs: this.everyMs,
          values: chunk.map((p) => p.value),
        });
        i = j;
      }
      if (events.length > 0)
        await appendEvents(this.needs.db, this.histories, {
          run: b.run,
          events,
          person: null,
          by: b.by,
          now: this.needs.now(),
          clocks: this.needs.clocks,
        });
      this.counts.set(b.channel, count);
    }
  }

  async end(): Promise<void> {
    this.stop.abort();
    await this.done;
    await this.lock.give();
  }
}

/**
 * Sees to it that each device of an open run is read by exactly one server: whoever gets its advisory lock. When that server dies the lock goes
 * with it, another takes over within a second, and asks the device for what was missed.
 */
export class InstrumentReader {
  private readonly readings = new Map<string, DeviceReading>();
  private timer: NodeJS.Timeout | undefined;
  private looking: Promise<void> = Promise.resolve();
  private stopped = false;

  constructor(
    private readonly needs: ReaderNeeds,
    private readonly histories: Histories,
  ) {}

  start(): void {
    const again = (): void => {
      if (this.stopped) return;
      this.looking = this.look().catch(() => undefined);
      void this.looking.then(() => {
        this.timer = setTimeout(again, LOOK_MS);
      });
    };
    again();
  }

  private async bindings(): Promise<Map<string, Binding[]>> {
    const rows = await this.needs.db
      .select({ run: run.id, by: run.openedBy, channel: runInstrument.channel, zeroMs: runInstrument.zeroMs, instrument: instrumentFacts })
      .from(run)
      .innerJoin(runInstrument, eq(runInstrument.run, run.id))
      .innerJoin(instrument, eq(runInstrument.instrument, instrument.id))
      .innerJoin(...withItem)
      .where(and(eq(run.closed, false), isNotNull(runInstrument.zeroMs)));
    const byDevice = new Map<string, Binding[]>();
    for (const r of rows) {
      const address = parseAddress(r.instrument.address ?? '');
      if (!address) continue;
      const list = byDevice.get(deviceKey(address)) ?? [];
      list.push({ run: r.run, channel: r.channel, tag: r.instrument.tag, unit: r.instrument.low.unit, address, zeroMs: r.zeroMs ?? 0, by: r.by });
      byDevice.set(deviceKey(address), list);
    }
    return byDevice;
  }

  private async look(): Promise<void> {
    const wanted = await this.bindings();
    const same = (device: string, reading: DeviceReading): boolean => wanted.get(device)?.some((b) => reading.serves(b.run)) ?? false;
    for (const [device, reading] of this.readings) {
      if (same(device, reading) && !reading.over) continue;
      this.readings.delete(device);
      await reading.end();
    }
    for (const [device, bindings] of wanted) {
      if (this.readings.has(device) || this.stopped) continue;
      const lock = await DeviceLock.take(this.needs.config.databaseUrl, device);
      if (lock) this.readings.set(device, new DeviceReading(this.needs, this.histories, device, bindings, lock));
    }
  }

  async stop(): Promise<void> {
    this.stopped = true;
    clearTimeout(this.timer);
    await this.looking;
    await Promise.all([...this.readings.values()].map((r) => r.end()));
  }
}
