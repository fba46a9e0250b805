import {
  itemsOf,
  openingOf,
  parse,
  Malformed,
  Refused,
  refuseOnCondemned,
  tablesIn,
  newRunSchema,
  appendSchema,
  type AlongBundle,
  type AssetRow,
  type AssetView,
  type HandIn,
  type NewRun,
  type OpenRunRow,
  type PositionedEvent,
  type Problem,
  type RegisterPage,
  type RunView,
  type TableRow,
  type TakenAlong,
} from '@grellin/contract';
import {
  emptyRun,
  fold,
  judge,
  lastMoment,
  may,
  offsetAt,
  planOfRun,
  refusalInWords,
  stationDay,
  type Plan,
  type RunEvent,
  type RunState,
} from '@grellin/core';
import { Observable } from 'rxjs';
import { v7 } from 'uuid';
import type { StreamSignal } from '../run/runStream';
import type { Answer, Station } from '../door/awayDoor';

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

interface DeviceRun extends KeptRun {
  readonly events: RunEvent[];
  readonly plan: Plan;
  state: RunState;
  /** What the run's clock showed, and the tick then. */
  readonly clockMs: number;
  readonly tick: number;
}

/** A run of this device, for whoever looks at what it has done. */
export interface DoneHere {
  readonly id: string;
  readonly tag: string;
  readonly title: string;
  readonly startedAt: string;
  readonly closed: boolean;
  readonly verdict: 'pass' | 'fail' | 'undecided' | 'void' | null;
}

const SEQ = 6;
const runName = (id: string): string => `run ${id}`;
const eventName = (id: string, seq: number): string => `event ${id} ${String(seq).padStart(SEQ, '0')}`;
const TAKEN = 'taken';
/** As the server has it: a hand is not held to the millisecond. */
const AHEAD_MS = 5000;
const LEASE = 1;

class Told extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem,
  ) {
    super(problem.message);
  }
}
const told = (status: number, code: string, message: string): Told => new Told(status, { code, message });

const ok = (body: unknown, status = 200): Answer => ({ status, body });

/**
 * The part of the server that goes along: it answers the same API, from what was taken along, by the same rules, and keeps everything that is said before it says
 * that it is kept. What was not taken along it does not know, and says so.
 */
export class DeviceStation implements Station {
  private readonly runs = new Map<string, DeviceRun>();
  private readonly followers = new Set<() => void>();
  /** One request after the other: what is said in a run is folded in its order. */
  private busy: Promise<unknown> = Promise.resolve();

  private constructor(
    private readonly keeping: Keeping,
    private readonly taken: TakenAlong,
    private readonly ticks: Ticks,
    private readonly changed: () => void,
  ) {}

  /** Lays down what was taken along. */
  static async lay(keeping: Keeping, taken: TakenAlong): Promise<void> {
    await keeping.put(TAKEN, taken);
  }

  /**
   * Opens what lies on the device, with the runs that were begun there.
   * @param changed called whenever a run was opened, closed or handed in
   * @returns null where nothing lies there
   */
  static async open(keeping: Keeping, ticks: Ticks, changed: () => void = () => undefined): Promise<DeviceStation | null> {
    const taken = await keeping.get<TakenAlong>(TAKEN);
    if (!taken) return null;
    const station = new DeviceStation(keeping, taken, ticks, changed);
    const names = [...(await keeping.names())].sort();
    for (const name of names.filter((n) => n.startsWith('run '))) {
      const kept = await keeping.get<KeptRun>(name);
      if (!kept) continue;
      const events: RunEvent[] = [];
      for (const of of names.filter((n) => n.startsWith(`event ${kept.id} `))) {
        const event = await keeping.get<RunEvent>(of);
        if (event) events.push(event);
      }
      await station.takeUp(kept, events);
    }
    return station;
  }

  get bundle(): AlongBundle {
    return this.taken.bundle;
  }

  get secret(): string {
    return this.taken.secret;
  }

  /** What was done on this device and is not handed in yet. */
  done(): readonly DoneHere[] {
    return [...this.runs.values()].map((r) => {
      const view = this.viewOf(r);
      const closed = this.isClosed(r);
      return { id: r.id, tag: view.tag, title: view.title, startedAt: r.startedAt, closed, verdict: closed ? judge(r.plan, r.state).verdict : null };
    });
  }

  /** A closed run as it is handed in. */
  handInOf(id: string): HandIn {
    const r = this.runs.get(id);
    if (!r || !this.isClosed(r)) throw told(409, 'along.open', 'This run is still open.');
    const { opening, given, startedAt, events } = r;
    return { secret: this.secret, run: id, opening, given, startedAt, events: events.slice(1) as HandIn['events'] };
  }

  /** It has been handed in: nothing of it stays here. */
  async handedIn(id: string): Promise<void> {
    const r = this.runs.get(id);
    if (!r) return;
    // The run's own row goes last: what is left of it, should the tab die now, can be handed in again without harm.
    for (const k of r.events.keys()) await this.keeping.drop(eventName(id, k + 1));
    await this.keeping.drop(runName(id));
    this.runs.delete(id);
    this.changed();
  }

  answer(method: string, path: string, query: URLSearchParams, body: unknown): Promise<Answer> {
    const answered = this.busy.then(() => this.answerNow(method, path, query, body));
    this.busy = answered.catch(() => undefined);
    return answered;
  }

  private async answerNow(method: string, path: string, query: URLSearchParams, body: unknown): Promise<Answer> {
    try {
      const [, , noun = '', id, what] = path.split('/');
      const asked = `${method} ${[noun, id && ':id', what].filter(Boolean).join('/')}`;
      const { assets, instruments, procedures, tables, account, zone } = this.bundle;
      switch (asked) {
        case 'GET session':
          return ok({ ...account, mustChange: false, zone });
        case 'GET assets':
          return ok(this.page(query));
        case 'GET assets/:id':
          return ok(this.assetView(id ?? ''));
        case 'GET places':
          return ok([...new Set(assets.map((a) => a.place))].sort());
        case 'GET instruments':
          return ok(instruments);
        case 'GET procedures':
          return ok(procedures);
        case 'GET tables':
          return ok(tables.map((table): TableRow => ({ digest: table.id + table.edition, table, publishedAt: this.bundle.takenAt, by: '', withdrawn: null, inForce: true }))); // prettier-ignore
        case 'GET runs':
          return ok(this.openRuns());
        case 'POST runs':
          return ok(await this.openRun(parse(newRunSchema, body)), 201);
        case 'GET runs/:id':
          return ok(this.viewOf(this.runOf(id)));
        case 'GET runs/:id/clock':
          return ok({ clockMs: this.clockOf(this.runOf(id)) });
        case 'POST runs/:id/lease':
          return ok({ lease: LEASE, secret: this.runOf(id).secret });
        case 'POST runs/:id/events': {
          const given = parse(appendSchema, body);
          return ok(await this.append(this.runOf(id), given), 201);
        }
        default:
          throw told(503, 'away', 'The server is away, and this was not taken along.');
      }
    } catch (error) {
      if (error instanceof Told) return { status: error.status, body: error.problem };
      if (error instanceof Refused) return { status: 409, body: { code: error.code, message: error.message, values: error.values } satisfies Problem };
      if (error instanceof Malformed) return { status: 400, body: { code: 'malformed', message: error.message, flaws: error.flaws } satisfies Problem };
      return { status: 500, body: { code: 'device', message: 'This device could not keep it. Nothing was changed.' } satisfies Problem };
    }
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
          subscriber.next({ run: id, lease: LEASE, closed: this.isClosed(r), events });
        }
      };
      this.followers.add(tell);
      queueMicrotask(tell);
      return () => this.followers.delete(tell);
    });
  }

  private runOf(id: string | undefined): DeviceRun {
    const found = this.runs.get(id ?? '');
    if (!found) throw told(404, 'run.unknown', 'There is no such run on this device.');
    return found;
  }

  private isClosed({ state }: Pick<DeviceRun, 'state'>): boolean {
    return state.sealed || state.abandoned !== null;
  }

  private clockOf(r: DeviceRun): number {
    return Math.round(r.clockMs + (this.ticks.tick() - r.tick));
  }

  /** An item as it was taken along, with what was found of it here since: a failure counts at once, a pass only when it has been handed in. */
  private known(a: AlongBundle['assets'][number]): AlongBundle['assets'][number] {
    const failed = [...this.runs.values()].some((r) => Object.values(r.given.assets).includes(a.id) && judge(r.plan, r.state).blocks);
    return failed && a.readiness !== 'condemned' ? { ...a, readiness: 'blocked', why: 'failed on this device, not handed in yet' } : a;
  }

  private assetView(id: string): AssetView {
    const found = this.bundle.assets.find((a) => a.id === id);
    if (!found) throw told(503, 'away', 'The server is away, and this item was not taken along.');
    return this.known(found);
  }

  private page(query: URLSearchParams): RegisterPage {
    const [words, kind, place] = [query.get('q')?.toLowerCase() ?? '', query.get('class'), query.get('place')];
    const rows = this.bundle.assets
      .map((a): AssetRow => this.known(a))
      .filter(
        (a) => (kind === null || a.class === kind) && (place === null || a.place === place) && `${a.tag} ${a.serial} ${a.title}`.toLowerCase().includes(words),
      );
    return { rows, next: null, count: rows.length, more: false };
  }

  private openRuns(): readonly OpenRunRow[] {
    return [...this.runs.values()].filter((r) => !this.isClosed(r)).map((r) => ({ ...this.viewOf(r), clockMs: this.clockOf(r) }));
  }

  private viewOf(r: DeviceRun): RunView {
    const { assets, instruments, account } = this.bundle;
    const { procedure: document, digest, ruleSet } = r.plan;
    const items = Object.entries(r.given.assets).flatMap(([role, id]) => {
      const found = assets.find((a) => a.id === id);
      return found ? [[role, found] as const] : [];
    });
    const main = items.find(([, a]) => a.tag === Object.values(r.state.opened?.assets ?? {})[0]?.id)?.[1] ?? items[0]?.[1];
    const closed = this.isClosed(r);
    return {
      id: r.id,
      procedure: document.id,
      title: document.title,
      ruleSet: ruleSet.title,
      asset: main?.id ?? '',
      tag: main?.tag ?? '',
      assetTitle: main?.title ?? '',
      startedAt: r.startedAt,
      clock: 'live',
      blocks: judge(r.plan, r.state).blocks,
      by: account.fullName,
      digest,
      document,
      lease: LEASE,
      closed,
      // It has a number when it has been handed in: until then its page is the device's own.
      record: closed ? `away:${r.id}` : null,
      assets: Object.fromEntries(items.map(([role, { id, tag, serial, title }]) => [role, { id, tag, serial, title }])),
      instruments: Object.fromEntries(
        Object.entries(r.given.instruments).flatMap(([channel, id]) => {
          const found = instruments.find((i) => i.id === id);
          return found ? [[channel, found]] : [];
        }),
      ),
      rig: null,
      round: null,
    };
  }

  /** The hour of the server, as this device's clock was compared with it when it took all of this along. */
  private get day(): string {
    return stationDay(this.ticks.wall(), this.bundle.zone);
  }

  private async openRun(given: NewRun): Promise<object> {
    const { bundle } = this;
    const wall = this.ticks.wall();
    if (wall > Date.parse(bundle.until)) throw told(409, 'along.ended', `What was taken along was for use until ${bundle.until.slice(0, 16).replace('T', ' ')} UTC: nothing more is begun with it.`); // prettier-ignore
    const found = bundle.procedures.find((p) => p.document.id === given.procedure);
    if (!found) throw told(503, 'away', 'The server is away, and this procedure was not taken along.');
    if (found.authorisedUntil < this.day) throw told(403, 'authorisation.ranOut', `Your authorisation for “${found.document.title}” has run out.`);
    const { document, digest } = found;
    const open = [...this.runs.values()].find((r) => !this.isClosed(r) && Object.values(r.given.assets).some((id) => Object.values(given.assets).includes(id)));
    if (open) throw told(409, 'run.refused', `A test of ${this.viewOf(open).tag} is under way on this device: go on with it.`);
    const items = bundle.assets.map((a) => this.known(a));
    for (const id of Object.values(given.assets)) {
      const item = items.find((a) => a.id === id);
      if (item) refuseOnCondemned(document, item);
    }
    const gauges = bundle.instruments.map((i) => ({ ...i, archived: false }));
    const byRole = itemsOf(document, given, items);
    const attributes = Object.fromEntries(Object.entries(byRole).map(([role, a]) => [role, a.attributes]));
    const startedAt = new Date(wall).toISOString();
    const known = { document, digest, items, gauges, day: this.day, startedAt, offset: offsetAt(wall, bundle.zone) };
    const tables = tablesIn(bundle.tables, document, given.ruleSet, attributes, this.day);
    const { body } = openingOf(known, given, { tables, away: { along: bundle.id, takenAt: bundle.takenAt } });
    const kept: KeptRun = { id: v7(), opening: v7(), given, startedAt, secret: v7() };
    const opened: RunEvent = { id: kept.opening, source: 'server', n: 1, at: 0, ...body };
    await this.keeping.put(runName(kept.id), kept);
    await this.keeping.put(eventName(kept.id, 1), opened);
    const r = this.put(kept, [opened], 0);
    if (!r) throw told(500, 'device', 'The run cannot be opened.');
    this.changed();
    return { ...this.viewOf(r), secret: kept.secret };
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
    if (!r || this.isClosed(r)) return;
    const n = (r.state.sources['device']?.n ?? 0) + 1;
    await this.keep(r, { id: v7(), source: 'device', n, at: Math.max(r.state.at, last) + 1, kind: 'gap', wallMs: Math.max(1, passed), tickMs: 0 });
  }

  private async keep(r: DeviceRun, event: RunEvent): Promise<void> {
    await this.keeping.put(eventName(r.id, r.events.length + 1), event);
    r.events.push(event);
    r.state = fold(r.state, event);
  }

  private async append(r: DeviceRun, given: { readonly lease: number; readonly secret?: string | undefined; readonly events: readonly RunEvent[] }) {
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
    for (const event of fresh) await this.keep(r, event);
    for (const tell of this.followers) tell();
    if (this.isClosed(r)) this.changed();
    return given.events.map(({ id }) => ({ id, seq: r.events.findIndex((e) => e.id === id) + 1 }));
  }
}
