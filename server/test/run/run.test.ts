import type { InstrumentRow, RunView, TodayView } from '@grellin/contract';
import { addDays } from '@grellin/core';
import { eq } from 'drizzle-orm';
import type { FastifyInstance } from 'fastify';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { asset, firstBroken, runEvent, type Config } from '../../src';
import { HeldClock, HeldSpeaker } from '../testing/speaker';
import { Pen, Person, station, type Station } from '../testing/station';

const inH2O = "[in_i'H2O]";
let s: Station;
let app: FastifyInstance;
let tester: Person;
let officer: Person;
/** The server's clock, which these tests hold: a minute passes when it is turned on. */
const clock = new HeldClock('2026-11-25T08:00:00Z');
const serve = (more: Partial<Config> = {}) => s.serve(more, clock);

beforeAll(async () => {
  s = await station({ now: clock.now() });
  app = await serve();
  tester = await new Person(app).signIn('tester');
  officer = await new Person(app).signIn('officer');
});
afterAll(() => s.close());
beforeEach(() => {
  clock.ms += 60_000;
});

/** Says things in a run by the clock that these tests hold. */
class Speaker extends HeldSpeaker {
  constructor(run: RunView, person = tester, lease = run.lease) {
    super(run, person, clock, lease);
  }
}

const chainOf = async (id: string) =>
  (await s.connection.db.select().from(runEvent).where(eq(runEvent.run, id)).orderBy(runEvent.seq)).map(
    ({ run, seq, lease, late, by, storedAt, previous, hash, event, version }) => ({
      version,
      run,
      seq,
      lease,
      late,
      by,
      previous,
      hash,
      event,
      storedAt: storedAt.toISOString(),
    }),
  );

describe('a run of typed readings', () => {
  it('passes, is recorded, moves the due date and has a certificate', async () => {
    const speaker = new Speaker(await tester.open(s));
    await speaker.through(3.6);
    const view = (await tester.ask<RunView>('GET', `/api/runs/${speaker.run.id}`)).body;
    expect(view).toMatchObject({ closed: true, clock: 'live' });
    const { body: record } = await tester.ask('GET', `/api/records/${view.record ?? ''}`);
    const day = new Date(clock.ms).toISOString().slice(0, 10);
    expect(record).toMatchObject({
      verdict: 'pass',
      word: 'tight',
      blocks: false,
      simulated: false,
      allowancePercent: 51,
      nextDue: addDays(day, 365),
      disposition: `Passed this test. On ${day} the item may be used: Gas-tight suit, inflation test: due in 365 days.`,
    });
    const pdf = await tester.ask('GET', `/api/records/${view.record ?? ''}/certificate.pdf`);
    expect(pdf.raw.subarray(0, 5).toString()).toBe('%PDF-');
    expect((await tester.ask('GET', `/api/assets/${s.ids.suit}`)).body).toMatchObject({ readiness: 'ready', due: addDays(day, 365) });
  });

  it('fails, blocks the asset, leaves the due date, and a later pass releases it', async () => {
    await new Speaker(await tester.open(s)).through(3.0);
    const blocked = await tester.ask('GET', `/api/assets/${s.ids.suit}`);
    expect(blocked.body).toMatchObject({ readiness: 'blocked', due: '2027-11-25' });
    expect(String(blocked.body['why'])).toContain('4.02 − 3.00 = 1.02 inH2O in 4 min');
    expect((await tester.ask<TodayView>('GET', '/api/today')).body.blocked.rows.map((a) => a.tag)).toEqual(['GS-01']);
    await new Speaker(await tester.open(s)).through(3.7);
    expect((await tester.ask('GET', `/api/assets/${s.ids.suit}`)).body).toMatchObject({ readiness: 'ready' });
  });

  it('blocks as soon as a look has failed, before the run is closed, and stays blocked when it is abandoned', async () => {
    const speaker = new Speaker(await tester.open(s, { assets: { suit: s.ids.suit2 } }));
    await speaker.check(1, 'gather', ['serial', 'flat', 'adapters']);
    await speaker.say(2, { kind: 'began', stage: 'look', attempt: 1 });
    await speaker.say(3, { kind: 'answered', item: 'sound', answer: 'no', reason: 'a cut in the boot' });
    await speaker.say(4, { kind: 'ended', stage: 'look', attempt: 1 });
    expect((await tester.ask('GET', `/api/assets/${s.ids.suit2}`)).body).toMatchObject({ readiness: 'blocked', why: 'failed in a run that is still open' });
    await speaker.say(5, { kind: 'abandoned', reason: 'needs repair' });
    expect((await tester.ask('GET', `/api/assets/${s.ids.suit2}`)).body).toMatchObject({ readiness: 'blocked', last: { verdict: 'fail' } });
  });
});

describe('the chain', () => {
  it('is whole, and one changed byte is found', async () => {
    const speaker = new Speaker(await tester.open(s));
    await speaker.through(3.8);
    const chain = await chainOf(speaker.run.id);
    expect(firstBroken(chain)).toBeNull();
    const forged = structuredClone(chain);
    const reading = forged.find((e) => e.event.kind === 'reading' && e.event.quantity.value === 3.8);
    if (reading?.event.kind === 'reading') reading.event = { ...reading.event, quantity: { value: 3.9, unit: inH2O } };
    expect(firstBroken(forged)).toBe(reading?.seq);
    expect(firstBroken(chain.slice(0, 3).concat(chain.slice(4)))).toBe(5);
  });

  it('cannot be changed by the application’s role', async () => {
    for (const sql of [
      'UPDATE run_event SET late = true',
      'DELETE FROM run_event',
      'UPDATE record SET verdict = $$pass$$',
      'DELETE FROM record',
      'TRUNCATE run_event',
      'UPDATE procedure SET edition = $$2$$',
    ])
      await expect(s.connection.pool.query(sql)).rejects.toThrow('permission denied');
  });

  it('takes the same event twice without harm, and another under its id not at all', async () => {
    const speaker = new Speaker(await tester.open(s));
    const event = speaker.event(1, { kind: 'began', stage: 'gather', attempt: 1 });
    const first = await speaker.send([event]);
    expect((await speaker.send([event])).body).toEqual(first.body);
    expect(await speaker.send([{ ...event, at: event.at + 1 }])).toMatchObject({ status: 409, body: { code: 'event.otherContent' } });
    expect(await chainOf(speaker.run.id)).toHaveLength(2);
  });

  it('keeps all of a batch or none', async () => {
    const speaker = new Speaker(await tester.open(s));
    const good = speaker.event(1, { kind: 'began', stage: 'gather', attempt: 1 });
    const bad = speaker.event(2, { kind: 'sealed' });
    expect(await speaker.send([good, bad])).toMatchObject({ status: 409, body: { code: 'run.refused', values: { refusal: 'seal.unfinished' } } });
    expect(await chainOf(speaker.run.id)).toHaveLength(1);
  });

  it('keeps late events of an old lease, and never folds them in', async () => {
    const speaker = new Speaker(await tester.open(s));
    await speaker.say(1, { kind: 'began', stage: 'gather', attempt: 1 });
    const taken = await officer.ask<{ lease: number }>('POST', `/api/runs/${speaker.run.id}/lease`);
    expect(taken.body.lease).toBe(2);
    expect((await speaker.send([speaker.event(2, { kind: 'answered', item: 'serial', answer: 'no', reason: 'late' })])).status).toBe(201);
    const chain = await chainOf(speaker.run.id);
    expect(chain.at(-1)).toMatchObject({ late: true, lease: 1 });
    expect(firstBroken(chain)).toBeNull();
    const pen = new Pen('bench:other');
    const answer = pen.write(3000, { kind: 'answered', item: 'serial', answer: 'yes' });
    clock.ms += 5000;
    expect((await officer.ask('POST', `/api/runs/${speaker.run.id}/events`, { lease: 2, events: [answer] })).status).toBe(201);
    expect(
      (await officer.ask('POST', `/api/runs/${speaker.run.id}/events`, { lease: 9, events: [pen.write(4000, { kind: 'disturbed', note: 'x' })] })).body,
    ).toMatchObject({ code: 'lease.newer' });
  });

  it('orders two writers at once under the run’s lock', async () => {
    const run = await tester.open(s);
    clock.ms += 60_000;
    const pens = [new Pen('bench:a'), new Pen('bench:b'), new Pen('bench:c')];
    const replies = await Promise.all(
      pens
        .flatMap((p) => [1, 2, 3].map((i) => p.write(i * 1000, { kind: 'disturbed', note: `n${i}` })))
        .map((e) => tester.ask('POST', `/api/runs/${run.id}/events`, { lease: 1, events: [e] })),
    );
    const chain = await chainOf(run.id);
    expect(firstBroken(chain)).toBeNull();
    expect(chain).toHaveLength(1 + replies.filter((r) => r.status === 201).length);
  });
});

describe('time', () => {
  it('refuses an event that is ahead of the clock: a minute that was not waited out is no result', async () => {
    const run = await tester.open(s);
    const pen = new Pen();
    expect(
      await tester.ask('POST', `/api/runs/${run.id}/events`, { lease: 1, events: [pen.write(240_000, { kind: 'began', stage: 'gather', attempt: 1 })] }),
    ).toMatchObject({ status: 409, body: { code: 'event.ahead' } });
  });

  it('does not end a hold before its time', async () => {
    const speaker = new Speaker(await tester.open(s));
    await speaker.toHold();
    await speaker.read(431, 3.6);
    expect(await speaker.send([speaker.event(431.5, { kind: 'ended', stage: 'inflate', attempt: 1 })])).toMatchObject({
      status: 409,
      body: { values: { refusal: 'hold.notOver' } },
    });
  });

  it('goes on with the same run on another server', async () => {
    const speaker = new Speaker(await tester.open(s));
    await speaker.toHold();
    const other = await serve();
    const there = tester.at(other);
    const end = [
      speaker.event(432, { kind: 'reading', channel: 'suit', quantity: { value: 3.6, unit: inH2O } }),
      speaker.event(433, { kind: 'ended', stage: 'inflate', attempt: 1 }),
    ];
    expect((await there.ask('POST', `/api/runs/${speaker.run.id}/events`, { lease: 1, events: end })).status).toBe(201);
    await speaker.check(434, 'aftercare', ['let-down-safe', 'plugs-out', 'zip-open', 'diaphragms-back', 'covers', 'stored']);
    await speaker.say(440, { kind: 'sealed' });
    expect((await there.ask<RunView>('GET', `/api/runs/${speaker.run.id}`)).body.closed).toBe(true);
  });
});

describe('opening a run', () => {
  const refused = async (more: Record<string, unknown>) =>
    (
      await tester.ask('POST', '/api/runs', {
        procedure: 'suit.inflation',
        ruleSet: 'in-h2o-4',
        assets: { suit: s.ids.suit },
        instruments: { suit: s.ids.manual },
        ...more,
      })
    ).body['code'];

  it('refuses what does not fit', async () => {
    const none = '01a21210-5165-73ba-a61a-96e6123016d0';
    expect(await refused({ procedure: 'kite.flight' })).toBe('procedure.unknown');
    expect(await refused({ ruleSet: 'elsewhere' })).toBe('run.planRefused');
    expect(await refused({ assets: { suit: none } })).toBe('asset.unknown');
    expect(await refused({ assets: { suit: s.ids.truck } })).toBe('run.classWrong');
    expect(await refused({ instruments: {} })).toBe('run.refused');
    expect(await refused({ instruments: { suit: none } })).toBe('instrument.unknown');
    expect(await refused({ instruments: { suit: s.ids.dash } })).toBe('instrument.unfit');
    expect(await refused({ instruments: { suit: s.ids.logger } })).toBe('instrument.unreachable');
    expect(
      await refused({
        procedure: 'brakes.applied-loss',
        ruleSet: 'build-from-low',
        assets: { vehicle: s.ids.truck },
        instruments: { primary: s.ids.dash, secondary: s.ids.dash2 },
      }),
    ).toBe('run.planRefused');
  });

  it('reads what the item itself has: an engine gauge that is fitted is not left out for a word', async () => {
    const unit = '/min';
    const fit = { tag: 'TR-01 engine', title: 'Tachometer', fittedTo: s.ids.truck, low: { value: 0, unit }, high: { value: 3000, unit }, resolution: { value: 10, unit }, accuracy: { value: 20, unit }, correlation: 0, calibrationDue: null, address: null, rig: null }; // prettier-ignore
    const open = (more: Record<string, string>) =>
      tester.ask<{ id: string; code?: string; values?: unknown }>('POST', '/api/runs', {
        procedure: 'brakes.applied-loss', ruleSet: 'single', assets: { vehicle: s.ids.truck }, instruments: { primary: s.ids.dash, secondary: s.ids.dash2, ...more },
      }); // prettier-ignore
    expect((await open({})).status).toBe(201);
    const engine = (await officer.ask<{ id: string }>('POST', '/api/instruments', fit)).body.id;
    expect((await open({})).body).toMatchObject({ code: 'instrument.leftOut', values: { channel: 'engine', instrument: 'TR-01 engine' } });
    expect((await open({ engine })).status).toBe(201);
    // One that was taken out of use is not asked for.
    await s.connection.db.update(asset).set({ archivedAt: new Date() }).where(eq(asset.id, engine));
    expect((await open({})).status).toBe(201);
  });

  it('an instrument out of calibration makes the run void, and a void run blocks nothing and releases nothing', async () => {
    await s.connection.db.update(asset).set({ practice: false }).where(eq(asset.id, s.ids.suit));
    const speaker = new Speaker(await tester.open(s, { instruments: { suit: s.ids.expired } }));
    await speaker.through(3.6);
    const { record } = (await tester.ask<RunView>('GET', `/api/runs/${speaker.run.id}`)).body;
    expect((await tester.ask('GET', `/api/records/${record ?? ''}`)).body).toMatchObject({ verdict: 'void', blocks: false, nextDue: null });
  });

  it('copies what was known, so that later changes to the register change no record', async () => {
    const speaker = new Speaker(await tester.open(s));
    await s.connection.db
      .update(asset)
      .set({ attributes: { openFaced: true, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } })
      .where(eq(asset.id, s.ids.suit));
    await speaker.through(3.6);
    await s.connection.db
      .update(asset)
      .set({ attributes: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, adapters: { value: 2, unit: '1' } } })
      .where(eq(asset.id, s.ids.suit));
    const { record } = (await tester.ask<RunView>('GET', `/api/runs/${speaker.run.id}`)).body;
    expect((await tester.ask('GET', `/api/records/${record ?? ''}`)).body).toMatchObject({ verdict: 'pass' });
  });

  it('only an officer adds a note to a closed run, and nobody anything else', async () => {
    const speaker = new Speaker(await tester.open(s));
    await speaker.say(1, { kind: 'abandoned', reason: 'wrong suit' });
    const note = new Pen('bench:note').write(2000, { kind: 'amended', note: 'the tag was swapped' });
    clock.ms += 5000;
    expect(await tester.ask('POST', `/api/runs/${speaker.run.id}/events`, { lease: 1, events: [note] })).toMatchObject({ status: 403 });
    expect((await officer.ask('POST', `/api/runs/${speaker.run.id}/events`, { lease: 1, events: [note] })).status).toBe(201);
    const { record } = (await tester.ask<RunView>('GET', `/api/runs/${speaker.run.id}`)).body;
    expect((await tester.ask('GET', `/api/records/${record ?? ''}`)).body).toMatchObject({
      verdict: 'undecided',
      reasons: [
        { said: 'The run: abandoned', reason: 'wrong suit' },
        { said: 'Note', reason: 'the tag was swapped', by: 'The officer' },
      ],
    });
    expect((await speaker.send([speaker.event(9, { kind: 'disturbed', note: 'x' })])).body).toMatchObject({ values: { refusal: 'run.closed' } });
  });

  it('names the run that has an instrument', async () => {
    const { body } = await tester.ask<InstrumentRow[]>('GET', '/api/instruments');
    expect(body.find((i) => i.tag === 'PL-01')).toMatchObject({ inUseBy: null, streams: true, simulated: true });
  });
});
