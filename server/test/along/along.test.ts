import type { AlongRow, AssetView, HandedIn, RecordView, RunView, TakenAlong } from '@grellin/contract';
import { addDays, type RunEvent } from '@grellin/core';
import type { FastifyInstance } from 'fastify';
import { v7 } from 'uuid';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { firstBroken } from '../../src';
import { HeldClock, HeldSpeaker } from '../testing/speaker';
import { Person, station, type Station } from '../testing/station';

/** What a device takes along: its runs come back whole, under the server's rules, and take back nothing that was found while it was away. */
const clock = new HeldClock('2026-12-01T08:00:00Z');
let s: Station;
let app: FastifyInstance;
let officer: Person;
let tester: Person;
let reader: Person;
beforeAll(async () => {
  s = await station({ now: clock.now() });
  app = await s.serve({}, clock);
});
beforeEach(async () => {
  clock.ms += 600_000;
  officer = await new Person(app).signIn('officer');
  tester = await new Person(app).signIn('tester');
  reader = await new Person(app).signIn('reader');
});
afterAll(() => s.close());

let made = 0;
/** A suit of its own, that owes its inflation. */
async function suit(): Promise<{ readonly id: string; readonly tag: string }> {
  made += 1;
  const attributes = { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' }, buildStandard: 'ASTM F1052' };
  const tag = `GA-${String(made)}`;
  const { status, body } = await officer.ask<{ id: string }>('POST', '/api/assets', { tag, serial: `SA ${String(made)}`, class: 'gas-tight-suit', title: 'Suit', place: 'Store', practice: false, attributes }); // prettier-ignore
  if (status !== 201) throw new Error(JSON.stringify(body));
  const owes = { asset: body.id, procedure: 'suit.inflation', ruleSet: 'in-h2o-4', interval: 'P1Y', counting: 'rolling', anchor: '2026-01-01' };
  const owed = await officer.ask('POST', '/api/obligations', owes);
  if (owed.status !== 201) throw new Error(JSON.stringify(owed.body));
  return { id: body.id, tag };
}

const take = async (assets: readonly string[], hours = 12, person = tester): Promise<TakenAlong> => {
  const { status, body } = await person.ask<TakenAlong>('POST', '/api/along', { assets, hours });
  if (status !== 201) throw new Error(JSON.stringify(body));
  return body;
};

/** Says things in a run that no server hears of. */
class Away extends HeldSpeaker {
  readonly events: RunEvent[] = [];
  readonly id: string;
  readonly startedAt: string;
  constructor() {
    const id = v7();
    super({ id, lease: 1 } as unknown as RunView, tester, clock);
    this.id = id;
    this.startedAt = clock.now().toISOString();
  }
  override send(events: readonly RunEvent[]) {
    this.events.push(...events);
    return Promise.resolve({ status: 201, body: {}, raw: Buffer.alloc(0), headers: {} });
  }
}

async function carriedOut(end = 3.9): Promise<Away> {
  const away = new Away();
  await away.through(end);
  clock.ms += 60_000;
  return away;
}

type Answer = HandedIn & { readonly code?: string; readonly values?: Record<string, string> };
const body = (taken: TakenAlong, item: string, away: Away, more: object = {}, given: object = {}) => ({
  secret: taken.secret,
  run: away.id,
  opening: v7(),
  given: { procedure: 'suit.inflation', ruleSet: 'in-h2o-4', assets: { suit: item }, instruments: { suit: s.ids.manual }, ...given },
  startedAt: away.startedAt,
  events: away.events,
  ...more,
});
const bring = (taken: TakenAlong, sent: object, person = tester) => person.ask<Answer>('POST', `/api/along/${taken.bundle.id}/runs`, sent);
const view = async (item: string): Promise<AssetView> => (await reader.ask<AssetView>('GET', `/api/assets/${item}`)).body;
const stored = async (run: string): Promise<number> => Number((await s.connection.db.execute<{ n: string }>(`SELECT count(*) AS n FROM run_event WHERE run = '${run}'`)).rows[0]?.n); // prettier-ignore

describe('what is taken along', () => {
  it('is all that its items are tested with, and says to the others where they are', async () => {
    const { id, tag } = await suit();
    const { bundle, secret } = await take([id], 10);
    expect(bundle.assets.map((a) => a.tag)).toEqual([tag]);
    expect(bundle.instruments.map((i) => i.tag)).toEqual(expect.arrayContaining(['MG-01', 'MG-09']));
    // What streams, and what is built into another item, stays here.
    expect(bundle.instruments.map((i) => i.tag)).not.toEqual(expect.arrayContaining(['PL-01']));
    expect(bundle.instruments.some((i) => i.fittedTo !== null)).toBe(false);
    expect(bundle.procedures.map((p) => p.document.id)).toContain('suit.inflation');
    expect(Date.parse(bundle.until) - Date.parse(bundle.takenAt)).toBe(10 * 3_600_000);
    expect(secret.length).toBeGreaterThan(30);
    expect((await view(id)).along).toEqual([{ by: 'The tester', until: bundle.until }]);
    const { body: rows } = await officer.ask<AlongRow[]>('GET', '/api/along');
    expect(rows.find((r) => r.id === bundle.id)).toMatchObject({ by: 'The tester', tags: [tag], handedIn: 0, state: 'inForce' });
    // The secret is kept nowhere.
    const { rows: kept } = await s.connection.db.execute<{ all: string }>(`SELECT row_to_json(along)::text AS all FROM along WHERE id = '${bundle.id}'`);
    expect(kept[0]?.all).not.toContain(secret);
  });

  it('is nothing that nobody may test, nothing put away, and no shift without an end', async () => {
    const { id } = await suit();
    expect((await reader.ask('POST', '/api/along', { assets: [id], hours: 8 })).status).toBe(403);
    expect((await tester.ask('POST', '/api/along', { assets: [id], hours: 200 })).status).toBe(400);
    expect((await tester.ask('POST', '/api/along', { assets: [], hours: 8 })).status).toBe(400);
    expect((await tester.ask('POST', '/api/along', { assets: [v7()], hours: 8 })).body).toMatchObject({ code: 'asset.unknown' });
    const { revision } = await view(id);
    await officer.ask('PATCH', `/api/assets/${id}`, { revision, archived: true });
    expect((await tester.ask('POST', '/api/along', { assets: [id], hours: 8 })).body).toMatchObject({ code: 'asset.putAway' });
  });
});

describe('a run that was carried out away', () => {
  it('becomes a record like any other, says where it was made, and can be handed in again without harm', async () => {
    const { id, tag } = await suit();
    const taken = await take([id]);
    const away = await carriedOut();
    const sent = body(taken, id, away);
    // It comes back two days later: what it settles is counted from the day of the test.
    clock.ms += 2 * 86_400_000;
    await tester.signInAgain('tester');
    reader = await new Person(app).signIn('reader');
    const { status, body: first } = await bring(taken, sent);
    expect([status, first.meanwhile]).toEqual([201, []]);
    const { body: again } = await bring(taken, sent);
    expect(again).toEqual(first);
    const { body: record } = await tester.ask<RecordView>('GET', `/api/records/${first.record}`);
    expect(record).toMatchObject({ verdict: 'pass', tag });
    expect(record.told.map((t) => t.title)).toContain('Carried out away from the server');
    const { readiness, obligations } = await view(id);
    expect(readiness).toBe('ready');
    const done = taken.bundle.takenAt.slice(0, 10);
    expect(obligations[0]).toMatchObject({ lastDone: done, due: addDays(done, 365) });
    const { rows } = await s.connection.db.execute(`SELECT run, seq, lease, late, by, to_char(stored_at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') AS "storedAt", previous, hash, version, event FROM run_event WHERE run = '${away.id}' ORDER BY seq`); // prettier-ignore
    expect(rows.length).toBe(away.events.length + 2);
    expect(firstBroken(rows as never)).toBeNull();
  });

  it('has had no more time than there was: a hold that was not waited out is no hold', async () => {
    const { id } = await suit();
    const taken = await take([id]);
    const from = clock.ms;
    const away = await carriedOut();
    // As if the device's clock had been set ahead by six minutes: the server's knows better.
    clock.ms = from + 90_000;
    const { status, body: refused } = await bring(taken, body(taken, id, away));
    expect([status, refused.code]).toEqual([409, 'event.ahead']);
    expect(await stored(away.id)).toBe(0);
    clock.ms = from + 3_600_000;
    // Nothing is lost by it: when it can have been, it is taken.
    expect((await bring(taken, body(taken, id, away))).status).toBe(201);
  });

  it('has its time for itself: two runs of one device are not held in the same minutes', async () => {
    const [a, b] = [await suit(), await suit()];
    const taken = await take([a.id, b.id]);
    const from = clock.ms;
    const first = await carriedOut();
    clock.ms = from;
    const second = await carriedOut();
    clock.ms = from + 500_000;
    expect((await bring(taken, body(taken, a.id, first))).status).toBe(201);
    expect((await bring(taken, body(taken, b.id, second))).body.code).toBe('event.ahead');
    clock.ms = from + 900_000;
    expect((await bring(taken, body(taken, b.id, second))).status).toBe(201);
  });

  it('takes nothing back that was found meanwhile: both records stand, and the item stays blocked', async () => {
    const { id, tag } = await suit();
    const taken = await take([id]);
    const away = await carriedOut(3.9);
    const here = await officer.open(s, { assets: { suit: id } });
    await new HeldSpeaker(here, officer, clock).through(2.1);
    clock.ms += 60_000;
    const failed = (await officer.ask<RunView>('GET', `/api/runs/${here.id}`)).body.record ?? '';
    expect((await view(id)).readiness).toBe('blocked');
    const { status, body: handed } = await bring(taken, body(taken, id, away));
    expect(status).toBe(201);
    expect(handed.meanwhile).toEqual([`${tag} was tested by The officer meanwhile: leaks, ${failed}. Both records stand.`]);
    const after = await view(id);
    expect(after.readiness).toBe('blocked');
    expect(after.records.map((r) => r.verdict).sort()).toEqual(['fail', 'pass']);
  });

  it('blocks what failed away, whatever passed here meanwhile', async () => {
    const { id } = await suit();
    const taken = await take([id]);
    const away = await carriedOut(2.1);
    const here = await officer.open(s, { assets: { suit: id } });
    await new HeldSpeaker(here, officer, clock).through(3.9);
    clock.ms += 60_000;
    expect((await view(id)).readiness).toBe('ready');
    expect((await bring(taken, body(taken, id, away))).status).toBe(201);
    expect((await view(id)).readiness).toBe('blocked');
  });

  it('releases what failed on the same device, once it was repaired and tested again there', async () => {
    const { id } = await suit();
    const taken = await take([id]);
    const failed = await carriedOut(2.1);
    const again = await carriedOut(3.9);
    expect((await bring(taken, body(taken, id, failed))).status).toBe(201);
    expect((await view(id)).readiness).toBe('blocked');
    expect((await bring(taken, body(taken, id, again))).status).toBe(201);
    expect((await view(id)).readiness).toBe('ready');
  });

  it('and not what passed there before it failed, in whatever order they are handed in', async () => {
    const { id } = await suit();
    const taken = await take([id]);
    const passed = await carriedOut(3.9);
    const failed = await carriedOut(2.1);
    expect((await bring(taken, body(taken, id, failed))).status).toBe(201);
    expect((await bring(taken, body(taken, id, passed))).status).toBe(201);
    expect((await view(id)).readiness).toBe('blocked');
  });

  it('moves no due date back that a later test has moved on', async () => {
    const { id } = await suit();
    const taken = await take([id], 72);
    const away = await carriedOut();
    clock.ms += 86_400_000;
    officer = await new Person(app).signIn('officer');
    const here = await officer.open(s, { assets: { suit: id } });
    await new HeldSpeaker(here, officer, clock).through(3.9);
    clock.ms += 60_000;
    reader = await new Person(app).signIn('reader');
    const [before] = (await view(id)).obligations;
    expect(before?.lastDone).toBe(addDays(taken.bundle.takenAt.slice(0, 10), 1));
    await tester.signInAgain('tester');
    expect((await bring(taken, body(taken, id, away))).status).toBe(201);
    expect((await view(id)).obligations[0]).toEqual(before);
  });

  it('is judged by what its device knew, and not by what was written meanwhile', async () => {
    const { id } = await suit();
    const taken = await take([id]);
    const away = await carriedOut();
    const { revision, attributes } = await view(id);
    await officer.ask('PATCH', `/api/assets/${id}`, { revision, attributes: { ...attributes, exhaustValves: { value: 3, unit: '1' } } });
    expect((await bring(taken, body(taken, id, away))).status).toBe(201);
    const { rows } = await s.connection.db.execute<{ event: RunEvent & { kind: 'opened' } }>(
      `SELECT event FROM run_event WHERE run = '${away.id}' AND seq = 1`,
    );
    expect(rows[0]?.event.assets['suit']?.attributes['exhaustValves']).toEqual({ value: 2, unit: '1' });
    expect(rows[0]?.event.away).toEqual({ along: taken.bundle.id, takenAt: taken.bundle.takenAt });
  });

  it('is doubted where a gauge of it was found out of tolerance before it came back', async () => {
    const { id } = await suit();
    const taken = await take([id]);
    const away = await carriedOut(3.3);
    const q = (value: number) => ({ value, unit: "[in_i'H2O]" });
    const given = { on: clock.now().toISOString().slice(0, 10), due: '2027-12-01', by: 'Laboratory', certificate: 'C-1', points: [{ nominal: q(0), asFound: q(0), asLeft: q(0) }, { nominal: q(4), asFound: q(4.4), asLeft: q(4) }] }; // prettier-ignore
    expect((await officer.ask('POST', `/api/instruments/${s.ids.manual}/calibrations`, given)).status).toBe(201);
    expect((await bring(taken, body(taken, id, away))).status).toBe(201);
    const { rows } = await s.connection.db.execute<{ before: string; after: string }>(`SELECT before, after FROM recalled WHERE run = '${away.id}'`);
    expect(rows.map((r) => r.before)).toEqual(['pass']);
  });
});

describe('what is handed in by a hurried, a careless or a hostile person', () => {
  it('is refused whole, and nothing of it is kept', async () => {
    const [a, b] = [await suit(), await suit()];
    const taken = await take([a.id]);
    const away = await carriedOut();
    const cases: readonly (readonly [object, string])[] = [
      [body(taken, a.id, away, { secret: 'guessed' }), 'along.unknown'],
      [body(taken, b.id, away), 'asset.unknown'],
      [body(taken, a.id, away, { events: away.events.slice(0, -1) }), 'along.open'],
      [body(taken, a.id, away, {}, { instruments: {} }), 'run.refused'],
      [body(taken, a.id, away, {}, { instruments: { suit: s.ids.logger } }), 'instrument.unknown'],
      [body(taken, a.id, away, {}, { procedure: 'brakes.whole' }), 'authorisation.none'],
      [body(taken, a.id, away, {}, { retestOf: v7() }), 'run.unknown'],
      [body(taken, a.id, away, { events: [{ id: v7(), source: 'server', n: 2, at: 0, kind: 'recorded' }] }), 'malformed'],
      [body(taken, a.id, away, { verdict: 'pass' }), 'malformed'],
    ];
    for (const [sent, code] of cases) {
      const { body: refused } = await bring(taken, sent);
      expect(refused.code).toBe(code);
      expect(await stored(away.id)).toBe(0);
    }
    // Out of order, or without the readings that a pass stands on.
    const thinned = away.events.filter((e) => e.kind !== 'reading');
    expect((await bring(taken, body(taken, a.id, away, { events: thinned }))).body.code).toBe('run.refused');
    expect((await bring(taken, body(taken, a.id, away))).status).toBe(201);
  });

  it('is taken from the device and the person that took it along, and from nobody else', async () => {
    const { id } = await suit();
    const taken = await take([id]);
    const away = await carriedOut();
    const elsewhere = await new Person(app).signIn('tester');
    expect((await bring(taken, body(taken, id, away), elsewhere)).body.code).toBe('along.notYours');
    expect((await bring(taken, body(taken, id, away), officer)).body.code).toBe('along.notYours');
    expect((await bring(taken, body(taken, id, away), reader)).status).toBe(403);
    // Another run's id is another run's.
    const here = await officer.open(s, { assets: { suit: id } });
    expect((await bring(taken, body(taken, id, away, { run: here.id }))).body.code).toBe('along.otherRun');
  });

  it('is not taken once an officer has ended it, and not when it was begun after its time', async () => {
    const [a, b] = [await suit(), await suit()];
    const first = await take([a.id]);
    const away = await carriedOut();
    const state = (t: TakenAlong, secret = t.secret) => app.inject({ method: 'POST', url: `/api/along/${t.bundle.id}/state`, payload: { secret } });
    expect((await state(first)).json()).toEqual({ state: 'inForce' });
    expect((await state(first, 'x')).statusCode).toBe(404);
    expect((await tester.ask('POST', `/api/along/${first.bundle.id}/end`)).status).toBe(403);
    expect((await officer.ask('POST', `/api/along/${first.bundle.id}/end`)).status).toBe(200);
    expect((await state(first)).json()).toEqual({ state: 'ended' });
    expect((await bring(first, body(first, a.id, away))).body.code).toBe('along.ended');
    const second = await take([b.id], 1);
    clock.ms += 2 * 3_600_000;
    await tester.signInAgain('tester');
    const late = await carriedOut();
    expect((await bring(second, body(second, b.id, late))).body.code).toBe('along.ended');
    expect((await state(second)).json()).toEqual({ state: 'ranOut' });
    // Begun in time, it is taken however late it comes.
    expect((await bring(second, body(second, b.id, late, { startedAt: second.bundle.takenAt }))).status).toBe(201);
  });

  it('begins nothing more with what the same device has taken along before, and takes what was begun with it', async () => {
    const { id } = await suit();
    const first = await take([id]);
    const away = await carriedOut();
    await take([id]);
    clock.ms += 1000;
    const late = await carriedOut();
    expect((await bring(first, body(first, id, late))).body.code).toBe('along.ended');
    expect((await bring(first, body(first, id, away))).status).toBe(201);
  });

  it('tells a device whose person is disabled', async () => {
    const { body: made } = await officer.ask<{ id: string; password: string }>('POST', '/api/people', { name: 'leaver', fullName: 'A leaver', role: 'tester' });
    await officer.ask('POST', '/api/authorisations', { account: made.id, procedures: ['suit.inflation'], until: '2027-06-01', stamp: 'L' });
    const leaver = new Person(app);
    await leaver.signInAs('leaver', made.password);
    await leaver.ask('POST', '/api/me/password', { old: made.password, password: 'a long enough word' });
    const { id } = await suit();
    const { bundle, secret } = await take([id], 12, leaver);
    expect((await officer.ask('PATCH', `/api/people/${made.id}`, { disabled: true })).status).toBe(200);
    expect((await app.inject({ method: 'POST', url: `/api/along/${bundle.id}/state`, payload: { secret } })).json()).toEqual({ state: 'disabled' });
  });
});
