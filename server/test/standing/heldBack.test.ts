import type { AssetView, RecordView, RunView, TodayView } from '@grellin/contract';
import { addDays } from '@grellin/core';
import { eq } from 'drizzle-orm';
import type { FastifyInstance } from 'fastify';
import pg from 'pg';
import { v7 } from 'uuid';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { obligation, record, run } from '../../src';
import { HeldClock, HeldSpeaker } from '../testing/speaker';
import { passedOn, Person, refreshed, station, type Station } from '../testing/station';

const clock = new HeldClock('2026-11-25T08:00:00Z');
const today = '2026-11-25';
let s: Station;
let app: FastifyInstance;
let tester: Person;
let officer: Person;
beforeAll(async () => {
  s = await station({ now: clock.now() });
  app = await s.serve({}, clock);
  await passedOn(s.connection.db, s.ids.suit, '2026-01-02');
});
beforeEach(async () => {
  clock.ms += 600_000;
  tester = await new Person(app).signIn('tester');
  officer = await new Person(app).signIn('officer');
});
afterAll(() => s.close());

const item = async (id = s.ids.suit): Promise<AssetView> => (await tester.ask<AssetView>('GET', `/api/assets/${id}`)).body;
const speak = async (id = s.ids.suit): Promise<HeldSpeaker> => new HeldSpeaker(await tester.open(s, { assets: { suit: id } }), tester, clock);
const recordOf = async (run: RunView): Promise<RecordView> => {
  const [found] = await s.connection.db.select({ number: record.number }).from(record).where(eq(record.run, run.id));
  return (await tester.ask<RecordView>('GET', `/api/records/${found?.number ?? ''}`)).body;
};
const isToday = async (list: 'heldBack' | 'neverTested' | 'condemned'): Promise<string[]> =>
  (await tester.ask<TodayView>('GET', '/api/today')).body[list].rows.map((r) => r.tag);
describe('a test without a result', () => {
  it('holds the item back from the moment it is begun, whatever it passed before', async () => {
    expect((await item()).readiness).toBe('due');
    const speaker = await speak();
    await speaker.check(1, 'gather', ['serial', 'flat', 'adapters']);
    expect((await item()).readiness).toBe('due');
    await (await speak(s.ids.suit2)).toFill();
    await speaker.say(10, { kind: 'abandoned', reason: 'called away before anything was under pressure' });
    expect(await item()).toMatchObject({ readiness: 'due' });
    expect(await recordOf(speaker.run)).toMatchObject({ holds: false, disposition: 'Settles nothing: it ended before the item was put to its test.' });
  });

  it('abandoned while it never filled, keeps the item back until it passes or an officer lifts it with a reason', async () => {
    const speaker = await speak();
    await speaker.toFill();
    expect(await item()).toMatchObject({ readiness: 'heldBack', why: 'its test was begun and is not finished' });
    expect(await isToday('heldBack')).toContain('GS-01');
    await speaker.read(120, 1.1);
    await speaker.say(130, { kind: 'abandoned', reason: 'hole in the left glove' });
    expect((await item()).readiness).toBe('heldBack');
    const kept = await recordOf(speaker.run);
    expect(kept).toMatchObject({ holds: true, blocks: false, lifted: null });
    expect(kept.disposition).toContain('Held back');
    const tag = await tester.ask('GET', `/api/records/${kept.number}/tag.pdf`);
    expect(tag.status).toBe(200);
    // Nobody but an officer lifts it, not without a reason, and not twice.
    expect((await tester.ask('POST', `/api/records/${kept.number}/lift`, { reason: 'looks fine' })).body).toMatchObject({ code: 'role.tooLow' });
    expect((await officer.ask('POST', `/api/records/${kept.number}/lift`, { reason: '' })).body).toMatchObject({ code: 'malformed' });
    expect((await item()).readiness).toBe('heldBack');
    expect((await officer.ask('POST', `/api/records/${kept.number}/lift`, { reason: 'the hose had come off; filled at once afterwards' })).status).toBe(204);
    expect((await item()).readiness).toBe('due');
    expect((await recordOf(speaker.run)).disposition).toContain('lifted by The officer on 2026-11-25: the hose had come off');
    expect((await officer.ask('POST', `/api/records/${kept.number}/lift`, { reason: 'again' })).body).toMatchObject({ code: 'hold.lifted' });
  });

  it('is released by a pass that was opened afterwards, and by no other', async () => {
    const early = await speak();
    const speaker = await speak();
    await speaker.toFill();
    await speaker.say(130, { kind: 'abandoned', reason: 'it does not fill' });
    await early.through(3.9);
    expect((await item()).readiness).toBe('heldBack');
    expect((await recordOf(early.run)).disposition).toContain('still may not be used');
    await (await speak()).through(3.9);
    expect((await item()).readiness).toBe('ready');
  });

  it('a run that has everything and is abandoned is no pass', async () => {
    const speaker = await speak();
    await speaker.toHold();
    await speaker.read(432, 3.9);
    await speaker.say(433, { kind: 'ended', stage: 'inflate', attempt: 1 });
    await speaker.check(434, 'aftercare', ['let-down-safe', 'plugs-out', 'zip-open', 'diaphragms-back', 'covers', 'stored']);
    await speaker.say(440, { kind: 'abandoned', reason: 'changed my mind' });
    expect(await recordOf(speaker.run)).toMatchObject({ verdict: 'undecided', holds: true });
    expect((await item()).readiness).toBe('heldBack');
    await (await speak()).through(3.9);
  });

  it('what failed cannot be lifted', async () => {
    const speaker = await speak();
    await speaker.through(3.0);
    const kept = await recordOf(speaker.run);
    expect((await officer.ask('POST', `/api/records/${kept.number}/lift`, { reason: 'I say so' })).body).toMatchObject({ code: 'hold.failed' });
    expect((await item()).readiness).toBe('blocked');
    await (await speak()).through(3.9);
    const passed = await speak();
    await passed.through(3.9);
    expect((await officer.ask('POST', `/api/records/${(await recordOf(passed.run)).number}/lift`, { reason: 'I say so' })).body).toMatchObject({
      code: 'hold.none',
    });
    expect((await officer.ask('POST', '/api/records/GR-1999-00001/lift', { reason: 'I say so' })).body).toMatchObject({ code: 'record.unknown' });
  });
});

describe('whose rules release', () => {
  it('a pass by other rules than those that failed releases nothing, unless the item owes that test', async () => {
    await (await speak()).through(3.0);
    expect((await item()).readiness).toBe('blocked');
    const passed = await speak();
    await passed.through(3.9);
    expect((await item()).readiness).toBe('ready');
    // The same pass, had it been opened by the rules of another school.
    const byRules = async (ruleSet: string): Promise<string> => {
      await s.connection.db.update(run).set({ ruleSet }).where(eq(run.id, passed.run.id));
      await refreshed(s.connection.db, [s.ids.suit]);
      return (await item()).readiness;
    };
    expect(await byRules('easier')).toBe('blocked');
    const owe = (ruleSet: string) => s.connection.db.update(obligation).set({ ruleSet }).where(eq(obligation.asset, s.ids.suit));
    await owe('easier');
    expect(await byRules('easier')).toBe('ready');
    await owe('in-h2o-4');
    expect(await byRules('easier')).toBe('blocked');
    expect(await byRules('in-h2o-4')).toBe('ready');
  });
});

describe('whose rules settle', () => {
  it('a pass by other rules than those that are owed moves no due date: nobody is ready by the easier school', async () => {
    const owed = async () => (await s.connection.db.select().from(obligation).where(eq(obligation.asset, s.ids.suit)))[0];
    const owe = (ruleSet: string) => s.connection.db.update(obligation).set({ ruleSet }).where(eq(obligation.asset, s.ids.suit));
    await s.connection.db.update(obligation).set({ lastDone: '2026-01-02', due: '2027-01-02' }).where(eq(obligation.asset, s.ids.suit));
    await owe('mbar-16.5');
    const before = await owed();
    const passed = await speak(s.ids.suit);
    await passed.through(3.9);
    expect(await recordOf(passed.run)).toMatchObject({ verdict: 'pass', nextDue: null });
    expect(await owed()).toEqual(before);
    await owe('in-h2o-4');
    const again = await speak(s.ids.suit);
    await again.through(3.9);
    expect((await owed())?.lastDone).toBe(today);
    expect((await recordOf(again.run)).nextDue).toBe((await owed())?.due);
  });
});

describe('a retest', () => {
  it('is of the same item by the same procedure', async () => {
    const failed = await speak();
    await failed.through(3.0);
    const again = (retestOf: string, suit = s.ids.suit) =>
      tester.ask('POST', '/api/runs', { procedure: 'suit.inflation', ruleSet: 'in-h2o-4', assets: { suit }, instruments: { suit: s.ids.manual }, retestOf });
    expect((await again(v7())).body).toMatchObject({ code: 'run.unknown' });
    expect((await again(failed.run.id, s.ids.suit2)).body).toMatchObject({ code: 'run.retestOther' });
    const by = (procedure: string) => s.connection.db.update(run).set({ procedure }).where(eq(run.id, failed.run.id));
    await by('suit.other');
    expect((await again(failed.run.id)).body).toMatchObject({ code: 'run.retestOther', message: expect.stringContaining('another procedure') as string });
    await by('suit.inflation');
    await (await speak()).through(3.9);
  });
});

describe('what was never tested', () => {
  const add = async (tag: string, more: Record<string, unknown> = {}) =>
    (await officer.ask<{ id: string }>('POST', '/api/assets', { tag, serial: `S-${tag}`, class: 'cylinder', title: 'Cylinder', place: 'Rack', practice: false, attributes: {}, ...more })).body.id; // prettier-ignore

  it('is not ready, whatever it owes and whenever that falls due', async () => {
    const id = await add('CY-N1');
    expect(await item(id)).toMatchObject({ readiness: 'neverTested', why: 'not yet tested' });
    await officer.ask('POST', `/api/assets/${id}/usual`);
    expect((await item(id)).readiness).toBe('neverTested');
    expect(await isToday('neverTested')).toContain('CY-N1');
    await passedOn(s.connection.db, id, today);
    expect((await item(id)).readiness).toBe('ready');
  });

  it('owes what comes round in years from when it was made: a cylinder of 2021-03 by 2026-03', async () => {
    const id = await add('CY-N2', { madeOn: '2021-03' });
    await officer.ask('POST', `/api/assets/${id}/usual`);
    const owed = await s.connection.db.select({ procedure: obligation.procedure, due: obligation.due }).from(obligation).where(eq(obligation.asset, id));
    expect(Object.fromEntries(owed.map((o) => [o.procedure, o.due]))).toEqual({ 'cyl.water-jacket': '2026-03-31', 'cyl.visual': '2022-03-01' });
    expect((await item(id)).readiness).toBe('overdue');
  });

  it('what it passed before it owed it counts', async () => {
    const made = await tester.open(s, { assets: { suit: s.ids.suit2 } });
    await new HeldSpeaker(made, tester, clock).through(3.9);
    const given = { asset: s.ids.suit2, procedure: 'suit.inflation', ruleSet: 'in-h2o-4', interval: 'P1Y', counting: 'rolling', anchor: '2020-01-01' };
    expect((await officer.ask('POST', '/api/obligations', given)).body).toMatchObject({ lastDone: today, due: '2027-11-25' });
  });
});

describe('what is condemned', () => {
  const condemned = async (): Promise<void> => {
    // As its record would say of a cylinder that stretched beyond what it may; the server's own role could not write it.
    const owner = new pg.Client({ connectionString: s.url });
    await owner.connect();
    await owner.query('UPDATE record SET condemns = true WHERE asset = $1', [s.ids.suit]);
    await owner.end();
    await refreshed(s.connection.db, [s.ids.suit]);
  };
  it('stays so for ever: nothing is opened or filled, no pass or lift takes it back, and it says how it was put beyond use', async () => {
    const early = await speak();
    expect((await officer.ask('POST', `/api/assets/${s.ids.suit}/beyond-use`, { how: 'destroyed', on: today, words: 'sawn' })).body).toMatchObject({
      code: 'asset.notCondemned',
    });
    await condemned();
    expect((await item()).readiness).toBe('condemned');
    await early.through(3.9);
    expect((await item()).readiness).toBe('condemned');
    expect(
      (
        await tester.ask('POST', '/api/runs', {
          procedure: 'suit.inflation',
          ruleSet: 'in-h2o-4',
          assets: { suit: s.ids.suit },
          instruments: { suit: s.ids.manual },
        })
      ).body,
    ).toMatchObject({ code: 'asset.condemned' });
    expect((await tester.ask('POST', '/api/occasions', { assets: [s.ids.suit], kind: 'filled' })).body).toMatchObject({ code: 'asset.condemned' });
    expect(await isToday('condemned')).toContain('GS-01');
    const said = { how: 'disabled', on: today, words: 'drilled through by the workshop, at the owner’s direction' };
    expect((await tester.ask('POST', `/api/assets/${s.ids.suit}/beyond-use`, said)).body).toMatchObject({ code: 'role.tooLow' });
    expect((await officer.ask('POST', `/api/assets/${s.ids.suit}/beyond-use`, { ...said, on: addDays(today, 1) })).body).toMatchObject({
      code: 'occasion.ahead',
    });
    expect((await officer.ask('POST', `/api/assets/${s.ids.suit}/beyond-use`, said)).status).toBe(204);
    expect((await officer.ask('POST', `/api/assets/${s.ids.suit}/beyond-use`, said)).body).toMatchObject({ code: 'asset.beyondUse' });
    expect(await item()).toMatchObject({ readiness: 'condemned' });
    expect((await item()).why).toContain('made unable to hold pressure on 2026-11-25');
    expect(await isToday('condemned')).not.toContain('GS-01');
  });
});
