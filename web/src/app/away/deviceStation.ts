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
  type Problem,
  type RegisterPage,
  type RunView,
  type TableRow,
  type TakenAlong,
} from '@grellin/contract';
import { judge, offsetAt, stationDay } from '@grellin/core';
import type { Observable } from 'rxjs';
import type { Answer, Station } from '../door/awayDoor';
import type { StreamSignal } from '../run/runStream';
import { DeviceRuns, isClosed, LEASE, Told, told, type DeviceRun, type Keeping, type Ticks } from './deviceRuns';

/** A run of this device, for whoever looks at what it has done. */
export interface DoneHere {
  readonly id: string;
  readonly tag: string;
  readonly title: string;
  readonly startedAt: string;
  readonly closed: boolean;
  readonly verdict: 'pass' | 'fail' | 'undecided' | 'void' | null;
}

const TAKEN = 'taken';

const ok = (body: unknown, status = 200): Answer => ({ status, body });

/**
 * The part of the server that goes along: it answers the same API, from what was taken along, by the same rules; what is said in its runs is kept by `DeviceRuns`.
 * What was not taken along it does not know, and says so.
 */
export class DeviceStation implements Station {
  /** One request after the other: what is said in a run is folded in its order. */
  private busy: Promise<unknown> = Promise.resolve();

  private constructor(
    private readonly taken: TakenAlong,
    private readonly runs: DeviceRuns,
    private readonly ticks: Ticks,
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
    return new DeviceStation(taken, await DeviceRuns.takenUp(keeping, taken.bundle, ticks, changed), ticks);
  }

  get bundle(): AlongBundle {
    return this.taken.bundle;
  }

  get secret(): string {
    return this.taken.secret;
  }

  /** What was done on this device and is not handed in yet. */
  done(): readonly DoneHere[] {
    return this.runs.all.map((r) => {
      const view = this.viewOf(r);
      const closed = isClosed(r);
      return { id: r.id, tag: view.tag, title: view.title, startedAt: r.startedAt, closed, verdict: closed ? judge(r.plan, r.state).verdict : null };
    });
  }

  /** A closed run as it is handed in. */
  handInOf(id: string): HandIn {
    return this.runs.handInOf(id, this.secret);
  }

  /** The pictures that a run tells of, each with its bytes: they are handed in before it. */
  async picturesOf(id: string): Promise<readonly { readonly sha256: string; readonly bytes: ArrayBuffer }[]> {
    return Promise.all(this.runs.picturesOf(id).map(async (sha256) => ({ sha256, bytes: await this.runs.pictureBytes(sha256) })));
  }

  /** It has been handed in: nothing of it stays here. */
  handedIn(id: string): Promise<void> {
    return this.runs.handedIn(id);
  }

  /** Runs as the server would stream them. */
  follow(wanted: () => Readonly<Record<string, number>>): Observable<StreamSignal> {
    return this.runs.follow(wanted);
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
          return ok(this.viewOf(this.runs.get(id)));
        case 'GET runs/:id/clock':
          return ok({ clockMs: this.runs.clockOf(this.runs.get(id)) });
        case 'POST runs/:id/lease':
          return ok({ lease: LEASE, secret: this.runs.get(id).secret });
        case 'POST runs/:id/events': {
          const given = parse(appendSchema, body);
          return ok(await this.runs.append(this.runs.get(id), given), 201);
        }
        case 'PUT pictures/:id':
          await this.runs.keepPicture(id ?? '', body);
          return ok(null, 204);
        case 'GET pictures/:id':
          return ok(await this.runs.pictureBytes(id ?? ''));
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

  /** An item as it was taken along, with what was found of it here since: a failure counts at once, a pass only when it has been handed in. */
  private known(a: AlongBundle['assets'][number]): AlongBundle['assets'][number] {
    const failed = this.runs.all.some((r) => Object.values(r.given.assets).includes(a.id) && judge(r.plan, r.state).blocks);
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
    return this.runs.all.filter((r) => !isClosed(r)).map((r) => ({ ...this.viewOf(r), clockMs: this.runs.clockOf(r) }));
  }

  private viewOf(r: DeviceRun): RunView {
    const { assets, instruments, account } = this.bundle;
    const { procedure: document, digest, ruleSet } = r.plan;
    const items = Object.entries(r.given.assets).flatMap(([role, id]) => {
      const found = assets.find((a) => a.id === id);
      return found ? [[role, found] as const] : [];
    });
    const main = items.find(([, a]) => a.tag === Object.values(r.state.opened?.assets ?? {})[0]?.id)?.[1] ?? items[0]?.[1];
    const closed = isClosed(r);
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
    const open = this.runs.all.find((r) => !isClosed(r) && Object.values(r.given.assets).some((id) => Object.values(given.assets).includes(id)));
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
    const r = await this.runs.open(given, startedAt, body);
    return { ...this.viewOf(r), secret: r.secret };
  }
}
