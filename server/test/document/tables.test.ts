import type { ReadTable, RecordView, RunView, TableRow } from '@grellin/contract';
import { type FigureTable, type RunEvent } from '@grellin/core';
import { practiceTimes } from '@grellin/core/practice';
import type { FastifyInstance } from 'fastify';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { HeldClock } from '../testing/speaker';
import { Person, station, type Station } from '../testing/station';

/** An authority's table is an officer's document: no tester chooses it, and nothing of it is changed once it is published. */
const clock = new HeldClock('2026-12-01T08:00:00Z');
let s: Station;
let app: FastifyInstance;
let officer: Person;
let tester: Person;
let reader: Person;
beforeAll(async () => {
  s = await station({ now: clock.now() });
  app = await s.serve({}, clock);
  officer = await new Person(app).signIn('officer');
  tester = await new Person(app).signIn('tester');
  reader = await new Person(app).signIn('reader');
});
afterAll(() => s.close());

const gal = (value: number) => ({ value, unit: '[gal_us]' });
const line = (upTo: number, hold: number, loss: number): FigureTable['lines'][number] => ({
  upTo: gal(upTo),
  gives: { hold: { value: hold, unit: 'min' }, permittedLoss: { value: loss, unit: "[in_i'H2O]" } },
});
const table = (edition: string, more: Partial<FigureTable> = {}): FigureTable => ({ ...practiceTimes, id: 'coast', edition, from: '2026-01-01', ...more });
const publish = (of: FigureTable, more: object = {}) => {
  clock.ms += 1000;
  return officer.ask<{ digest: string; code?: string; message?: string }>('POST', '/api/tables', { table: of, ...more });
};
const kept = async (): Promise<readonly TableRow[]> => (await reader.ask<TableRow[]>('GET', '/api/tables')).body;
let made = 0;
const open = async (authority: string | null, ullage = 4000) => {
  made += 1;
  const attributes = { aboveGround: false, nitrogenBy: 'vent', tieTest: false, tanks: { value: 1, unit: '1' }, ...(authority === null ? {} : { authority }) };
  const item = { tag: `FT-9${made}`, serial: `F ${made}`, class: 'storage-tank', title: 'Tank', place: 'Farm', practice: true, attributes };
  const tank = (await officer.ask<{ id: string }>('POST', '/api/assets', item)).body.id;
  const gauge = { tag: `MM-9${made}`, title: 'Manometer', low: { value: 0, unit: "[in_i'H2O]" }, high: { value: 14, unit: "[in_i'H2O]" }, resolution: { value: 0.01, unit: "[in_i'H2O]" }, accuracy: { value: 0.02, unit: "[in_i'H2O]" }, correlation: 0.95, calibrationDue: '2027-06-30', fittedTo: null, address: null, rig: null, serial: `M ${made}`, place: 'Farm' }; // prettier-ignore
  const added = await officer.ask<{ id: string }>('POST', '/api/instruments', gauge);
  const h = (value: number) => ({ value, unit: 'h' });
  return tester.ask<RunView & { code?: string; message?: string }>('POST', '/api/runs', {
    procedure: 'tank.vapour-10',
    ruleSet: 'in-use',
    assets: { tank },
    instruments: { tank: added.body.id },
    figures: { tank: { sinceDelivery: h(14), sinceLiquidTest: h(40), sinceFuelling: { value: 45, unit: 'min' } } },
    lists: { tanks: [{ capacity: gal(10_000), ullage: gal(ullage) }] },
  });
};
const openedOf = async (run: string): Promise<RunEvent & { kind: 'opened' }> => {
  const found = await s.connection.db.execute<{ event: RunEvent & { kind: 'opened' } }>(`SELECT event FROM run_event WHERE run = '${run}' AND seq = 1`);
  return found.rows[0]?.event as RunEvent & { kind: 'opened' };
};

describe('publishing', () => {
  it('is an officer’s alone', async () => {
    expect((await tester.ask('POST', '/api/tables', { table: table('0') })).status).toBe(403);
    expect((await reader.ask('POST', '/api/tables/read', { kind: 'vapour-times', csv: 'x' })).status).toBe(403);
  });
  it('refuses what is not sound, names the line, and asks about what nobody would expect', async () => {
    expect((await publish(table('0', { lines: [line(3000, 5, 0.3), line(3000, 10, 0.5)] }))).body).toMatchObject({
      code: 'table.flawed',
      message: 'Line 2: 3000 US gal: lines go up, each further than the one before.',
    });
    expect((await publish(table('0', { lines: [] }))).status).toBe(400);
    expect((await publish(table('0', { kind: 'else' }))).status).toBe(400);
    const slipped = table('0', { lines: [line(3000, 5, 50)] });
    expect((await publish(slipped)).body).toMatchObject({ code: 'table.odd', message: 'Line 1: Permitted loss 50 inH2O: is that so?' });
    expect(await kept()).toEqual([]);
    expect((await publish(slipped, { sure: true })).status).toBe(201);
    const [only] = await kept();
    expect((await officer.ask('POST', `/api/tables/${only?.digest ?? ''}/withdraw`, { reason: 'a slip' })).status).toBe(200);
  });
  it('keeps every edition, says which holds, and changes none', async () => {
    expect((await publish(table('1', { until: '2026-12-31' }))).status).toBe(201);
    expect((await publish(table('1', { until: '2026-12-31', lines: [line(9000, 5, 0.3)] }))).body.code).toBe('table.exists');
    expect((await publish(table('2', { from: '2027-01-01' }))).status).toBe(201);
    expect((await kept()).map((r) => [r.table.edition, r.inForce])).toEqual([
      ['2', false],
      ['1', true],
      ['0', false],
    ]);
    await expect(s.connection.db.execute(`UPDATE document SET document = '{}'`)).rejects.toThrow();
    await expect(s.connection.db.execute(`DELETE FROM document`)).rejects.toThrow();
  });
});

describe('a run', () => {
  it('is not opened without a table that holds, nor beyond its last line', async () => {
    expect((await open(null)).body).toMatchObject({ code: 'run.planRefused' });
    expect((await open('nowhere')).body).toMatchObject({ code: 'run.planRefused', message: 'No edition of the table “nowhere” is kept that holds today.' });
    expect((await open('coast', 30_001)).body.code).toBe('run.planRefused');
  });
  it('goes by the edition of its day, and keeps it in its first event, whatever comes after', async () => {
    const { status, body } = await open('coast');
    expect(status).toBe(201);
    expect((await openedOf(body.id)).tables?.['times']).toEqual(table('1', { until: '2026-12-31' }));
    // A newer edition, and the old one withdrawn: what was opened stays as it was.
    expect((await publish(table('3', { from: '2026-12-01', lines: [line(30_000, 10, 0.1)] }))).status).toBe(201);
    const first = (await kept()).find((r) => r.table.edition === '1');
    expect((await officer.ask('POST', `/api/tables/${first?.digest ?? ''}/withdraw`, { reason: 'mistyped' })).status).toBe(200);
    expect((await officer.ask('POST', `/api/tables/${first?.digest ?? ''}/withdraw`, { reason: 'again' })).body).toMatchObject({ code: 'table.withdrawn' });
    expect((await openedOf(body.id)).tables?.['times']?.edition).toBe('1');
    const later = await open('coast');
    expect((await openedOf(later.body.id)).tables?.['times']?.edition).toBe('3');
    expect((await kept()).find((r) => r.table.edition === '1')).toMatchObject({ withdrawn: { why: 'mistyped', by: 'The officer' }, inForce: false });
  });
  it('its record names the edition', async () => {
    const { body } = await open('coast');
    const abandoned = { id: '01900000-0000-7000-8000-0000000000aa', source: 'bench:tables', n: 1, at: 0, kind: 'abandoned', reason: 'rain' };
    await tester.ask('POST', `/api/runs/${body.id}/events`, { lease: body.lease, events: [abandoned] });
    const { body: run } = await tester.ask<RunView>('GET', `/api/runs/${body.id}`);
    const { body: record } = await tester.ask<RecordView>('GET', `/api/records/${run.record ?? ''}`);
    expect(record.told).toContainEqual({
      title: 'Times and permitted losses by ullage, edition 3',
      things: [{ name: 'Skarvoy fuel office (invented, for practice)', words: 'in force from 2026-12-01' }],
    });
  });
});

describe('files', () => {
  it('gives a table out as JSON and CSV, and reads what it gave', async () => {
    const [newest] = await kept();
    const json = await reader.ask<FigureTable>('GET', `/api/tables/${newest?.digest ?? ''}`);
    expect(json.body).toEqual(newest?.table);
    const csv = await reader.ask<string>('GET', `/api/tables/${newest?.digest ?? ''}/csv`);
    expect(csv.body.split('\r\n')[0]).toBe('ullage,hold,permittedLoss');
    const read = await officer.ask<ReadTable>('POST', '/api/tables/read', { kind: 'vapour-times', csv: csv.body });
    expect(read.body).toEqual({ lines: newest?.table.lines, flaws: [] });
    expect((await reader.ask('GET', `/api/tables/${'0'.repeat(64)}`)).body).toMatchObject({ code: 'table.unknown' });
  });
  const read = async (csv: string) => (await officer.ask<ReadTable & { code?: string }>('POST', '/api/tables/read', { kind: 'vapour-times', csv })).body;
  it('reads columns by title with the unit of the heading, and numbers as people write them', async () => {
    expect(await read('Ullage up to (L),Watched for (min),Permitted loss [in_i\'H2O]\n"10 000",5,"0,3"\n20000,10,0.5\n')).toMatchObject({
      lines: [
        { upTo: { value: 10_000, unit: 'L' }, gives: { hold: { value: 5, unit: 'min' }, permittedLoss: { value: 0.3, unit: "[in_i'H2O]" } } },
        { upTo: { value: 20_000, unit: 'L' } },
      ],
      flaws: [],
    });
  });
  it.each([
    ['a number that could be two', 'ullage,hold,permittedLoss\n"3,000",5,0.3\n', 'whichever is meant'],
    ['a unit of another kind', 'ullage,hold,permittedLoss\n3000 bar,5,0.3\n', 'a unit of another kind'],
    ['no number', 'ullage,hold,permittedLoss\n3000,soon,0.3\n', 'a number with its unit'],
    ['lines that do not rise', 'ullage,hold,permittedLoss\n3000,5,0.3\n2000,5,0.3\n', 'lines go up'],
  ])('says what is wrong with %s', async (_, csv, message) => {
    expect((await read(csv)).flaws.map((f) => f.message).join()).toContain(message);
  });
  it('refuses a file without a column, and no CSV', async () => {
    expect((await read('ullage,hold\n3000,5\n')).code).toBe('import.column');
    expect((await read('ullage,hold,permittedLoss\n"3000,5,0.3\n')).code).toBe('import.csv');
  });
});
