import { inflateSync } from 'node:zlib';
import type { InstrumentRow, LeakRow, RecordView, RunView, Scene } from '@grellin/contract';
import type { EventBody, RunEvent } from '@grellin/core';
import { practiceTimes } from '@grellin/core/practice';
import type { FastifyInstance } from 'fastify';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { HeldClock } from '../testing/speaker';
import { loggers, Pen, Person, station, type Station } from '../testing/station';

let s: Station;
let sims: Awaited<ReturnType<typeof loggers>>;
let app: FastifyInstance;
let tester: Person;
let officer: Person;
let reader: Person;
const clock = new HeldClock('2026-11-25T08:00:00Z');
beforeAll(async () => {
  s = await station();
  sims = await loggers();
  app = await s.serve({ instruments: sims.entry }, clock);
  [tester, officer, reader] = await Promise.all([new Person(app).signIn('tester'), new Person(app).signIn('officer'), new Person(app).signIn('reader')]);
});
afterAll(async () => {
  await s.close();
  await sims.close();
});

let made = 0;
const asset = (kind: string, attributes: Record<string, unknown>, more: Record<string, unknown> = {}) =>
  officer.ask<{ id: string; code?: string; values?: Record<string, string> }>('POST', '/api/assets', {
    tag: `X-${String(made++)}`, serial: 'S1', class: kind, title: 'Item', place: 'Bench', practice: true, attributes, ...more,
  }); // prettier-ignore
const gauge = (unit: string, high: number, more: Record<string, unknown> = {}) =>
  officer.ask<InstrumentRow>('POST', '/api/instruments', {
    tag: `I-${String(made++)}`, title: 'Gauge', fittedTo: null, low: { value: 0, unit }, high: { value: high, unit }, resolution: { value: 0.01, unit },
    accuracy: { value: 0.02, unit }, correlation: 0.9, calibrationDue: '2099-12-31', address: null, rig: null, ...more,
  }); // prettier-ignore

/** Says one thing after another in a run, a second apart, as its tester. */
async function say(run: RunView, pen: Pen, ...bodies: readonly EventBody[]): Promise<void> {
  for (const body of bodies) {
    clock.ms += 1000;
    const event = pen.write(clock.ms - Date.parse(run.startedAt), body);
    const { status, body: reply } = await tester.ask('POST', `/api/runs/${run.id}/events`, { lease: run.lease, events: [event] });
    if (status !== 201) throw new Error(JSON.stringify(reply));
  }
}

describe('the register takes what is contract-checked', () => {
  it('adds an asset with the attributes of its class', async () => {
    const { status, body } = await asset('sealed-store', { volume: { value: 100, unit: 'm3' } });
    expect([status, body]).toMatchObject([201, { class: 'sealed-store', readiness: 'neverTested' }]);
  });
  it.each<[string, string, Record<string, unknown>, string]>([
    ['a class that there is not', 'kite', {}, 'class'],
    ['an attribute of another class', 'sealed-store', { openFaced: true }, 'openFaced'],
    ['a quantity of another kind', 'sealed-store', { volume: { value: 1, unit: 'bar' } }, 'volume'],
    ['words for a quantity', 'sealed-store', { volume: 'large' }, 'volume'],
    ['a yes for words', 'truck', { useAs: true }, 'useAs'],
    ['an answer that there is not', 'truck', { useAs: 'a bus or so' }, 'useAs'],
  ])('refuses %s', async (_, kind, attributes, attribute) =>
    expect((await asset(kind, attributes)).body).toMatchObject({ code: 'asset.attributeWrong', values: { attribute } }),
  );
  it('asks about a figure that nobody would expect of such an item, and takes it where it is meant', async () => {
    const of = (value: number, unit: string) => ({ volume: { value, unit } });
    expect((await asset('gas-tight-suit', of(220, 'm3'))).body).toMatchObject({
      code: 'asset.odd',
      values: { volume: 'Inside volume: 220 m³ is more than 1000 L' },
    });
    const meant = await asset('gas-tight-suit', of(220, 'm3'), { sure: ['volume'] });
    expect(meant.status).toBe(201);
    const change = (revision: number, more: object) => officer.ask<{ code?: string; revision: number }>('PATCH', `/api/assets/${meant.body.id}`, { revision, ...more }); // prettier-ignore
    // What stands there already is not asked about again; another figure is.
    expect((await change(1, { place: 'Elsewhere', attributes: of(220, 'm3') })).status).toBe(200);
    expect((await change(2, { attributes: of(230, 'm3') })).body.code).toBe('asset.odd');
    expect((await change(2, { attributes: { ...of(230, 'm3'), openFaced: true }, sure: ['openFaced'] })).body.code).toBe('asset.odd');
    expect((await change(2, { attributes: of(220, 'L') })).status).toBe(200);
  });
  it('refuses a tag twice, and whoever is no officer', async () => {
    await asset('sealed-store', {}, { tag: 'SS-77' });
    expect((await asset('sealed-store', {}, { tag: 'SS-77' })).body.code).toBe('asset.exists');
    const given = { tag: 'SS-78', serial: 'S', class: 'sealed-store', title: 'T', place: 'P', practice: false, attributes: {} };
    expect((await tester.ask('POST', '/api/assets', given)).status).toBe(403);
  });
  it('adds an instrument; one with a rig is simulated, and an address must be one', async () => {
    expect((await gauge('bar', 10)).body).toMatchObject({ simulated: false, streams: false });
    expect((await gauge('mbar', 50, { address: 'sim/PL-61/p1', rig: 'suit' })).body).toMatchObject({ simulated: true, streams: true, device: 'sim/PL-61' });
    expect((await gauge('mbar', 50, { address: 'anywhere' })).body).toMatchObject({ code: 'instrument.unfit' });
    expect((await gauge('mbar', 50, { address: 'sim/PL-62/p1' })).body).toMatchObject({ simulated: true, rig: null });
    expect((await gauge('bar', 0)).body).toMatchObject({ code: 'instrument.unfit' });
    expect((await gauge('bar', 10, { accuracy: { value: 1, unit: 'Cel' } })).body).toMatchObject({ code: 'instrument.unfit' });
    expect((await gauge('bar', 10, { fittedTo: '01900000-0000-7000-8000-000000000000' })).body).toMatchObject({ code: 'asset.unknown' });
    expect((await gauge('bar', 10, { calibratedOn: '2026-11-25', calibrationDue: '2027-11-25' })).body).toMatchObject({ calibratedOn: '2026-11-25' });
    expect((await gauge('bar', 10, { calibratedOn: '2026-11-26', calibrationDue: '2027-11-25' })).body).toMatchObject({ code: 'occasion.ahead' });
    expect((await gauge('bar', 10, { calibratedOn: '2026-11-25', calibrationDue: '2026-11-25' })).body).toMatchObject({ code: 'calibration.due' });
    await gauge('bar', 10, { tag: 'DUP' });
    expect((await gauge('bar', 10, { tag: 'DUP' })).body).toMatchObject({ code: 'instrument.exists' });
  });
});

describe('figures of the day', () => {
  beforeAll(async () => {
    expect((await officer.ask('POST', '/api/tables', { table: practiceTimes })).status).toBe(201);
  });
  const known = {
    aboveGround: false,
    nitrogenBy: 'coupler',
    tieTest: false,
    tanks: { value: 1, unit: '1' },
    authority: 'skarvoy-fuel-office',
  };
  const tank1 = { capacity: { value: 10_000, unit: '[gal_us]' }, ullage: { value: 4000, unit: '[gal_us]' } };
  const day = (sinceDelivery: number) => ({
    sinceDelivery: { value: sinceDelivery, unit: 'h' },
    sinceLiquidTest: { value: 40, unit: 'h' },
    sinceFuelling: { value: 45, unit: 'min' },
  });
  const open = async (figures: Record<string, unknown> | undefined, lists: Record<string, unknown> | null = { tanks: [tank1] }) => {
    const tank = (await asset('storage-tank', known)).body.id;
    const manometer = (await gauge("[in_i'H2O]", 14)).body.id;
    return tester.ask<RunView & { code?: string; message?: string }>('POST', '/api/runs', {
      procedure: 'tank.vapour-10', ruleSet: 'in-use', assets: { tank }, instruments: { tank: manometer }, ...(figures ? { figures: { tank: figures } } : {}), ...(lists ? { lists } : {}),
    }); // prettier-ignore
  };
  it('let a run be opened that needs them, and are kept in its first event', async () => {
    const { status, body } = await open(day(14));
    expect(status).toBe(201);
    const sealed = await s.connection.db.execute<{ event: RunEvent }>(`SELECT event FROM run_event WHERE run = '${body.id}' AND seq = 1`);
    const first = sealed.rows[0]?.event;
    expect(first?.kind === 'opened' && first.assets['tank']?.attributes['sinceDelivery']).toEqual({ value: 14, unit: 'h' });
  });
  it('refuse it where a precondition is not met, and where they are missing', async () => {
    expect((await open(day(7))).body).toMatchObject({ code: 'run.planRefused' });
    expect((await open(undefined)).body).toMatchObject({ code: 'run.planRefused' });
  });
  it('cannot stand in for what the register keeps, or be of another kind', async () => {
    expect((await open({ ...day(14), capacity: { value: 1, unit: '[gal_us]' } })).body.code).toBe('run.figureUnknown');
    expect((await open({ ...day(14), sinceDelivery: { value: 14, unit: 'bar' } })).body.code).toBe('run.figureUnknown');
  });
  it('tell each tank of the day: of a list that there is, each figure of its kind, and odd ones asked about', async () => {
    const code = async (lists: Record<string, unknown> | null) => (await open(day(14), lists)).body.code;
    expect(await code(null)).toBe('run.planRefused');
    expect(await code({ tanks: [] })).toBe('malformed');
    expect(await code({ pumps: [tank1] })).toBe('run.listUnknown');
    expect(await code({ tanks: [{ ...tank1, colour: 'red' }] })).toBe('run.figureUnknown');
    // What may be lost is the authority’s: nobody tells it of the day.
    expect(await code({ tanks: [{ ...tank1, permittedLoss: { value: 5, unit: "[in_i'H2O]" } }] })).toBe('run.figureUnknown');
    expect(await code({ tanks: [{ ...tank1, ullage: { value: 4000, unit: 'bar' } }] })).toBe('run.figureUnknown');
    expect(await code({ tanks: [tank1, { ...tank1, ullage: { value: 4_000_000, unit: '[gal_us]' } }] })).toBe('asset.odd');
    const { status, body } = await open(day(14), { tanks: [tank1, { ...tank1, name: 'diesel' }] });
    expect(status).toBe(201);
    const sealed = await s.connection.db.execute<{ event: RunEvent }>(`SELECT event FROM run_event WHERE run = '${body.id}' AND seq = 1`);
    const first = sealed.rows[0]?.event;
    expect(first?.kind === 'opened' && first.lists).toEqual({ tanks: [tank1, { ...tank1, name: 'diesel' }] });
  });
});

describe('a rig that nothing is read from', () => {
  let rig: string;
  let run: RunView;
  const pen = new Pen('bench:survey');
  beforeAll(async () => {
    rig = (await gauge('1', 1, { tag: 'DS-61', address: 'sim/DS-61/none', rig: 'dry-suit' })).body.id;
    const set = (await asset('dry-suit', {}, { tag: 'DS-91' })).body.id;
    const opened = await tester.ask<RunView>('POST', '/api/runs', {
      procedure: 'drysuit.survey',
      ruleSet: 'by-feel',
      assets: { suit: set },
      instruments: {},
      rig,
    });
    run = opened.body;
  });
  it('makes the run a simulated one, whose clock is the server’s', () => expect(run).toMatchObject({ clock: 'simulated', rig: { tag: 'DS-61' } }));
  it('shows what stands beside it, and lets time pass until something happens', async () => {
    await tester.ask('POST', `/api/instruments/${rig}/rig`, { act: 'free', speed: 0 });
    await tester.ask('POST', `/api/instruments/${rig}/rig`, { act: 'reset', fault: 'pinhole' });
    await tester.ask('POST', `/api/instruments/${rig}/rig`, { act: 'hand', move: 'fill', to: 1500 });
    await tester.ask('POST', `/api/instruments/${rig}/rig`, { act: 'step', seconds: 150 });
    const { body } = await reader.ask<Scene>('GET', `/api/instruments/${rig}/scene`);
    expect(Object.values(body.bubbles)).toMatchObject([expect.stringMatching(/few|stream|grows/)]);
    expect((await tester.ask('POST', `/api/instruments/${rig}/rig`, { act: 'until', event: 'nothing', seconds: 2 })).body).toMatchObject({
      code: 'instrument.refused',
    });
  });
  it('is worked by one run alone', async () => {
    const set = (await asset('dry-suit', {})).body.id;
    const { body } = await tester.ask('POST', '/api/runs', { procedure: 'drysuit.survey', ruleSet: 'by-feel', assets: { suit: set }, instruments: {}, rig });
    expect(body).toMatchObject({ code: 'instrument.busy', values: { run: run.id } });
  });
  it('is refused where the instrument is no simulated one', async () => {
    const set = (await asset('dry-suit', {})).body.id;
    const plain = (await gauge('bar', 10)).body.id;
    const { body } = await tester.ask('POST', '/api/runs', {
      procedure: 'drysuit.survey',
      ruleSet: 'by-feel',
      assets: { suit: set },
      instruments: {},
      rig: plain,
    });
    expect(body).toMatchObject({ code: 'instrument.notSimulated' });
  });
  it('a leak that its survey finds is marked and numbered, and the record has its tag', async () => {
    const { stages } = run.document;
    await say(run, pen, { kind: 'began', stage: 'gather', attempt: 1 });
    const yes = (stage: string) => {
      const method = stages.find((x) => x.id === stage)?.method;
      return method?.kind === 'check' ? method.items.map((i) => ({ kind: 'answered' as const, item: i.id, answer: 'yes' as const })) : [];
    };
    await say(run, pen, ...yes('gather'), { kind: 'ended', stage: 'gather', attempt: 1 });
    await say(run, pen, { kind: 'began', stage: 'look', attempt: 1 }, ...yes('look'), { kind: 'ended', stage: 'look', attempt: 1 });
    await say(run, pen, { kind: 'began', stage: 'soap', attempt: 1 }, { kind: 'marked', mark: 'plug' }, { kind: 'marked', mark: 'inflate-by-hand' });
    const soap = stages.find((x) => x.id === 'soap')?.method;
    if (soap?.kind !== 'survey') throw new Error('no survey');
    // Nobody may call a place dry before it was looked at for as long as it takes, by the run's own clock.
    for (const p of soap.route) {
      const leaks = p.id === 'zip';
      if (!leaks) clock.ms += 5100;
      await say(run, pen, { kind: 'spotted', spot: p.id, grade: leaks ? 'stream' : 'none' });
    }
    await say(run, pen, { kind: 'ended', stage: 'soap', attempt: 1 }, { kind: 'began', stage: 'firm', attempt: 1 });
    clock.ms += 5100;
    await say(run, pen, ...yes('firm'), { kind: 'ended', stage: 'firm', attempt: 1 });
    const after = stages.find((x) => x.phase === 'aftercare');
    if (after?.method.kind !== 'check') throw new Error('no aftercare');
    await say(run, pen, { kind: 'began', stage: after.id, attempt: 1 }, ...after.method.items.map((i) => ({ kind: 'answered' as const, item: i.id, answer: 'yes' as const })), { kind: 'ended', stage: after.id, attempt: 1 }, { kind: 'sealed' }); // prettier-ignore

    const { record, asset: id } = (await tester.ask<RunView>('GET', `/api/runs/${run.id}`)).body;
    const leaks = async () => (await tester.ask<{ leaks: LeakRow[] }>('GET', `/api/assets/${id}`)).body.leaks;
    expect(await leaks()).toMatchObject([{ number: 1, place: 'Zip, along both tapes', grade: 'stream', run: run.id, closedAt: null }]);
    const marked = await tester.ask('POST', '/api/leaks', { run: run.id, outline: 'dry-suit', x: 0.5, y: 0.25, place: 'left knee', grade: 'grows' });
    expect(marked.status).toBe(201);
    expect((await leaks()).map((l) => [l.number, l.place])).toEqual([[1, 'Zip, along both tapes'], [2, 'left knee']]); // prettier-ignore
    expect((await reader.ask('POST', '/api/leaks', { run: run.id, outline: null, x: null, y: null, place: 'x', grade: 'grows' })).status).toBe(403);
    expect((await tester.ask('POST', '/api/leaks', { run: run.id, outline: null, x: 2, y: null, place: 'x', grade: 'grows' })).status).toBe(400);

    const { raw, status } = await reader.ask('GET', `/api/records/${record ?? ''}/tag.pdf`);
    expect([status, raw.subarray(0, 5).toString()]).toEqual([200, '%PDF-']);
    expect(raw.length).toBeGreaterThan(5000);
    expect(inflated(raw)).toMatch(/Tj|TJ/);
    expect((await reader.ask<RecordView>('GET', `/api/records/${record ?? ''}`)).body).toMatchObject({ blocks: true, word: 'leaks' });
  });
});

/** The streams of a PDF that can be inflated, one after the other. */
function inflated(pdf: Buffer): string {
  const found: string[] = [];
  for (let at = pdf.indexOf('stream\n'); at >= 0; at = pdf.indexOf('stream\n', at + 7)) {
    try {
      found.push(inflateSync(pdf.subarray(at + 7)).toString('latin1'));
    } catch {
      // A font or an image of another coding.
    }
  }
  return found.join('\n');
}

describe('samples out of a person’s file', () => {
  it('may not lie ahead of the run’s clock', async () => {
    const run = await tester.open(s, { assets: { suit: s.ids.suit2 } });
    const pen = new Pen('csv:1');
    clock.ms += 10_000;
    const samples = (at: number, n: number) =>
      pen.write(at, { kind: 'samples', channel: 'suit', unit: 'mbar', everyMs: 1000, values: new Array<number>(n).fill(9) });
    const send = (event: RunEvent) => tester.ask('POST', `/api/runs/${run.id}/events`, { lease: run.lease, events: [event] });
    expect((await send(samples(1000, 5))).status).toBe(201);
    expect((await send(samples(6000, 60))).body).toMatchObject({ code: 'event.ahead' });
  });
  it('a leak cannot be marked for a run that found none', async () => {
    const run = await tester.open(s, { assets: { suit: s.ids.suit2 } });
    const { body } = await tester.ask('POST', '/api/leaks', { run: run.id, outline: null, x: null, y: null, place: 'zip', grade: 'stream' });
    expect(body).toMatchObject({ code: 'record.notBlocking' });
  });
  it('a note may be put into an open run by its tester', async () => {
    const run = await tester.open(s, { assets: { suit: s.ids.suit2 } });
    const note = new Pen('bench:n').write(100, { kind: 'amended', note: 'Breathing bag: 3 L' });
    expect((await tester.ask('POST', `/api/runs/${run.id}/events`, { lease: run.lease, events: [note] })).status).toBe(201);
  });
});
