import type { AssetView, DayWork, PersonRow, RoundItemRow, RoundView } from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { instrument } from '../../src';
import { rounds } from '../testing/rounds';
import { HeldClock } from '../testing/speaker';
import { Person, station, type Station } from '../testing/station';

/** What a round is to test, who has it, what is left of it, and the day's work made of rounds. */
const clock = new HeldClock('2026-12-01T08:00:00Z');
let s: Station;
let app: FastifyInstance;
let officer: Person;
let tester: Person;
let reader: Person;
const ids: Record<string, string> = {};
beforeAll(async () => {
  s = await station({ now: clock.now() });
  app = await s.serve({}, clock);
  officer = await new Person(app).signIn('officer');
  for (const p of (await officer.ask<readonly PersonRow[]>('GET', '/api/people')).body) ids[p.name] = p.id;
});
beforeEach(async () => {
  clock.ms += 600_000;
  officer = await new Person(app).signIn('officer');
  tester = await new Person(app).signIn('tester');
  reader = await new Person(app).signIn('reader');
});
afterAll(() => s.close());

const { suit, round, next, through, sheet } = rounds({ s: () => s, clock, officer: () => officer, tester: () => tester });
const idOf = async (tag: string): Promise<string> => (await officer.ask<{ rows: { id: string }[] }>('GET', `/api/assets?q=${tag}`)).body.rows[0]?.id ?? '';
const suits = async (n: number): Promise<readonly (readonly [string, string])[]> => {
  const made: (readonly [string, string])[] = [];
  for (let i = 0; i < n; i++) {
    const tag = await suit();
    made.push([tag, await idOf(tag)]);
  }
  return made;
};
type Refused = RoundView & { readonly code?: string; readonly message?: string; readonly values?: Record<string, string> };
const take = (id: string, assets: readonly string[], from: string | null, to: string | null, who = tester) =>
  who.ask<Refused>('POST', `/api/rounds/${id}/take`, { assets, from, to });
const stands = async (id: string): Promise<readonly (readonly [string, RoundItemRow['stands'], string | null])[]> =>
  (await sheet(id)).items.map((i) => [i.tag, i.stands, i.takenBy?.id ?? null]);
const proves = { proves: true, left: 5.5 };
const proved = { proves: false, left: 0 };

describe('the list of a round', () => {
  it('says in order what is left, under test, passed, failed, to be done again, and tested elsewhere', async () => {
    const [a, b, c, d, e] = await suits(5);
    const all = [a, b, c, d, e].map((x) => x?.[1] ?? '');
    const id = await round({ assets: all });
    expect((await sheet(id)).counts).toEqual({ pass: 0, fail: 0, other: 0, open: 0, left: 5 });
    await through((await next(id, a?.[0] ?? '')).body, 3.9, proves);
    await through((await next(id, b?.[0] ?? '')).body, 3.0, proved);
    const broken = (await next(id, c?.[0] ?? '')).body;
    await tester.ask('POST', `/api/runs/${broken.id}/events`, {
      lease: broken.lease,
      secret: (broken as unknown as { secret: string }).secret,
      events: [{ id: '019d0000-0000-7000-8000-00000000a001', source: 'me', n: 1, at: 0, kind: 'abandoned', reason: 'broken off' }],
    });
    await next(id, d?.[0] ?? '');
    const other = await round();
    await through((await next(other, e?.[0] ?? '')).body, 3.9, proves);
    expect((await stands(id)).map(([, how]) => how)).toEqual(['passed', 'failed', expect.stringMatching(/again|open/), 'open', 'elsewhere']);
    const listed = (await reader.ask<readonly { id: string; counts: { left: number } }[]>('GET', '/api/rounds')).body;
    expect(listed.find((r) => r.id === id)?.counts.left).toBe((await sheet(id)).counts.left);
  });

  it('does not pass over what passed elsewhere and leaked after that', async () => {
    const [[tag, a]] = (await suits(1)) as [readonly [string, string]];
    const id = await round({ assets: [a] });
    await through((await next(await round(), tag)).body, 3.9, proves);
    expect((await stands(id))[0]?.[1]).toBe('elsewhere');
    await through((await next(await round(), tag)).body, 3.0, proves);
    expect((await stands(id))[0]?.[1]).toBe('left');
  });

  it('takes on what is scanned, keeps what was begun, and takes on nothing that it cannot test', async () => {
    const [[a, first], [, second]] = (await suits(2)) as [readonly [string, string], readonly [string, string]];
    const id = await round({ assets: [second] });
    await next(id, a);
    expect(await stands(id)).toEqual([
      [expect.anything(), 'left', null],
      [a, 'open', ids['tester']],
    ]);
    const off = (item: string, who = tester) => who.ask<Refused>('DELETE', `/api/rounds/${id}/items/${item}`);
    expect((await off(first)).body.code).toBe('round.begun');
    expect((await off(second)).status).toBe(204);
    expect((await off(second)).body.code).toBe('round.noItem');
    const add = (assets: readonly string[]) => tester.ask<Refused & { added: number }>('POST', `/api/rounds/${id}/items`, { assets });
    expect((await add([s.ids.truck])).body.code).toBe('round.noItem');
    expect((await add([second, first, second])).body.added).toBe(1);
    expect((await add([])).status).toBe(400);
    expect((await stands(id)).map(([tag]) => tag)[0]).toBe(a);
  });

  it('is for those who test, and shut when the round is ended', async () => {
    const [[, a]] = (await suits(1)) as [readonly [string, string]];
    const id = await round();
    expect((await reader.ask('POST', `/api/rounds/${id}/items`, { assets: [a] })).status).toBe(403);
    expect((await take(id, [a], null, ids['reader'] ?? '', reader)).status).toBe(403);
    await tester.ask('POST', `/api/rounds/${id}/end`, {});
    expect((await tester.ask<Refused>('POST', `/api/rounds/${id}/items`, { assets: [a] })).body.code).toBe('round.closed');
    expect((await take(id, [a], null, ids['tester'] ?? '')).body.code).toBe('round.closed');
  });
});

describe('who has what', () => {
  it('is whoever took it first: of two hurried hands one is told, and nothing is taken by halves', async () => {
    const [[, a], [, b]] = (await suits(2)) as [readonly [string, string], readonly [string, string]];
    const id = await round({ assets: [a, b] });
    const both = await Promise.all([take(id, [a], null, ids['tester'] ?? ''), take(id, [a], null, ids['officer'] ?? '', officer)]);
    expect(both.map((x) => x.status).sort()).toEqual([200, 409]);
    expect(both.find((x) => x.status === 409)?.body.code).toBe('round.taken');
    const holder = (await sheet(id)).items[0]?.takenBy?.id;
    // Both asked for, of which one is gone: neither.
    expect((await take(id, [b, a], null, ids['tester'] ?? '')).body.code).toBe('round.taken');
    expect(await stands(id)).toEqual([
      [expect.anything(), 'left', holder],
      [expect.anything(), 'left', null],
    ]);
  });

  it('is handed on and put back by whoever has it or an officer, to somebody who tests, and taken over by oneself', async () => {
    const [[, a]] = (await suits(1)) as [readonly [string, string]];
    const id = await round({ assets: [a] });
    const [mine, chief] = [ids['tester'] ?? '', ids['officer'] ?? ''];
    await take(id, [a], null, chief, officer);
    expect((await take(id, [a], chief, null)).body.code).toBe('round.notYours');
    expect((await take(id, [a], chief, mine)).body.items[0]?.takenBy?.id).toBe(mine);
    expect((await take(id, [a], mine, ids['reader'] ?? '')).body.code).toBe('account.unknown');
    expect((await take(id, [a], mine, '019d0000-0000-7000-8000-000000000000')).body.code).toBe('account.unknown');
    // An officer hands on what another has.
    expect((await take(id, [a], mine, chief, officer)).body.items[0]?.takenBy?.id).toBe(chief);
    // What was thought of who has it is past.
    expect(await take(id, [a], mine, null, officer)).toMatchObject({ status: 409, body: { code: 'round.taken' } });
    expect((await take(id, [a], chief, null, officer)).body.items[0]?.takenBy).toBeNull();
  });

  it('is not begun by another without saying so', async () => {
    const [[tag, a]] = (await suits(1)) as [readonly [string, string]];
    const id = await round({ assets: [a] });
    await take(id, [a], null, ids['officer'] ?? '', officer);
    expect((await next(id, tag)).body).toMatchObject({ code: 'round.taken' });
    expect((await next(id, tag, { takeOver: true })).status).toBe(201);
    expect((await stands(id))[0]).toEqual([tag, 'open', ids['tester']]);
  });
});

describe('the day’s work', () => {
  const start = (who = tester) => who.ask<DayWork & { code?: string }>('POST', '/api/rounds/day');

  it('is a round of each rule set that is owed, on the gauges of the last time, and the same however often it is asked for', async () => {
    clock.ms += 86_400_000;
    tester = await new Person(app).signIn('tester');
    officer = await new Person(app).signIn('officer');
    const owes = { procedure: 'suit.inflation', ruleSet: 'in-h2o-4', counting: 'rolling', interval: 'P1Y', anchor: '2025-11-01' };
    const [[a, first], [, later]] = (await suits(2)) as [readonly [string, string], readonly [string, string]];
    const owe = async (item: string, anchor: string) =>
      expect((await officer.ask('POST', '/api/obligations', { ...owes, asset: item, anchor })).status).toBeLessThan(300);
    await owe(first, '2025-11-01');
    await owe(later, '2026-11-25');
    const [one, other] = await Promise.all([start(), start(officer)]);
    expect([one.status, other.status]).toEqual([200, 200]);
    const mine = one.body.rounds.find((r) => r.procedure === 'suit.inflation');
    expect(other.body.rounds.map((r) => r.id).sort()).toEqual(one.body.rounds.map((r) => r.id).sort());
    const items = (await sheet(mine?.id ?? '')).items;
    expect(items.map((i) => i.tag)).toContain(a);
    const soon = (await officer.ask<AssetView>('GET', `/api/assets/${later}`)).body;
    expect(items.some((i) => i.asset === later)).toBe(soon.readiness === 'neverTested');
    expect((await sheet(mine?.id ?? '')).instruments).toHaveLength(1);
    // The brakes of the truck ask what is of their day: each by itself, and said so.
    expect(one.body.alone.every((x) => x.why !== '')).toBe(true);
    const record = await through((await next(mine?.id ?? '', a)).body, 3.9, proves);
    expect(record).toMatch(/^GR-/);
    const again = (await start()).body.rounds.find((r) => r.procedure === 'suit.inflation');
    expect(again?.id).toBe(mine?.id);
    expect(again?.counts.pass).toBe(1);
  });

  it('leaves alone what is blocked, condemned, put away or under test already', async () => {
    const found = (await start()).body.rounds.find((r) => r.procedure === 'suit.inflation');
    const items = (await sheet(found?.id ?? '')).items;
    const blocked = (await officer.ask<{ rows: { id: string }[] }>('GET', '/api/assets?state=blocked')).body.rows.map((r) => r.id);
    expect(blocked.length).toBeGreaterThan(0);
    const done = new Set(items.filter((i) => i.stands !== 'left').map((i) => i.asset));
    expect(items.filter((i) => blocked.includes(i.asset) && !done.has(i.asset))).toEqual([]);
  });

  it('chooses no gauge for anybody whose calibration has run out: the first is begun by hand', async () => {
    await s.connection.db.update(instrument).set({ calibrationDue: '2026-11-30' });
    const [[, a]] = (await suits(1)) as [readonly [string, string]];
    const refused = await tester.ask<{ code: string }>('POST', '/api/rounds', { procedure: 'suit.inflation', ruleSet: 'in-h2o-4', assets: [a] });
    expect(refused).toMatchObject({ status: 409, body: { code: 'round.noGauges' } });
    const named = await tester.ask('POST', '/api/rounds', {
      procedure: 'suit.inflation',
      ruleSet: 'in-h2o-4',
      assets: [a],
      instruments: { suit: s.ids.manual },
    });
    expect(named.status).toBe(201);
  });

  it('is not for those who look on', async () => {
    expect((await start(reader)).status).toBe(403);
  });
});
