import type { AssetView, RecordView, RunView } from '@grellin/contract';
import { eq } from 'drizzle-orm';
import type { FastifyInstance } from 'fastify';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { asset, bareConfig, build, obligation, recomputeStanding, refreshStanding, standing } from '../../src';
import { passedSince } from '../../src/run/clock';
import { sized } from '../../../core/test/testing/turn';
import { HeldClock, HeldSpeaker } from '../testing/speaker';
import { Pen, Person, refreshed, station, type Station } from '../testing/station';

const clock = new HeldClock('2026-11-25T08:00:00Z');
let s: Station;
let app: FastifyInstance;
let tester: Person;
let officer: Person;
beforeAll(async () => {
  s = await station({ now: clock.now() });
  app = await s.serve({}, clock);
});
// Each begins an hour later, with sessions that have not run out.
beforeEach(async () => {
  clock.ms += 3_600_000;
  tester = await new Person(app).signIn('tester');
  officer = await new Person(app).signIn('officer');
});
afterAll(() => s.close());

const speak = async (person: Person, assets: { suit: string } = { suit: s.ids.suit2 }): Promise<HeldSpeaker> =>
  new HeldSpeaker(await person.open(s, { assets }), person, clock);
const stands = async (id = s.ids.suit2) => (await tester.ask<AssetView>('GET', `/api/assets/${id}`)).body.readiness;
/** Carries a run to its end: 3.9 inH2O after four minutes is tight, 3.0 leaks. */
const finish = (speaker: HeldSpeaker, end: number) => speaker.through(end);

describe('what a pass releases', () => {
  it('a pass whose run was opened before the failure was sealed releases nothing, whatever the clocks say', async () => {
    const pass = await speak(tester);
    const fail = await speak(officer);
    await finish(fail, 3.0);
    expect(await stands()).toBe('blocked');
    // The clock of the machine is set back, then far ahead: it decides nothing.
    await finish(pass, 3.9);
    expect(await stands()).toBe('blocked');
    const again = await speak(tester);
    await finish(again, 3.9);
    expect(await stands()).not.toBe('blocked');
  });

  it('a clock set back between a failure and its retest does not keep the item blocked', async () => {
    await finish(await speak(tester), 3.0);
    expect(await stands()).toBe('blocked');
    clock.set(-3 * 3_600_000);
    await finish(await speak(tester), 3.9);
    expect(await stands()).not.toBe('blocked');
    clock.set(3 * 3_600_000);
  });

  it('under load, with failures and passes of many runs sealed at the same time, a failed item never shows as usable', async () => {
    let wrong = 0;
    const tries = sized(16, 4);
    for (let i = 0; i < tries; i++) {
      const [pass, fail] = [await speak(tester), await speak(officer)];
      for (const speaker of [pass, fail]) await speaker.toHold();
      const end = async (speaker: HeldSpeaker, value: number) => {
        await speaker.read(432, value);
        await speaker.say(433, { kind: 'ended', stage: 'inflate', attempt: 1 });
        if (value < 3.2) await speaker.leave();
        await speaker.check(434, 'aftercare', ['let-down-safe', 'plugs-out', 'zip-open', 'diaphragms-back', 'covers', 'stored']);
        await speaker.say(440, { kind: 'sealed' });
      };
      clock.ms += 440_000;
      const others = [s.ids.suit, s.ids.suit2].map((id) => officer.ask('POST', '/api/occasions', { assets: [id], kind: 'used' }));
      await Promise.all([end(pass, 3.9), end(fail, 3.0), ...others]);
      if ((await stands()) !== 'blocked') wrong++;
      expect(await recomputeStanding(s.connection.db)).toEqual([]);
      await finish(await speak(tester), 3.9);
    }
    expect(wrong).toBe(0);
  }, 120_000);

  it('a start works out what a crash or a restored copy left stale, and says which', async () => {
    await finish(await speak(tester), 3.0);
    await s.connection.db.update(standing).set({ blockedBy: null });
    expect(await stands()).not.toBe('blocked');
    const other = await build(bareConfig(s.url), clock);
    await other.ready();
    await expect.poll(() => stands(), { timeout: 10_000 }).toBe('blocked');
    await other.close();
    await s.connection.db.update(standing).set({ used: 99 });
    const stale = await recomputeStanding(s.connection.db);
    expect(stale.length).toBe((await s.connection.db.select().from(asset)).length);
    await finish(await speak(tester), 3.9);
  });
});

/** Something that others wait for. */
function gate(): { readonly open: () => void; readonly opened: Promise<void> } {
  let open = (): void => undefined;
  const opened = new Promise<void>((resolve) => (open = resolve));
  return { open, opened };
}

describe('a clock set in the middle of a run', () => {
  const gaps = async (run: string) =>
    (
      await s.connection.pool.query<{ wall: number; tick: number }>(
        "SELECT (event->>'wallMs')::int AS wall, (event->>'tickMs')::int AS tick FROM run_event WHERE run = $1 AND event->>'kind' = 'gap' ORDER BY seq",
        [run],
      )
    ).rows;
  const end = (at: number) => new Pen('bench:after').write(at, { kind: 'reading', channel: 'suit', quantity: { value: 3.9, unit: "[in_i'H2O]" } });
  const verdictOf = async (speaker: HeldSpeaker, at: number) => {
    const pen = new Pen('bench:end');
    await speaker.send([pen.write(at, { kind: 'ended', stage: 'inflate', attempt: 1 })]);
    await speaker.send([pen.write(at, { kind: 'abandoned', reason: 'for the test' })]);
    const { record } = (await tester.ask<RunView>('GET', `/api/runs/${speaker.run.id}`)).body;
    const { findings } = (await tester.ask<RecordView>('GET', `/api/records/${record ?? ''}`)).body;
    return findings.find((f) => f.stage === 'inflate')?.verdict;
  };

  it.each([-3 * 3_600_000, 3 * 3_600_000])('by %d ms bars nobody from going on, brings no minute nearer, and is written as a gap', async (by) => {
    const speaker = await speak(tester);
    await speaker.toHold();
    clock.set(by);
    const shown = async () => (await tester.ask<{ clockMs: number }>('GET', `/api/runs/${speaker.run.id}/clock`)).body.clockMs;
    expect(await shown()).toBe(192_000);
    const listed = (await tester.ask<{ id: string; clockMs: number }[]>('GET', '/api/runs')).body.find((r) => r.id === speaker.run.id);
    expect(listed?.clockMs).toBe(192_000);
    const pen = new Pen('bench:jump');
    expect((await speaker.send([pen.write(193_000, { kind: 'disturbed', note: 'the clock jumped' })])).status).toBe(201);
    // What was not waited out is refused as before.
    expect(await speaker.send([end(432_000)])).toMatchObject({ status: 409, body: { code: 'event.ahead' } });
    clock.ms += 245_000;
    expect(await shown()).toBe(437_000);
    expect((await speaker.send([end(432_000)])).status).toBe(201);
    expect(await gaps(speaker.run.id)).toEqual([{ wall: Math.max(0, by), tick: Math.max(0, -by) }]);
    clock.set(-by);
    expect(await verdictOf(speaker, 433_000)).toBe('void');
  });

  it('while the server was down is found as well: the machine’s steady clock outlives it', async () => {
    const speaker = await speak(tester);
    await speaker.toHold();
    clock.set(240_000);
    const restarted = new HeldSpeaker(speaker.run, tester.at(await s.serve({}, clock)), clock);
    expect(await restarted.send([end(432_000)])).toMatchObject({ status: 409, body: { code: 'event.ahead' } });
    clock.ms += 240_000;
    expect((await restarted.send([end(432_000)])).status).toBe(201);
    clock.set(-240_000);
    expect(await verdictOf(restarted, 433_000)).toBe('void');
  });

  it('while the machine was started anew: its hour and its database’s are no two witnesses', async () => {
    const speaker = await speak(tester);
    await speaker.toHold();
    const again = new HeldClock(clock.now().toISOString(), 'held', 'second');
    again.ms = clock.ms + 241_000;
    const there = new HeldSpeaker(speaker.run, tester.at(await s.serve({}, again)), again);
    const first = await there.send([end(432_000)]);
    expect(first).toMatchObject({ status: 409, body: { code: 'event.ahead' } });
    expect((await there.send([new Pen('bench:there').write(193_000, { kind: 'disturbed', note: 'it was started anew' })])).status).toBe(201);
    again.ms += 245_000;
    expect((await there.send([end(432_000)])).status).toBe(201);
    expect(await verdictOf(there, 433_000)).toBe('void');
  });

  it('at another machine than the last event was stored by: the lesser of its hour and the database’s counts, and where they part nothing was measured', async () => {
    const speaker = await speak(tester);
    await speaker.toHold();
    const elsewhere = new HeldClock(clock.now().toISOString(), 'another');
    const there = new HeldSpeaker(speaker.run, tester.at(await s.serve({}, elsewhere)), elsewhere);
    // Its hour is four minutes ahead, the database's is not.
    elsewhere.ms += 240_000;
    expect(await there.send([end(432_000)])).toMatchObject({ status: 409, body: { code: 'event.ahead' } });
    expect(await there.send([new Pen('bench:there').write(193_000, { kind: 'disturbed', note: 'at the other one' })])).toMatchObject({ status: 201 });
    expect(await gaps(speaker.run.id)).toMatchObject([{ tick: 0 }]);
    // From here on its own steady clock counts.
    elsewhere.ms += 245_000;
    expect((await there.send([end(432_000)])).status).toBe(201);
    expect(await gaps(speaker.run.id)).toHaveLength(1);
    expect(await verdictOf(there, 433_000)).toBe('void');
  });
});

describe('what passed since an event was stored', () => {
  const seen = { host: 'one', start: 'first', steadyMs: 5_000, wallMs: 1_000_000, databaseMs: 2_000_000 };
  const now = (host: string, steadyMs: number, wallMs: number, start = 'first') => ({ host, start, steadyMs, wallMs });
  const from = (databaseMs: number | null) => ({ startedMs: 940_000, clockMs: 60_000, databaseMs });
  it.each([
    ['the steady clock tells at the same machine', now('one', 15_000, 1_010_000), null, { atMs: 70_000, stepMs: 0 }],
    ['a hair’s breadth is no step', now('one', 15_000, 1_010_900), null, { atMs: 70_000, stepMs: 0 }],
    ['the hour was set ahead', now('one', 15_000, 1_250_000), null, { atMs: 70_000, stepMs: 240_000 }],
    ['the hour was set back', now('one', 15_000, 900_000), null, { atMs: 70_000, stepMs: -110_000 }],
    ['the machine slept', now('one', 6_000, 1_600_000), null, { atMs: 61_000, stepMs: 599_000 }],
    [
      'the machine was started anew: its hour and its database’s say the same, and nobody knows',
      now('one', 77, 1_010_000, 'second'),
      2_010_000,
      { atMs: 70_000, stepMs: 10_000 },
    ],
    ['the same at once', now('one', 77, 1_000_000, 'second'), 2_000_000, { atMs: 60_000, stepMs: 1 }],
    ['two machines and the database agree', now('two', 77, 1_010_000), 2_010_300, { atMs: 70_000, stepMs: 0 }],
    ['another machine’s hour is ahead', now('two', 77, 1_250_000), 2_010_000, { atMs: 70_000, stepMs: 240_000 }],
    ['the database’s clock is ahead', now('two', 77, 1_010_000), 2_250_000, { atMs: 70_000, stepMs: 240_000 }],
    ['another machine’s hour is back', now('two', 77, 900_000), 2_010_000, { atMs: 60_000, stepMs: -100_000 }],
  ])('%s', (_what, reading, databaseMs, expected) => {
    expect(passedSince(seen, reading, from(databaseMs))).toEqual(expected);
  });
  it('a run of the edition before is counted from its beginning', () => {
    expect(passedSince(null, now('one', 1, 1_010_000), { startedMs: 1_000_000, clockMs: 0, databaseMs: null })).toEqual({ atMs: 10_000, stepMs: 0 });
  });
});

describe('changes that overlap', () => {
  it('the same events, sent again and again at the same moment, are stored once, and every sender is told where', async () => {
    const speaker = await speak(tester);
    const pen = new Pen('bench:again');
    const lots = Array.from({ length: 4 }, (_, i) => [0, 1, 2].map((k) => pen.write(0, { kind: 'disturbed', note: `${String(i)} ${String(k)}` })));
    for (const lot of lots) {
      const told = await Promise.all(Array.from({ length: 8 }, () => speaker.send(lot)));
      expect(told.map((t) => t.status)).toEqual(new Array(8).fill(201));
      expect(new Set(told.map((t) => JSON.stringify(t.body))).size).toBe(1);
    }
    const { rows } = await s.connection.pool.query<{ n: string }>('SELECT count(*) AS n FROM run_event WHERE run = $1', [speaker.run.id]);
    expect(Number(rows[0]?.n)).toBe(1 + 12);
  });

  it('the one that waits works with what the other has written, not with what stood there before', async () => {
    const { db } = s.connection;
    const turn = gate();
    const written = gate();
    const first = db.transaction(async (tx) => {
      await tx.update(obligation).set({ due: '2031-05-06' }).where(eq(obligation.asset, s.ids.suit));
      await refreshStanding(tx, [s.ids.suit]);
      written.open();
      await turn.opened;
    });
    await written.opened;
    const second = refreshed(db, [s.ids.suit]);
    // The second has begun and waits: without the lock it would have read by now.
    await expect.poll(async () => (await s.connection.pool.query('SELECT 1 FROM pg_locks WHERE NOT granted')).rowCount).toBeGreaterThan(0);
    turn.open();
    await Promise.all([first, second]);
    expect((await db.select().from(standing).where(eq(standing.asset, s.ids.suit)))[0]).toMatchObject({ due: '2031-05-06' });
  });

  it('in any order, all at once, wait for one another and end: none is lost to a deadlock', async () => {
    const ids = Object.values(s.ids).slice(0, 3);
    const work = Array.from({ length: 24 }, (_, i) => {
      const turned = [...ids.slice(i % 3), ...ids.slice(0, i % 3)];
      return i % 2 === 0
        ? officer.ask('POST', '/api/assets/bulk', { assets: turned, place: `Place ${String(i)}` })
        : officer.ask('POST', '/api/occasions', { assets: turned, kind: 'used' });
    });
    const statuses = (await Promise.all(work)).map((w) => w.status);
    expect(statuses.filter((n) => n >= 500)).toEqual([]);
    expect(await recomputeStanding(s.connection.db)).toEqual([]);
  });
});

describe('a lease', () => {
  const note = (speaker: HeldSpeaker, at = 500) => speaker.event(at, { kind: 'disturbed', note: 'a door' });
  const post = (person: Person, run: RunView, body: Record<string, unknown>) => person.ask('POST', `/api/runs/${run.id}/events`, body);

  it('is a secret: nobody writes under another’s, and a number alone opens nothing', async () => {
    const speaker = await speak(tester);
    const secret = tester.secrets.get(`${speaker.run.id}:1`) ?? '';
    expect(secret.length).toBeGreaterThan(30);
    const events = [note(speaker)];
    expect(await post(officer, speaker.run, { lease: 1, events })).toMatchObject({ status: 403, body: { code: 'lease.notYours' } });
    expect(await post(officer, speaker.run, { lease: 1, secret, events })).toMatchObject({ status: 403, body: { code: 'lease.notYours' } });
    expect(await post(tester, speaker.run, { lease: 1, secret: 'x'.repeat(32), events })).toMatchObject({ status: 403, body: { code: 'lease.notYours' } });
    expect(await post(tester, speaker.run, { lease: 2, secret, events })).toMatchObject({ status: 409, body: { code: 'lease.newer' } });
    expect((await tester.ask('GET', `/api/runs/${speaker.run.id}`)).body).not.toHaveProperty('secret');
    expect((await post(tester, speaker.run, { lease: 1, events })).status).toBe(201);
    const { rows } = await s.connection.pool.query('SELECT * FROM run_lease WHERE secret_hash = $1', [secret]);
    expect(rows).toEqual([]);
  });

  it('is good at the device that it was given to, and at no other of the same person', async () => {
    const speaker = await speak(tester);
    const elsewhere = await new Person(app).signIn('tester');
    const secret = tester.secrets.get(`${speaker.run.id}:1`) ?? '';
    expect(await post(elsewhere, speaker.run, { lease: 1, secret, events: [note(speaker)] })).toMatchObject({ status: 403, body: { code: 'lease.notYours' } });
  });

  it('is nothing any more when the authorisation has been withdrawn: neither a reading nor the seal gets through', async () => {
    const speaker = await speak(tester);
    await speaker.toHold();
    await s.connection.pool.query(
      "UPDATE authorisation SET withdrawn_at = now() WHERE procedure = 'suit.inflation' AND account = (SELECT id FROM account WHERE name = 'tester')",
    );
    expect(await speaker.send([speaker.event(432, { kind: 'reading', channel: 'suit', quantity: { value: 3.9, unit: "[in_i'H2O]" } })])).toMatchObject({
      status: 403,
      body: { code: 'authorisation.none' },
    });
    expect(await speaker.send([speaker.event(440, { kind: 'sealed' })])).toMatchObject({ status: 403, body: { code: 'authorisation.none' } });
    await s.connection.pool.query("UPDATE authorisation SET withdrawn_at = NULL WHERE procedure = 'suit.inflation'");
  });

  it('that is old brings late notes, which are kept and are no part of the record', async () => {
    const speaker = await speak(tester);
    const taken = await officer.ask<{ lease: number }>('POST', `/api/runs/${speaker.run.id}/lease`);
    const late = speaker.event(2, { kind: 'amended', note: 'it was another suit' });
    expect((await speaker.send([late])).status).toBe(201);
    const theirs = new HeldSpeaker(speaker.run, officer, clock, taken.body.lease);
    await theirs.say(3, { kind: 'amended', note: 'the bag was new' });
    await theirs.say(4, { kind: 'abandoned', reason: 'for the test' });
    const { record } = (await officer.ask<RunView>('GET', `/api/runs/${speaker.run.id}`)).body;
    const { reasons } = (await officer.ask<{ reasons: { reason: string }[] }>('GET', `/api/records/${record ?? ''}`)).body;
    expect(reasons.map((g) => g.reason)).toEqual(['the bag was new', 'for the test']);
  });

  it('refuses one event twice in a batch, and writes neither', async () => {
    const speaker = await speak(tester);
    const one = note(speaker);
    expect(await speaker.send([one, one])).toMatchObject({ status: 400, body: { code: 'event.twice' } });
    const { rows } = await s.connection.pool.query('SELECT 1 FROM run_event WHERE run = $1', [speaker.run.id]);
    expect(rows).toHaveLength(1);
  });
});
