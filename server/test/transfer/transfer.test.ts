import type { AssetView, ImportReport, RegisterPage } from '@grellin/contract';
import { addDays } from '@grellin/core';
import ICAL from 'ical.js';
import type { FastifyInstance } from 'fastify';
import Papa from 'papaparse';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { sized } from '../../../core/test/testing/turn';
import { Person, station, type Station } from '../testing/station';

/** A large station’s register. */
const ROWS = sized(50_000, 5000);
let s: Station;
let app: FastifyInstance;
let officer: Person;
let tester: Person;
const today = new Date().toISOString().slice(0, 10);
beforeAll(async () => {
  s = await station();
  app = await s.serve();
  officer = await new Person(app).signIn('officer');
  tester = await new Person(app).signIn('tester');
});
afterAll(() => s.close());

const columns = {
  tag: 'Tag',
  serial: 'Serial',
  class: 'Class',
  title: 'What',
  place: 'Where',
  practice: 'Practice',
  made_on: 'Made',
  'attribute:volume': 'Volume',
};
const take = (csv: string, write: boolean, more: Record<string, string> = {}, sure = false) =>
  officer.ask<ImportReport & { code?: string; values?: Record<string, string> }>('POST', '/api/assets/import', {
    csv,
    columns: { ...columns, ...more },
    write,
    ...(sure ? { sure } : {}),
  });
const head = 'Tag,Serial,Class,What,Where,Practice,Made,Volume\r\n';
const count = async (q: string): Promise<number> => (await officer.ask<RegisterPage>('GET', `/api/assets?q=${q}`)).body.count ?? -1;

describe('a register’s file', () => {
  it('is tried dry: every row’s fate is told, and nothing is written until it is asked for', async () => {
    const csv = `${head}IM-01,S1,dry-suit,"Dry suit, large",Dive shed,yes,2024-05,180 L\r\nIM-02,S2,submarine,Boat,Quay,yes,,\r\nIM-03,S3,dry-suit,,Dive shed,perhaps,2024-13-99,wide\r\nIM-01,S9,dry-suit,Again,Dive shed,no,,\r\n`;
    const dry = (await take(csv, false)).body;
    expect([dry.rows, dry.new, dry.bad, dry.written, dry.change]).toEqual([4, 1, 3, false, null]);
    expect(dry.fates.map((f) => [f.row, f.fate, f.flaws.map((x) => x.column).sort()])).toEqual([
      [2, 'new', []],
      [3, 'bad', ['class']],
      [4, 'bad', ['attribute:volume', 'made_on', 'practice', 'title']],
      [5, 'bad', ['tag']],
    ]);
    expect(await count('im-0')).toBe(0);
    const wet = (await take(csv, true)).body;
    expect([wet.new, wet.bad, wet.written]).toEqual([1, 3, true]);
    expect(await count('im-0')).toBe(1);
    const made = (await officer.ask<RegisterPage>('GET', '/api/assets?q=im-01')).body.rows[0];
    expect(made).toMatchObject({ title: 'Dry suit, large', practice: true, madeOn: '2024-05', attributes: { volume: { value: 180, unit: 'L' } } });
    await officer.ask('POST', `/api/changes/${wet.change ?? ''}/undo`);
    expect(await count('im-0')).toBe(0);
  });
  it('reads figures as people write them, and asks where one could be two, is far from anything expected, or an answer is none of those that there are', async () => {
    const line = (tag: string, volume: string, school = '') => `${tag},S,dry-suit,Suit,Shed,no,,"${volume}",${school}\r\n`;
    const csv = `${head.trimEnd()},School\r\n${line('IW-1', '180,5 L', 'Strict')}${line('IW-2', '7,430 L')}${line('IW-3', '180 m³')}${line('IW-4', '180 L', 'kind')}`;
    const told = async (sure: boolean) =>
      (await take(csv, false, { 'attribute:school': 'School' }, sure)).body.fates.map((f) => [f.fate, f.flaws.map((x) => x.message).join()]);
    expect(await told(false)).toEqual([
      ['new', ''],
      ['bad', 'must be 7.43 L or 7430 L, whichever is meant'],
      ['bad', 'Inside volume: 180 m³ is more than 500 L: is that so?'],
      ['bad', 'must be one of: general, strict'],
    ]);
    expect((await told(true)).map(([fate]) => fate)).toEqual(['new', 'bad', 'new', 'bad']);
  });

  it('changes what is there, and leaves what no column stands for', async () => {
    await take(`${head}UP-01,S1,dry-suit,Suit,Dive shed,yes,2024-05,180 L\r\n`, true);
    const only = { tag: 'Tag', serial: 'Serial', class: 'Class', title: 'What', place: 'Where' };
    const again = await officer.ask<ImportReport>('POST', '/api/assets/import', {
      csv: `${head}UP-01,S1,dry-suit,Suit,Loft,no,,\r\n`,
      columns: only,
      write: true,
    });
    expect([again.body.changed, again.body.same]).toEqual([1, 0]);
    expect((await officer.ask<RegisterPage>('GET', '/api/assets?q=up-01')).body.rows[0]).toMatchObject({ place: 'Loft', practice: true, madeOn: '2024-05' });
    const same = await officer.ask<ImportReport>('POST', '/api/assets/import', {
      csv: `${head}UP-01,S1,dry-suit,Suit,Loft,no,,\r\n`,
      columns: only,
      write: true,
    });
    expect([same.body.changed, same.body.same, same.body.change]).toEqual([0, 1, null]);
  });

  it.each([
    ['a column that is not there', head, { title: 'Name' }, 'import.column'],
    ['a quote that never ends', `${head}IM-09,"S1,dry-suit,x,y,no,,\r\n`, {}, 'import.csv'],
  ])('is refused whole for %s', async (_, csv, more, code) => {
    expect((await take(csv, true, more)).body.code).toBe(code);
  });

  it('is refused when a field that every item has is matched to nothing, and to anyone but an officer', async () => {
    expect((await officer.ask('POST', '/api/assets/import', { csv: head, columns: { tag: 'Tag' }, write: false })).body).toMatchObject({
      code: 'import.unmatched',
    });
    expect((await tester.ask('POST', '/api/assets/import', { csv: head, columns, write: false })).status).toBe(403);
  });

  it(`of ${String(ROWS)} rows with three in a hundred bad names every bad one, and writes all the others at once`, async () => {
    const bad = (i: number): boolean => i % 100 < 3;
    const lines = Array.from(
      { length: ROWS },
      (_, i) => `BIG-${String(i)},S${String(i)},${bad(i) ? 'nothing' : 'face-piece'},Face-piece,Hall ${String(i % 9)},no,,0.8 L`,
    );
    const csv = head + lines.join('\r\n');
    const dry = (await take(csv, false)).body;
    expect([dry.rows, dry.new, dry.bad]).toEqual([ROWS, 0.97 * ROWS, 0.03 * ROWS]);
    expect(dry.fates.filter((f) => f.fate === 'bad').map((f) => f.row)).toEqual(lines.flatMap((_, i) => (bad(i) ? [i + 2] : [])));
    expect(await count('big-1')).toBe(0);
    const wet = (await take(csv, true)).body;
    expect([wet.new, wet.bad]).toEqual([0.97 * ROWS, 0.03 * ROWS]);
    expect((await officer.ask<RegisterPage>('GET', `/api/assets?q=big-${String(ROWS - 1)}`)).body.count).toBe(1);
  }, 180_000);
});

describe('the register taken along', () => {
  it('as CSV reads back in unchanged, and nothing in it is a formula', async () => {
    await take(`${head}FX-01,S1,dry-suit,=SUM(A1),Attic,yes,2024-05-02,180 L\r\nFX-02,S2,dry-suit,Suit,Attic,no,,\r\n`, true);
    const csv = (await officer.ask('GET', '/api/assets.csv?place=Attic')).raw.toString();
    expect(csv.split('\r\n').at(-1)).toBe('');
    const rows = Papa.parse<Record<string, string>>(csv, { header: true, skipEmptyLines: true }).data;
    expect(rows.map((r) => [r['tag'], r['title'], r['attribute:volume']])).toEqual([
      ['FX-01', "'=SUM(A1)", '180 L'],
      ['FX-02', 'Suit', ''],
    ]);
    const own = {
      tag: 'tag',
      serial: 'serial',
      class: 'class',
      place: 'place',
      practice: 'practice',
      made_on: 'made_on',
      'attribute:volume': 'attribute:volume',
      title: 'title',
    };
    const back = await officer.ask<ImportReport>('POST', '/api/assets/import', { csv, columns: own, write: false });
    expect([back.body.same, back.body.changed, back.body.bad]).toEqual([1, 1, 0]); // the one whose title was made plain
  });

  it('as JSON carries every item that a query finds', async () => {
    const file = JSON.parse((await officer.ask('GET', '/api/assets.json?place=Attic')).raw.toString()) as { format: string; assets: { tag: string }[] };
    expect([file.format, file.assets.map((a) => a.tag)]).toEqual(['grellin-register/1', ['FX-01', 'FX-02']]);
  });

  it('as labels is a PDF of as many pages as it takes', async () => {
    const ids = (await officer.ask<RegisterPage>('GET', '/api/assets?q=big-1&limit=30')).body.rows.map((r) => r.id);
    const pages = (pdf: Buffer): number => [...pdf.toString('latin1').matchAll(/\/Type \/Page\b/g)].length;
    const sheet = await officer.ask('GET', `/api/labels.pdf?assets=${ids.join(',')}`);
    expect([sheet.raw.subarray(0, 5).toString(), pages(sheet.raw)]).toEqual(['%PDF-', 2]);
    expect(pages((await officer.ask('GET', `/api/labels.pdf?form=tape&assets=${ids.slice(0, 3).join(',')}`)).raw)).toBe(3);
    expect((await officer.ask('GET', '/api/labels.pdf?assets=all')).body).toMatchObject({ code: 'labels.assets' });
  });
});

describe('a calendar', () => {
  it('has every due date once, as an all-day event that another program reads (RFC 5545, by ical.js)', async () => {
    const { path } = (await tester.ask<{ path: string }>('POST', '/api/calendar')).body;
    const stranger = new Person(app);
    const reply = await stranger.ask('GET', path);
    const text = reply.raw.toString();
    expect(text.split('\r\n').every((line) => Buffer.byteLength(line) <= 75)).toBe(true);
    const calendar = new ICAL.Component(ICAL.parse(text) as unknown[]);
    const events = calendar.getAllSubcomponents('vevent').map((e) => new ICAL.Event(e));
    const suit = (await officer.ask<AssetView>('GET', `/api/assets/${s.ids.suit}`)).body;
    const mine = events.find((e) => e.uid === `${suit.obligations[0]?.id ?? ''}@grellin`);
    expect([mine?.summary, mine?.startDate.toString(), mine?.endDate.toString(), mine?.startDate.isDate]).toEqual([
      'GS-01: Gas-tight suit, inflation test',
      addDays(today, 5),
      addDays(today, 6),
      true,
    ]);
    expect(new Set(events.map((e) => e.uid)).size).toBe(events.length);
  });

  it('opens by its secret alone, and by no older one', async () => {
    const first = (await tester.ask<{ path: string }>('POST', '/api/calendar')).body.path;
    const second = (await tester.ask<{ path: string }>('POST', '/api/calendar')).body.path;
    const stranger = new Person(app);
    expect((await stranger.ask('GET', first)).body).toMatchObject({ code: 'calendar.unknown' });
    expect((await stranger.ask('GET', second)).status).toBe(200);
    await tester.ask('DELETE', '/api/calendar');
    expect((await stranger.ask('GET', second)).status).toBe(404);
    expect((await stranger.ask('POST', '/api/calendar')).status).toBe(401);
  });
});
