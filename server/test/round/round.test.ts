import type { RecordView, RunView } from '@grellin/contract';
import { type RunEvent } from '@grellin/core';
import type { FastifyInstance } from 'fastify';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { rounds } from '../testing/rounds';
import { HeldClock, HeldSpeaker } from '../testing/speaker';
import { Person, station, type Station } from '../testing/station';

/** A round: the rig is proved once, each item has a run and a record of its own, and nothing that was proved is carried further than it holds. */
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

const { suit, round, next, through, sheet } = rounds({ s: () => s, clock, officer: () => officer, tester: () => tester });
const openedOf = async (run: string): Promise<RunEvent & { kind: 'opened' }> => {
  const found = await s.connection.db.execute<{ event: RunEvent & { kind: 'opened' } }>(`SELECT event FROM run_event WHERE run = '${run}' AND seq = 1`);
  return found.rows[0]?.event as RunEvent & { kind: 'opened' };
};
const proofOf = async (run: string) => (await openedOf(run)).proof;
const proves = { proves: true, left: 5.5 };
const proved = { proves: false, left: 0 };

describe('one item after another', () => {
  it('proves the rig with the first, and carries the proof to the others, whatever the first came to', async () => {
    const [a, b] = [await suit(), await suit()];
    const id = await round();
    const first = (await next(id, a)).body;
    expect(await proofOf(first.id)).toBeUndefined();
    // The first leaks: its rig held all the same.
    const failed = await through(first, 2.1, proves);
    const second = (await next(id, b)).body;
    expect(await proofOf(second.id)).toMatchObject({ run: first.id, record: failed, item: a, stages: [{ stage: 'rig-proof' }] });
    const passed = await through(second, 3.9, proved);
    const { body: record } = await tester.ask<RecordView>('GET', `/api/records/${passed}`);
    expect(record).toMatchObject({ verdict: 'pass', tag: b });
    expect(record.told[1]).toMatchObject({ title: `Proved on this rig in ${failed}, ${a}`, things: [{ name: 'Prove the test kit' }] });
    // What it stands on is the sealed chain of the other.
    const { body: other } = await tester.ask<RecordView>('GET', `/api/records/${failed}`);
    expect((await proofOf(second.id))?.head).toBe(other.head);
    expect(await sheet(id)).toMatchObject({
      counts: { pass: 1, fail: 1, other: 0, open: 0 },
      proves: true,
      runs: [
        { tag: a, verdict: 'fail', provedIn: null, doubted: null },
        { tag: b, verdict: 'pass', provedIn: failed, doubted: null },
      ],
    });
    const csv = await reader.ask<string>('GET', `/api/rounds/${id}/sheet`);
    expect(csv.body.split('\r\n')[0]).toBe('tag,serial,title,result,finding,record,sealed_at,next_due,by,rig_proved_in');
    expect(csv.body).toContain(`${b},`);
  });

  it('finds the item by its serial, however it is set apart, or by its tag', async () => {
    const tag = await suit();
    const id = await round();
    const { serial } = (await tester.ask<{ rows: { tag: string; serial: string }[] }>('GET', `/api/assets?q=${tag}`)).body.rows[0] ?? { serial: '' };
    const found = await next(id, serial.replaceAll(/[ -]/g, '').toLowerCase());
    expect(found.body.tag).toBe(tag);
    expect((await next(id, ` ${tag.toLowerCase()} `)).body).toMatchObject({ code: 'round.running', values: { run: found.body.id } });
    expect((await next(id, 'nothing')).body.code).toBe('round.noItem');
    // A truck is no suit: of what the round cannot test nothing is found.
    expect((await next(id, 'TR-01')).body.code).toBe('round.noItem');
    await suit({ serial: 'TWICE-1' });
    await suit({ serial: 'TWICE 1' });
    expect((await next(id, 'twice1')).body).toMatchObject({ code: 'round.manyItems' });
    expect((await next(id, '---')).body.code).toBe('round.noItem');
  });

  it('a pass settles what the item owes, and it is not passed twice in one round', async () => {
    const id = await round();
    const run = (await next(id, 'GS-01')).body;
    await through(run, 3.9, proves);
    expect((await sheet(id)).runs[0]).toMatchObject({ verdict: 'pass', nextDue: '2027-12-01' });
    expect((await next(id, 'GS-01')).body.code).toBe('round.passed');
  });

  it('an item that owes the test by other rules is tested by itself', async () => {
    const tag = await suit();
    const { id: asset } = (await tester.ask<{ rows: { id: string }[] }>('GET', `/api/assets?q=${tag}`)).body.rows[0] ?? { id: '' };
    const owes = { asset, procedure: 'suit.inflation', ruleSet: 'mbar-16.5', interval: 'P1Y', counting: 'rolling', anchor: '2026-12-01', early: null }; // prettier-ignore
    const owed = await officer.ask<{ code?: string }>('POST', '/api/obligations', owes);
    expect([owed.status, owed.body.code]).toEqual([201, undefined]);
    const id = await round();
    expect((await next(id, tag)).body.code).toBe('round.otherRules');
    // Nor does it stand on the list until somebody has carried the rig to it; what was chosen with it is not put there either.
    const fine = await suit();
    const { id: other } = (await tester.ask<{ rows: { id: string }[] }>('GET', `/api/assets?q=${fine}`)).body.rows[0] ?? { id: '' };
    const put = await tester.ask<{ code?: string; values?: Record<string, string> }>('POST', `/api/rounds/${id}/items`, { assets: [other, asset] });
    expect([put.status, put.body.code, put.body.values?.['tags']]).toEqual([409, 'round.otherRules', tag]);
    expect((await sheet(id)).items).toEqual([]);
  });
});

describe('a gauge that belongs to an item', () => {
  it('is not read for another: the next has its own, or is tested by itself; what one gauge proved, another did not', async () => {
    const [a, b, c] = [await suit(), await suit(), await suit()];
    const idOf = async (tag: string): Promise<string> => (await tester.ask<{ rows: { id: string }[] }>('GET', `/api/assets?q=${tag}`)).body.rows[0]?.id ?? '';
    const fitted = async (tag: string): Promise<string> => {
      const inH2O = (value: number) => ({ value, unit: "[in_i'H2O]" });
      const gauge = { tag: `FG-${tag}`, serial: `F ${tag}`, title: 'Fitted', place: 'Store', fittedTo: await idOf(tag), low: inH2O(0), high: inH2O(20), resolution: inH2O(0.01), accuracy: inH2O(0.02), correlation: 0.9, calibrationDue: null, address: null, rig: null }; // prettier-ignore
      const { status, body } = await officer.ask<{ id: string }>('POST', '/api/instruments', gauge);
      if (status !== 201) throw new Error(JSON.stringify(body));
      return body.id;
    };
    const [own, other] = [await fitted(a), await fitted(b)];
    const id = await round({ instruments: { suit: own } });
    const gaugeOf = async (run: string) => (await tester.ask<RunView>('GET', `/api/runs/${run}`)).body.instruments['suit']?.id;
    const first = (await next(id, a)).body;
    expect(await gaugeOf(first.id)).toBe(own);
    await through(first, 3.9, proves);
    const second = (await next(id, b)).body;
    expect(await gaugeOf(second.id)).toBe(other);
    expect(await proofOf(second.id)).toBeUndefined();
    expect((await next(id, c)).body).toMatchObject({ code: 'round.noGauge' });
    await fitted(c);
    expect((await next(id, c)).status).toBe(201);
  });
});

describe('a proof goes no further than it holds', () => {
  const begun = async (kit = proves, end = 3.9): Promise<{ id: string; record: string }> => {
    const id = await round();
    const record = await through((await next(id, await suit())).body, end, kit);
    return { id, record };
  };
  const carried = async (id: string, more: object = {}) => proofOf((await next(id, await suit(), more)).body.id);

  it('not to another day', async () => {
    const { id } = await begun();
    clock.ms += 24 * 3_600_000;
    tester = await new Person(app).signIn('tester');
    officer = await new Person(app).signIn('officer');
    expect(await carried(id)).toBeUndefined();
  });
  it('not to another round, and not to a run by itself', async () => {
    await begun();
    expect(await carried(await round())).toBeUndefined();
    const alone = await tester.open(s, { assets: { suit: s.ids.suit2 } });
    expect(await proofOf(alone.id)).toBeUndefined();
    // Nobody hands a proof in.
    const forged = await tester.ask('POST', '/api/runs', {
      procedure: 'suit.inflation',
      ruleSet: 'in-h2o-4',
      assets: { suit: s.ids.suit },
      instruments: { suit: s.ids.manual },
      proof: { run: alone.id },
    });
    expect(forged.status).toBe(400);
    expect((await next(await round(), await suit(), { proof: { run: alone.id } })).status).toBe(400);
  });
  it('not from a run that is still open, was abandoned, or proved nothing', async () => {
    const id = await round();
    const open = (await next(id, await suit())).body;
    const speaker = new HeldSpeaker(open, tester, clock, open.lease);
    await speaker.toFill();
    expect(await carried(id)).toBeUndefined();
    await speaker.say(95, { kind: 'abandoned', reason: 'called away' });
    expect(await carried(id)).toBeUndefined();
  });
  it('not where the gauge was calibrated in between', async () => {
    const { id } = await begun();
    const on = '2026-12-01';
    const points = [0, 20].map((value) => ({
      nominal: { value, unit: "[in_i'H2O]" },
      asFound: { value, unit: "[in_i'H2O]" },
      asLeft: { value, unit: "[in_i'H2O]" },
    }));
    const done = await officer.ask('POST', `/api/instruments/${s.ids.manual}/calibrations`, { on, due: '2027-12-01', by: 'House', certificate: 'K', points });
    expect(done.status).toBeLessThan(300);
    expect(await carried(id)).toBeUndefined();
  });
  it('nor does one that was open while another found the rig at fault come out ready', async () => {
    const { id } = await begun();
    const tag = await suit();
    const open = (await next(id, tag)).body;
    const again = (await next(id, await suit(), { proveAgain: true })).body;
    const speaker = new HeldSpeaker(again, tester, clock, again.lease, { proves: true, left: 3 });
    await speaker.check(1, 'gather', ['serial', 'flat', 'adapters']);
    await speaker.check(2, 'look', ['sound', 'diaphragms', 'zip']);
    await speaker.prove(3);
    await speaker.say(95, { kind: 'abandoned', reason: 'the kit leaks' });
    await through(open, 3.9, proved);
    const stands = (await tester.ask<{ readiness: string; why: string }>('GET', `/api/assets/${(await sheet(id)).runs[1]?.asset ?? ''}`)).body;
    expect(stands).toMatchObject({ readiness: 'blocked', why: 'its test stood on a rig that was found at fault while it went on' });
  });
  it('and where its gauge is found bad later, what stood on it waits for a retest with it', async () => {
    const id = await round();
    // The kit kept just enough by this gauge, and too little in truth; the suit itself keeps its limit either way.
    const first = await through((await next(id, await suit())).body, 3.9, { proves: true, left: 5.45 });
    const second = await through((await next(id, await suit())).body, 3.9, proved);
    clock.ms += 3_600_000;
    officer = await new Person(app).signIn('officer');
    const at = (nominal: number, asFound: number) => ({ nominal: { value: nominal, unit: "[in_i'H2O]" }, asFound: { value: asFound, unit: "[in_i'H2O]" }, asLeft: { value: nominal, unit: "[in_i'H2O]" } }); // prettier-ignore
    const points = [at(0, 0), at(4.5, 4.5), at(5.3, 5.45), at(5.5, 5.5), at(20, 20)];
    const on = '2026-12-02';
    const done = await officer.ask('POST', `/api/instruments/${s.ids.manual}/calibrations`, { on, due: '2027-12-01', by: 'House', certificate: 'K2', points });
    expect(done.status).toBeLessThan(300);
    const { body } = await officer.ask<{
      recalled?: unknown;
      calibrations: { recalled: { record: string; after: string; words: string; changes: boolean }[] }[];
    }>('GET', `/api/instruments/${s.ids.manual}`);
    const rows = body.calibrations.flatMap((c) => c.recalled);
    expect(rows.find((r) => r.record === first)).toMatchObject({ after: 'void', changes: true });
    expect(rows.find((r) => r.record === second)).toMatchObject({
      after: 'undecided',
      changes: true,
      words: `The rig was proved in ${first}, and is proved no longer`,
    });
  });
  it('not where somebody asks for it to be proved again, and what failed then takes the proof from all', async () => {
    const { id, record } = await begun();
    const before = await through((await next(id, await suit())).body, 3.9, proved);
    const again = (await next(id, await suit(), { proveAgain: true })).body;
    expect(await proofOf(again.id)).toBeUndefined();
    // The kit leaks now: what was proved in the morning is proved no longer, and what stood on it is named.
    const speaker = new HeldSpeaker(again, tester, clock, again.lease, { proves: true, left: 3 });
    await speaker.check(1, 'gather', ['serial', 'flat', 'adapters']);
    await speaker.check(2, 'look', ['sound', 'diaphragms', 'zip']);
    await speaker.prove(3);
    await speaker.say(95, { kind: 'abandoned', reason: 'the kit leaks' });
    clock.ms += 60_000;
    const bad = (await tester.ask<RunView>('GET', `/api/runs/${again.id}`)).body.record;
    expect((await sheet(id)).runs.map((r) => [r.record, r.doubted])).toEqual([
      [record, bad],
      [before, bad],
      [bad, null],
    ]);
    // Who was released on it waits for another test, and that one releases it.
    const tested = (await sheet(id)).runs[1];
    const stands = async () => (await tester.ask<{ readiness: string; why: string }>('GET', `/api/assets/${tested?.asset ?? ''}`)).body;
    expect(await stands()).toMatchObject({ readiness: 'blocked', why: `its last test stood on a rig that was found at fault afterwards, in ${bad ?? ''}` });
    expect(await carried(id)).toBeUndefined();
    const retest = (await next(id, tested?.tag ?? '')).body;
    await through(retest, 3.9, proves);
    expect((await stands()).readiness).not.toBe('blocked');
    // Proved anew, and it held: that proof is carried.
    await tester.ask('POST', `/api/rounds/${id}/end`);
    const fresh = await begun();
    expect((await carried(fresh.id))?.record).toBe(fresh.record);
  });
});

describe('who may, and when', () => {
  it('a reader looks on; an ended round opens nothing more, ending twice harms nothing', async () => {
    const id = await round();
    expect((await reader.ask('POST', '/api/rounds', {})).status).toBe(403);
    expect((await reader.ask('POST', `/api/rounds/${id}/runs`, { code: 'GS-01' })).status).toBe(403);
    expect((await reader.ask('POST', `/api/rounds/${id}/end`)).status).toBe(403);
    for (let i = 0; i < 2; i++) expect((await tester.ask('POST', `/api/rounds/${id}/end`)).status).toBe(200);
    expect((await next(id, await suit())).body.code).toBe('round.closed');
    expect((await tester.ask<{ id: string; closedAt: string | null }[]>('GET', '/api/rounds')).body.find((r) => r.id === id)?.closedAt).not.toBeNull();
  });
  it('refuses what is no round: of several items, by rules or gauges that there are not', async () => {
    const code = async (more: object) =>
      (
        await tester.ask<{ code?: string }>('POST', '/api/rounds', {
          procedure: 'suit.inflation',
          ruleSet: 'in-h2o-4',
          instruments: { suit: s.ids.manual },
          ...more,
        })
      ).body.code;
    expect(await code({ procedure: 'brakes.whole', ruleSet: 'single' })).toBe('round.coupled');
    expect(await code({ ruleSet: 'nothing' })).toBe('procedure.unknown');
    expect(await code({ instruments: { suit: '01900000-0000-7000-8000-000000000000' } })).toBe('instrument.unknown');
    expect((await tester.ask('GET', '/api/rounds/01900000-0000-7000-8000-000000000000')).body).toMatchObject({ code: 'round.unknown' });
    // A gauge that is another item’s is refused when the first item is opened.
    expect((await next(await round({ instruments: { suit: s.ids.dash } }), await suit())).body.code).toBe('round.noGauge');
  });
});
