import { pictureFlaws, readPicture, type AlongBundle, type HandIn, type NewRun, type PositionedEvent, type Problem } from '@grellin/contract';
import { emptyRun, fold, lastMoment, may, planOfRun, refusalInWords, type Plan, type RunEvent, type RunState } from '@grellin/core';
import { Observable } from 'rxjs';
import { v7 } from 'uuid';
import type { StreamSignal } from '../run/runStream';
import { base64, fromBase64 } from '../picture/base64';

/** What a device keeps: names with values, wherever they lie. */
export interface Keeping {
  put(name: string, value: unknown): Promise<void>;
  // The caller says what it has put there.

  get<T>(name: string): Promise<T | undefined>;
  names(): Promise<readonly string[]>;
  drop(name: string): Promise<void>;
}

/** The clocks of a device: its hour, and the ticks that go on since its page was loaded. */
export interface Ticks {
  readonly wall: () => number;
  readonly tick: () => number;
}

/** A run as it is kept on the device, but for what was said in it. */
interface KeptRun {
  readonly id: string;
  readonly opening: string;
  readonly given: NewRun;
  readonly startedAt: string;
  readonly secret: string;
}

export interface DeviceRun extends KeptRun {
  readonly events: RunEvent[];
  readonly plan: Plan;
  state: RunState;
  /** What the run's clock showed, and the tick then. */
  readonly clockMs: number;
  readonly tick: number;
}

/** What a device answers where it cannot do what was asked. */
export class Told extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem,
  ) {
    super(problem.message);
  }
}
export const told = (status: number, code: string, message: string): Told => new Told(status, { code, message });

/** Nobody else can hold a run of a device. */
export const LEASE = 1;
/** As the server has it: a hand is not held to the millisecond. */
const AHEAD_MS = 5000;
const SEQ = 6;
const pictureName = (sha256: string): string => `picture ${sha256}`;
const runName = (id: string): string => `run ${id}`;
const eventName = (id: string, seq: number): string => `event ${id} ${String(seq).padStart(SEQ, '0')}`;

export const isClosed = ({ state }: Pick<DeviceRun, 'state'>): boolean => state.sealed || state.abandoned !== null;

/**
 * The runs that were begun on a device: each word of theirs is kept before it is said that it is kept, under the rules of the server's own runs.
 * They leave the device one by one, when the server has them.
 */
export class DeviceRuns {
  private readonly runs = new Map<string, DeviceRun>();
  private readonly followers = new Set<() => void>();

  private constructor(
    private readonly keeping: Keeping,
    private readonly bundle: AlongBundle,
    private readonly ticks: Ticks,
    private readonly changed: () => void,
  ) {}

  /**
   * Takes up the runs that lie on the device.
   * @param bundle what was taken along: the documents that the runs follow
   * @param changed called whenever a run was opened, closed or handed in
   */
  static async takenUp(keeping: Keeping, bundle: AlongBundle, ticks: Ticks, changed: () => void): Promise<DeviceRuns> {
    const runs = new DeviceRuns(keeping, bundle, ticks, changed);
    const names = [...(await keeping.names())].sort();
    for (const name of names.filter((n) => n.startsWith('run '))) {
      const kept = await keeping.get<KeptRun>(name);
      if (!kept) continue;
      const events: RunEvent[] = [];
      for (const of of names.filter((n) => n.startsWith(`event ${kept.id} `))) {
        const event = await keeping.get<RunEvent>(of);
        if (event) events.push(event);
      }
      await runs.takeUp(kept, events);
    }
    return runs;
  }

  get all(): readonly DeviceRun[] {
    return [...this.runs.values()];
  }

  /** @throws {Told} 404 where no such run lies here */
  get(id: string | undefined): DeviceRun {
    const found = this.runs.get(id ?? '');
    if (!found) throw told(404, 'run.unknown', 'There is no such run on this device.');
    return found;
  }

  /** The run's clock, ms from its opening. */
  clockOf(r: DeviceRun): number {
    return Math.round(r.clockMs + (this.ticks.tick() - r.tick));
  }

  /**
   * Begins a run with its opening, and keeps both.
   * @param body the opening, without what every event has
   */
  async open(given: NewRun, startedAt: string, body: Omit<Extract<RunEvent, { kind: 'opened' }>, 'id' | 'source' | 'n' | 'at'>): Promise<DeviceRun> {
    const kept: KeptRun = { id: v7(), opening: v7(), given, startedAt, secret: v7() };
    const opened: RunEvent = { id: kept.opening, source: 'server', n: 1, at: 0, ...body };
    await this.keeping.put(runName(kept.id), kept);
    await this.keeping.put(eventName(kept.id, 1), opened);
    const r = this.put(kept, [opened], 0);
    if (!r) throw told(500, 'device', 'The run cannot be opened.');
    this.changed();
    return r;
  }

  /**
   * Keeps what was said in a run: all of it or none.
   * @throws {Told} 403 for another tab’s run, 409 for what is ahead of the clock or against the order of the test
   */
  async append(r: DeviceRun, given: { readonly lease: number; readonly secret?: string | undefined; readonly events: readonly RunEvent[] }) {
    if (given.secret !== r.secret || given.lease !== LEASE) throw told(403, 'lease.notYours', 'This run is held elsewhere on this device.');
    const fresh = given.events.filter((e) => !r.events.some((o) => o.id === e.id));
    // All or none: asked of a state that nothing has been kept of yet.
    let state = r.state;
    for (const event of fresh) {
      if (lastMoment([event]) > this.clockOf(r) + AHEAD_MS) throw told(409, 'event.ahead', 'This event is ahead of the run’s clock.');
      const refusal = may(r.plan, state, event);
      if (refusal) throw told(409, 'run.refused', refusalInWords(refusal));
      state = fold(state, event);
    }
    const names = fresh.some((e) => e.kind === 'pictured') ? await this.keeping.names() : [];
    if (fresh.some((e) => e.kind === 'pictured' && !names.includes(pictureName(e.picture))))
      throw told(409, 'picture.notKept', 'A picture that this tells of is not kept here: take it again.');
    for (const event of fresh) await this.keep(r, event);
    for (const tell of this.followers) tell();
    if (isClosed(r)) this.changed();
    return given.events.map(({ id }) => ({ id, seq: r.events.findIndex((e) => e.id === id) + 1 }));
  }

  /**
   * Keeps a picture under the SHA-256 of its bytes, by the server's own rule.
   * @throws {Told} 422 for what is no picture that is kept, 409 for other bytes than those of its name
   */
  async keepPicture(named: string, given: unknown): Promise<void> {
    const bytes = new Uint8Array(given instanceof ArrayBuffer ? given : new ArrayBuffer(0));
    const read = readPicture(bytes);
    if ('flaw' in read) throw told(422, 'picture.refused', pictureFlaws[read.flaw]);
    const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
    if (Array.from(digest, (b) => b.toString(16).padStart(2, '0')).join('') !== named)
      throw told(409, 'picture.otherBytes', 'These are not the bytes of this picture: send it again.');
    await this.keeping.put(pictureName(named), base64(bytes));
  }

  /** @throws {Told} 404 where it does not lie here */
  async pictureBytes(sha256: string): Promise<ArrayBuffer> {
    const kept = await this.keeping.get<string>(pictureName(sha256));
    if (kept === undefined) throw told(404, 'picture.unknown', 'There is no such picture on this device.');
    return fromBase64(kept).buffer;
  }

  /** The pictures that a run tells of, those that were taken back too: the server takes no run that tells of one which it has not. */
  picturesOf(id: string): readonly string[] {
    return [...new Set((this.runs.get(id)?.events ?? []).flatMap((e) => (e.kind === 'pictured' ? [e.picture] : [])))];
  }

  /** A closed run as it is handed in, under the secret of what was taken along. */
  handInOf(id: string, secret: string): HandIn {
    const r = this.runs.get(id);
    if (!r || !isClosed(r)) throw told(409, 'along.open', 'This run is still open.');
    const { opening, given, startedAt, events } = r;
    return { secret, run: id, opening, given, startedAt, events: events.slice(1) as HandIn['events'] };
  }

  /** It has been handed in: nothing of it stays here. */
  async handedIn(id: string): Promise<void> {
    const r = this.runs.get(id);
    if (!r) return;
    const others = new Set([...this.runs.keys()].filter((other) => other !== id).flatMap((other) => this.picturesOf(other)));
    const pictures = this.picturesOf(id).filter((p) => !others.has(p));
    // The run's own row goes last of it: what is left, should the tab die now, can be handed in again without harm. Its pictures go after it, whole as long as it may be.
    for (const k of r.events.keys()) await this.keeping.drop(eventName(id, k + 1));
    await this.keeping.drop(runName(id));
    for (const picture of pictures) await this.keeping.drop(pictureName(picture));
    this.runs.delete(id);
    this.changed();
  }

  /** Runs as the server would stream them: what was said before, and what is said from now on. */
  follow(wanted: () => Readonly<Record<string, number>>): Observable<StreamSignal> {
    return new Observable((subscriber) => {
      const at = { ...wanted() };
      const tell = (): void => {
        for (const [id, seq] of Object.entries(at)) {
          const r = this.runs.get(id);
          if (!r || r.events.length <= seq) continue;
          const events = r.events.slice(seq).map((event, k): PositionedEvent => ({ seq: seq + k + 1, lease: LEASE, late: false, event }));
          at[id] = r.events.length;
          subscriber.next({ run: id, lease: LEASE, closed: isClosed(r), events });
        }
      };
      this.followers.add(tell);
      queueMicrotask(tell);
      return () => this.followers.delete(tell);
    });
  }

  private put(kept: KeptRun, events: RunEvent[], clockMs: number): DeviceRun | null {
    const [opened] = events;
    if (opened?.kind !== 'opened') return null;
    const document = this.bundle.procedures.find((p) => p.digest === opened.procedure)?.document;
    const made = document ? planOfRun(document, opened) : null;
    if (!made?.ok) return null;
    const r: DeviceRun = { ...kept, events, plan: made.plan, state: events.reduce(fold, emptyRun), clockMs, tick: this.ticks.tick() };
    this.runs.set(kept.id, r);
    return r;
  }

  /** A run that was begun before this page was loaded. Nothing has counted the time since: a hold across it is no measurement. */
  private async takeUp(kept: KeptRun, events: RunEvent[]): Promise<void> {
    const last = lastMoment(events);
    const passed = Math.max(0, Math.round(this.ticks.wall() - Date.parse(kept.startedAt) - last));
    // Its clock goes on from where it was: an hour that was set ahead meanwhile would put every later word beyond what the server can take.
    const r = this.put(kept, events, last);
    if (!r || isClosed(r)) return;
    const n = (r.state.sources['device']?.n ?? 0) + 1;
    await this.keep(r, { id: v7(), source: 'device', n, at: Math.max(r.state.at, last) + 1, kind: 'gap', wallMs: Math.max(1, passed), tickMs: 0 });
  }

  private async keep(r: DeviceRun, event: RunEvent): Promise<void> {
    await this.keeping.put(eventName(r.id, r.events.length + 1), event);
    r.events.push(event);
    r.state = fold(r.state, event);
  }
}
