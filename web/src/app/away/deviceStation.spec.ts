import { createHash } from 'node:crypto';
import type { AlongBundle, AssetView, InstrumentRow, NewRun, OpenedRun, Problem, RunView, TakenAlong } from '@grellin/contract';
import { emptyRun, fold, judge, makePlan, planOfRun, procedureById, type EventBody, type RunEvent } from '@grellin/core';
import { perform } from '@grellin/core/practice';
import { beforeEach, describe, expect, it } from 'vitest';
import { v7 } from 'uuid';
import { picture } from '../../../../contract/test/testing/pictures';
import { anItem } from '../../testing/items';
import type { StreamMessage } from '../run/runStream';
import type { Keeping, Ticks } from './deviceRuns';
import { DeviceStation } from './deviceStation';

/** A disk that a test looks into, and that can fail. */
class Disk implements Keeping {
  readonly all = new Map<string, string>();
  full = false;
  put(name: string, value: unknown): Promise<void> {
    if (this.full) return Promise.reject(new Error('QuotaExceededError'));
    this.all.set(name, JSON.stringify(value));
    return Promise.resolve();
  }
  // As the vault has it.

  get<T>(name: string): Promise<T | undefined> {
    const text = this.all.get(name);
    return Promise.resolve(text === undefined ? undefined : (JSON.parse(text) as T));
  }
  names(): Promise<readonly string[]> {
    return Promise.resolve([...this.all.keys()]);
  }
  drop(name: string): Promise<void> {
    this.all.delete(name);
    return Promise.resolve();
  }
}

/** The clocks of a tablet: the hour can be set, the ticks begin anew with every page. */
class Tablet implements Ticks {
  hour = Date.parse('2026-12-01T08:30:00Z');
  ticks = 1000;
  readonly wall = () => this.hour;
  readonly tick = () => this.ticks;
  pass(ms: number): void {
    this.hour += ms;
    this.ticks += ms;
  }
  restart(): void {
    this.ticks = 0;
  }
}

const document = procedureById('suit.inflation');
if (!document) throw new Error('there is no suit');
const attributes = { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' }, buildStandard: 'ASTM F1052' };
const SUIT = '01890a5d-ac96-774b-bcce-b302099a8057';
const GAUGE = '01890a5d-ac96-774b-bcce-b302099a8058';
const q = (value: number) => ({ value, unit: "[in_i'H2O]" });
const suit = { ...anItem({}), id: SUIT, tag: 'GS-01', serial: 'S 1', class: 'gas-tight-suit', attributes, obligations: [], instruments: [], records: [], leaks: [], series: [], occasions: [], kits: [], told: {}, along: [], carries: [] }; // prettier-ignore
const gauge: InstrumentRow = { id: GAUGE, tag: 'MG-01', title: 'Gauge', fittedTo: null, low: q(0), high: q(20), resolution: q(0.01), accuracy: q(0.02), correlation: 0.9, calibrationDue: '2027-06-01', streams: false, simulated: false, rig: null, device: null, inUseBy: null }; // prettier-ignore
const bundle: AlongBundle = {
  id: '01890a5d-ac96-774b-bcce-b302099a8059',
  account: { id: 'ida', name: 'ida', fullName: 'Ida', role: 'tester' },
  takenAt: '2026-12-01T08:00:00Z',
  until: '2026-12-01T20:00:00Z',
  zone: 'Europe/Oslo',
  assets: [suit],
  instruments: [gauge],
  procedures: [{ digest: 'd'.repeat(64), document, authorisedUntil: '2027-01-01' }],
  tables: [],
};
const taken: TakenAlong = { bundle, secret: 'shh' };
const given: NewRun = { procedure: 'suit.inflation', ruleSet: 'in-h2o-4', assets: { suit: SUIT }, instruments: { suit: GAUGE } };

let disk: Disk;
let tablet: Tablet;
let station: DeviceStation;
const open = async (): Promise<DeviceStation> => {
  const found = await DeviceStation.open(disk, tablet);
  if (!found) throw new Error('nothing lies there');
  return found;
};
beforeEach(async () => {
  disk = new Disk();
  tablet = new Tablet();
  await DeviceStation.lay(disk, taken);
  station = await open();
});
// The caller says what it expects to read, as with any JSON.
// eslint-disable-next-line @typescript-eslint/no-unnecessary-type-parameters
const ask = async <T = Problem>(method: string, path: string, body?: unknown, query = '') => {
  const { status, body: answer } = await station.answer(method, path, new URLSearchParams(query), body);
  return { status, body: answer as T };
};
const begin = async (more: Partial<NewRun> = {}): Promise<OpenedRun> => {
  const { status, body } = await ask<OpenedRun>('POST', '/api/runs', { ...given, ...more });
  if (status !== 201) throw new Error(JSON.stringify(body));
  return body;
};
/** What a practised hand types in a run of that kind, with a fault or none. */
function typed(fault = 'none'): readonly RunEvent[] {
  const made = document && makePlan(document, 'd', 'in-h2o-4', { suit: attributes }, '2026-12-01');
  if (!made?.ok) throw new Error('no plan');
  const { events } = perform({
    plan: made.plan,
    opened: { startedAt: '2026-12-01T08:30:00.000Z', procedure: 'd', ruleSet: 'in-h2o-4', assets: { suit: { id: 'GS-01', attributes } }, instruments: { suit: { ...gauge, id: 'MG-01', fitted: false } }, clock: 'live' },
    rig: 'suit', fault, sensors: { p1: { unit: "[in_i'H2O]", resolution: 0.01, noise: 0, zero: 0 } }, inputs: { suit: 'p1' }, seed: 5, readings: 'typed',
    name: () => v7(),
  }); // prettier-ignore
  // A bench counts what it says itself.
  return events.filter((e) => e.kind !== 'opened' && e.kind !== 'recorded').map((e, i) => ({ ...e, source: 'bench:x', n: i + 1 }));
}
/** Says them as the minutes pass. */
async function carryOut(run: OpenedRun, events: readonly RunEvent[]): Promise<void> {
  const from = tablet.ticks;
  for (const event of events) {
    tablet.pass(Math.max(0, from + event.at - tablet.ticks));
    const { status, body } = await ask('POST', `/api/runs/${run.id}/events`, { lease: run.lease, secret: run.secret, events: [event] });
    if (status !== 201) throw new Error(`${event.kind} ${JSON.stringify(body)}`);
  }
}

describe('the part of the server that goes along', () => {
  it('answers the same API from what was taken along, and says what it does not know', async () => {
    expect((await ask<{ rows: AssetView[] }>('GET', '/api/assets', undefined, 'q=gs-0')).body.rows.map((a) => a.tag)).toEqual(['GS-01']);
    expect((await ask<{ rows: AssetView[] }>('GET', '/api/assets', undefined, 'class=truck')).body.rows).toEqual([]);
    expect((await ask<AssetView>('GET', `/api/assets/${SUIT}`)).body.tag).toBe('GS-01');
    expect((await ask<InstrumentRow[]>('GET', '/api/instruments')).body).toEqual([gauge]);
    expect((await ask('GET', '/api/session')).body).toMatchObject({ fullName: 'Ida', zone: 'Europe/Oslo' });
    for (const path of ['/api/today', '/api/records', '/api/plan', `/api/assets/${v7()}`, '/api/along'])
      expect(await ask('GET', path)).toMatchObject({ status: 503, body: { code: 'away' } });
    expect(await ask('PATCH', `/api/assets/${SUIT}`, {})).toMatchObject({ status: 503 });
  });

  it('carries a run out from its beginning to its seal, judges it with the same core, and hands it in whole', async () => {
    const run = await begin();
    expect(run).toMatchObject({ tag: 'GS-01', closed: false, record: null, clock: 'live', ruleSet: '4 inH2O' });
    await carryOut(run, typed());
    const { body: view } = await ask<RunView>('GET', `/api/runs/${run.id}`);
    expect(view).toMatchObject({ closed: true, blocks: false, record: `away:${run.id}` });
    expect(station.done()).toMatchObject([{ id: run.id, closed: true, verdict: 'pass' }]);
    const handed = station.handInOf(run.id);
    expect(handed).toMatchObject({ secret: 'shh', run: run.id, given, startedAt: '2026-12-01T08:30:00.000Z' });
    expect(handed.events.some((e) => (e as RunEvent).kind === 'opened')).toBe(false);
    // It is judged the same by whoever has its events.
    const opened = [...disk.all].find(([name]) => name.endsWith(' 000001'))?.[1];
    const events = [JSON.parse(opened ?? '') as RunEvent, ...(handed.events as RunEvent[])];
    const made = events[0]?.kind === 'opened' ? planOfRun(document, events[0]) : null;
    expect(made?.ok && judge(made.plan, events.reduce(fold, emptyRun)).verdict).toBe('pass');
    expect(events[0]).toMatchObject({ away: { along: bundle.id, takenAt: bundle.takenAt } });
    await station.handedIn(run.id);
    expect([...disk.all.keys()]).toEqual(['taken']);
  }, 120_000);

  it('keeps a picture beside its run, hands it in before the run, and lets it go with the run', async () => {
    const run = await begin();
    const bytes = Uint8Array.from(picture('baseline'));
    const sha256 = createHash('sha256').update(bytes).digest('hex');
    const says = (n: number, body: EventBody): RunEvent => ({ id: v7(), source: 'bench:camera', n, at: 0, ...body });
    const tells = (event: RunEvent) => ask('POST', `/api/runs/${run.id}/events`, { lease: run.lease, secret: run.secret, events: [event] });
    const told = says(1, { kind: 'pictured', picture: sha256, shows: 'plate' });
    // The word of it before its bytes, other bytes under its name, and what is no picture: none is kept.
    expect((await tells(told)).body.code).toBe('picture.notKept');
    expect(await ask('PUT', `/api/pictures/${'0'.repeat(64)}`, bytes.buffer)).toMatchObject({ status: 409, body: { code: 'picture.otherBytes' } });
    expect(await ask('PUT', `/api/pictures/${sha256}`, new ArrayBuffer(9))).toMatchObject({ status: 422, body: { code: 'picture.refused' } });
    expect(await ask('GET', `/api/pictures/${sha256}`)).toMatchObject({ status: 404 });
    expect((await ask('PUT', `/api/pictures/${sha256}`, bytes.buffer)).status).toBe(204);
    expect((await tells(told)).status).toBe(201);
    station = await open();
    expect(new Uint8Array((await ask<ArrayBuffer>('GET', `/api/pictures/${sha256}`)).body)).toEqual(bytes);
    const taken = { id: v7(), source: 'bench:camera', n: 2, at: 5, kind: 'abandoned', reason: 'rain' } as const;
    tablet.pass(1000);
    expect((await tells(taken)).status).toBe(201);
    expect((await station.picturesOf(run.id)).map((p) => [p.sha256, p.bytes.byteLength])).toEqual([[sha256, bytes.byteLength]]);
    // A tab that dies while the run is let go never leaves a run without its pictures: it could not be handed in again.
    const gone: string[] = [];
    const drop = disk.drop.bind(disk);
    disk.drop = (name) => {
      gone.push(name.split(' ')[0] ?? '');
      return drop(name);
    };
    await station.handedIn(run.id);
    expect(gone.slice(-2)).toEqual(['run', 'picture']);
    expect([...disk.all.keys()]).toEqual(['taken']);
  });

  it('blocks at once what failed on it, and releases nothing that passed before it is handed in', async () => {
    const run = await begin();
    await carryOut(run, typed('zip end'));
    expect(station.done()).toMatchObject([{ verdict: 'fail' }]);
    expect((await ask<AssetView>('GET', `/api/assets/${SUIT}`)).body).toMatchObject({ readiness: 'blocked', why: 'failed on this device, not handed in yet' });
  }, 120_000);

  it('streams what was said and what is said, once each', async () => {
    const run = await begin();
    const heard: StreamMessage[] = [];
    const stop = station.follow(() => ({ [run.id]: 0 })).subscribe((m) => m && heard.push(m));
    await Promise.resolve();
    await carryOut(run, typed().slice(0, 4));
    stop.unsubscribe();
    expect(heard.flatMap((m) => m.events.map((e) => e.seq))).toEqual([1, 2, 3, 4, 5]);
    expect(heard.every((m) => m.run === run.id && m.lease === 1)).toBe(true);
  });
});

describe('what a hurried, a careless or a hostile hand tries on it', () => {
  it('no minute passes because the hour was set ahead, and none because the page was loaded anew', async () => {
    const run = await begin();
    const events = typed();
    const hold = events.findIndex((e) => e.kind === 'marked' && e.mark === 'start' && e.at > 120_000);
    await carryOut(run, events.slice(0, hold + 1));
    const clock = async (): Promise<number> => (await ask<{ clockMs: number }>('GET', `/api/runs/${run.id}/clock`)).body.clockMs;
    const before = await clock();
    tablet.hour += 3_600_000;
    expect(await clock()).toBe(before);
    // Loaded anew the ticks say nothing any more: the time since counts for no hold.
    tablet.restart();
    station = await open();
    const kept = [...disk.all].filter(([name]) => name.startsWith(`event ${run.id}`)).map(([, text]) => JSON.parse(text) as RunEvent);
    expect(kept.at(-1)).toMatchObject({ kind: 'gap', source: 'device' });
    expect((kept.at(-1) as EventBody & { kind: 'gap' }).wallMs).toBeGreaterThan(3_500_000);
    // Nor is anything that is said from now on beyond the time that there was: it could never be handed in.
    expect(await clock()).toBeLessThan(before + 1000);
    const made = kept[0]?.kind === 'opened' ? planOfRun(document, kept[0]) : null;
    if (!made?.ok) throw new Error('no plan');
    const ended: RunEvent = { id: v7(), source: 'bench:x', n: 1, at: await clock(), kind: 'ended', stage: 'inflate', attempt: 1 };
    const { status, body } = await ask('POST', `/api/runs/${run.id}/events`, { lease: 1, secret: run.secret, events: [ended] });
    const verdicts = status === 201 ? judge(made.plan, [...kept, ended].reduce(fold, emptyRun)).findings.filter((f) => f.stage === 'inflate').map((f) => f.verdict) : [body.code]; // prettier-ignore
    expect(verdicts).not.toContain('pass');
  }, 120_000);

  it('refuses what is ahead of its clock, what its rules do not admit, and keeps nothing of it', async () => {
    const run = await begin();
    const event = (body: EventBody, at = 0): RunEvent => ({ id: v7(), source: 'bench:x', n: 1, at, ...body });
    const say = (events: readonly RunEvent[], secret = run.secret) => ask('POST', `/api/runs/${run.id}/events`, { lease: 1, secret, events });
    const began = event({ kind: 'began', stage: 'gather', attempt: 1 });
    expect((await say([{ ...began, at: 60_000 }])).body.code).toBe('event.ahead');
    expect((await say([began, { ...event({ kind: 'sealed' }), n: 2 }])).body.code).toBe('run.refused');
    expect((await say([began], 'guessed')).body.code).toBe('lease.notYours');
    expect((await say([{ ...began, kind: 'recorded' } as never])).body.code).toBe('malformed');
    expect([...disk.all.keys()].filter((n) => n.startsWith('event'))).toHaveLength(1);
    expect((await say([began])).status).toBe(201);
    // The same again, as after a page that was killed before it heard: once.
    expect((await say([began])).status).toBe(201);
    expect([...disk.all.keys()].filter((n) => n.startsWith('event'))).toHaveLength(2);
  });

  it('does not say that something is kept which is not', async () => {
    const run = await begin();
    disk.full = true;
    const began: RunEvent = { id: v7(), source: 'bench:x', n: 1, at: 0, kind: 'began', stage: 'gather', attempt: 1 };
    const sent = { lease: 1, secret: run.secret, events: [began] };
    expect(await ask('POST', `/api/runs/${run.id}/events`, sent)).toMatchObject({ status: 500, body: { code: 'device' } });
    disk.full = false;
    expect((await ask('POST', `/api/runs/${run.id}/events`, sent)).status).toBe(201);
  });

  it('begins nothing after its time, nothing without an authorisation, and no second test of what is under test', async () => {
    await begin();
    expect((await ask('POST', '/api/runs', given)).body.code).toBe('run.refused');
    expect((await ask('POST', '/api/runs', { ...given, procedure: 'brakes.whole' })).body.code).toBe('away');
    expect((await ask('POST', '/api/runs', { ...given, instruments: {} })).status).toBe(409);
    tablet.pass(14 * 3_600_000);
    expect((await ask('POST', '/api/runs', given)).body.code).toBe('along.ended');
  });

  it('tests nothing condemned, and takes a retest’s word from nobody', async () => {
    const condemned = new Disk();
    await DeviceStation.lay(condemned, { ...taken, bundle: { ...bundle, assets: [{ ...suit, readiness: 'condemned', why: 'condemned in GR-1' }] } });
    const other = await DeviceStation.open(condemned, tablet);
    expect(await other?.answer('POST', '/api/runs', new URLSearchParams(), given)).toMatchObject({ status: 409, body: { code: 'asset.condemned' } });
  });
});
