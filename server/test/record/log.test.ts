import type { LogPage, RecordRow } from '@grellin/contract';
import { stationDay } from '@grellin/core';
import type { FastifyInstance } from 'fastify';
import Papa from 'papaparse';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { added, carryOut } from '../testing/carryOut';
import { HeldClock } from '../testing/speaker';
import { Person, station, type Station } from '../testing/station';

/** Half past nine in the evening of one day at Greenwich: half past ten in the morning of the next at this station. */
const ZONE = 'Pacific/Tongatapu';
const clock = new HeldClock('2026-11-20T21:30:00Z');
let s: Station;
let app: FastifyInstance;
let officer: Person;
let tester: Person;
/** Every record there is, as the log tells it without a question. */
let all: readonly RecordRow[];
const instruments = new Map<string, string>();

const one = { value: 1, unit: '1' };
const carried = [
  ['DS-01', 'drysuit.survey', 'general', 'none', 'dry-suit'],
  ['DS-02', 'drysuit.survey', 'general', 'pinhole', 'dry-suit'],
  ['TK-01', 'brakes.strokes', 'most', 'none', 'truck'],
  ['TK-02', 'brakes.strokes', 'most', 'adjuster behind', 'truck'],
  ['TK-03', 'brakes.strokes', 'most', 'none', 'truck'],
] as const;

const log = async (query = ''): Promise<LogPage> => {
  const { status, body } = await tester.ask<LogPage>('GET', `/api/records?${query}`);
  if (status !== 200) throw new Error(JSON.stringify(body));
  return body;
};
const numbers = (rows: readonly RecordRow[]): readonly string[] => rows.map((r) => r.number);

beforeAll(async () => {
  s = await station({ now: clock.now() });
  app = await s.serve({}, clock);
  officer = await new Person(app).signIn('officer');
  expect((await officer.ask('PUT', '/api/station', { name: 'A station', zone: ZONE })).status).toBe(200);
  for (const [tag, procedure, ruleSet, fault, kind] of carried) {
    officer = await new Person(app).signIn('officer');
    tester = await new Person(app).signIn('tester');
    await carryOut({ station: s, officer, tester, clock }, tag, [procedure, ruleSet, fault], {
      kind,
      ...(kind === 'truck' ? { attributes: { axles: one } } : {}),
    });
    clock.ms += 9 * 3_600_000;
  }
  tester = await new Person(app).signIn('tester');
  officer = await new Person(app).signIn('officer');
  all = (await log()).rows;
  const known = await tester.ask<{ id: string; tag: string }[]>('GET', '/api/instruments');
  for (const i of known.body) instruments.set(i.tag, i.id);
});
afterAll(() => s.close());

describe('the log', () => {
  it('goes through all of it once, newest first, and is counted with its first page', async () => {
    const seen: RecordRow[] = [];
    const counts: (number | null)[] = [];
    for (let after: string | null = ''; after !== null;) {
      const page: LogPage = await log(`limit=2${after === '' ? '' : `&after=${after}`}`);
      seen.push(...page.rows);
      counts.push(page.count);
      after = page.next;
    }
    expect(numbers(seen)).toEqual(numbers(all));
    expect(counts).toEqual([5, null, null]);
    expect([...numbers(seen)].sort().reverse()).toEqual(numbers(seen));
  });

  it('finds by the station’s days, both of them counted, whatever day it is at Greenwich', async () => {
    const days = [...new Set(all.map((r) => stationDay(Date.parse(r.sealedAt), ZONE)))];
    expect(days.length).toBeGreaterThan(1);
    // Some of them are of another day at Greenwich: a log that cut there would tell them under the wrong one.
    expect(all.some((r) => stationDay(Date.parse(r.sealedAt), ZONE) !== r.sealedAt.slice(0, 10))).toBe(true);
    for (const day of days)
      expect(numbers((await log(`from=${day}&to=${day}`)).rows)).toEqual(numbers(all.filter((r) => stationDay(Date.parse(r.sealedAt), ZONE) === day)));
    expect((await log('from=2026-12-31')).rows).toEqual([]);
  });

  it.each(['pass', 'fail', 'undecided', 'void'])('finds what ended %s', async (verdict) => {
    expect(numbers((await log(`verdict=${verdict}`)).rows)).toEqual(numbers(all.filter((r) => r.verdict === verdict)));
  });

  it('finds by procedure, by whether it was simulated, and by all of it together', async () => {
    expect(numbers((await log('procedure=brakes.strokes')).rows)).toEqual(numbers(all.filter((r) => r.procedure === 'brakes.strokes')));
    expect((await log('simulated=true')).rows).toEqual([]);
    expect(numbers((await log('simulated=false&verdict=fail&procedure=brakes.strokes')).rows)).toEqual(numbers(all.filter((r) => r.tag === 'TK-02')));
  });

  it('finds every run that a gauge took part in: what an instrument found bad must be asked for', async () => {
    const [, gauge] = [...instruments].find(([tag]) => tag.startsWith('TK-02 ')) ?? [];
    expect(numbers((await log(`gauge=${gauge ?? ''}`)).rows)).toEqual(numbers(all.filter((r) => r.tag === 'TK-02')));
    expect((await log(`gauge=${s.ids.expired}`)).rows).toEqual([]);
  });

  it('finds by who sealed it', async () => {
    const people = (await tester.ask<{ id: string; fullName: string }[]>('GET', '/api/people')).body;
    const id = (name: string): string => people.find((p) => p.fullName === name)?.id ?? '';
    expect(numbers((await log(`by=${id('The tester')}`)).rows)).toEqual(numbers(all));
    expect((await log(`by=${id('The officer')}`)).rows).toEqual([]);
  });

  it('finds by tag, serial and number, and takes no sign for a pattern', async () => {
    expect(numbers((await log('q=tk-0')).rows)).toEqual(numbers(all.filter((r) => r.tag.startsWith('TK'))));
    expect(numbers((await log('q=S-DS-02')).rows)).toEqual(numbers(all.filter((r) => r.tag === 'DS-02')));
    expect(numbers((await log('q=d')).rows)).toEqual(numbers(all.filter((r) => r.tag.startsWith('DS'))));
    const [one] = all;
    expect(numbers((await log(`q=${(one?.number ?? '').toLowerCase()}`)).rows)).toEqual([one?.number]);
    expect((await log('q=gr-%25')).rows).toEqual([]);
    expect((await log('q=____')).rows).toEqual([]);
  });

  it.each([
    ['verdict=tight', 'malformed'],
    ['from=yesterday', 'malformed'],
    ['gauge=MG-01', 'malformed'],
    ['limit=many', 'malformed'],
    ['shelf=3', 'malformed'],
    ['after=nonsense', 'page.cursor'],
    [`after=${Buffer.from('["1; DROP TABLE record","GR-1"]').toString('base64url')}`, 'page.cursor'],
  ])('refuses %s with %s', async (query, code) => {
    expect((await tester.ask('GET', `/api/records?${query}`)).body).toMatchObject({ code });
    expect((await tester.ask('GET', `/api/records.csv?${query.startsWith('after') ? 'after=nonsense' : query}`)).body).toMatchObject({ code });
  });

  it('exports what is shown, in the words shown: a title that a spreadsheet would reckon is plain text', async () => {
    await added(officer, { tag: 'EX-01', class: 'dry-suit' });
    await officer.ask('PATCH', `/api/assets/${all.find((r) => r.tag === 'TK-02')?.asset ?? ''}`, { revision: 1, title: '=1+1' });
    const { raw } = await tester.ask('GET', '/api/records.csv?verdict=fail');
    const { data, errors } = Papa.parse<Record<string, string>>(raw.toString(), { header: true, skipEmptyLines: true });
    expect(errors).toEqual([]);
    const failed = all.filter((r) => r.verdict === 'fail');
    expect(data.map((d) => d['Record'])).toEqual(numbers(failed));
    expect(data.map((d) => d['Verdict'])).toEqual(failed.map((r) => r.word));
    expect(data.map((d) => d['Sealed by'])).toEqual(failed.map((r) => r.by));
    expect(data.find((d) => d['Item'] === 'TK-02')?.['Title of the item']).toBe("'=1+1");
    expect(Object.keys(data[0] ?? {})[0]).toBe(`When (${ZONE})`);
  });
});

describe('the register', () => {
  it('finds what is due by a day', async () => {
    const tags = async (by: string): Promise<readonly string[]> =>
      (await tester.ask<{ rows: { tag: string }[] }>('GET', `/api/assets?dueBy=${by}`)).body.rows.map((r) => r.tag);
    expect(await tags('2026-11-25')).toContain('GS-01');
    expect(await tags('2026-11-24')).not.toContain('GS-01');
    expect((await tester.ask('GET', '/api/assets?dueBy=soon')).body).toMatchObject({ code: 'malformed' });
  });
});
