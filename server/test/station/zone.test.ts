import type { RecordView, RunView, TodayView } from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { HeldClock, HeldSpeaker } from '../testing/speaker';
import { Person, station, type Station } from '../testing/station';

/** Half past eleven in the morning of Friday at Greenwich: half past midnight of Saturday at one station, half past one of Friday's night at another. */
const NOON = '2026-11-27T11:30:00Z';
let s: Station;
let app: FastifyInstance;
const clock = new HeldClock(NOON);

beforeAll(async () => {
  s = await station({ now: clock.now() });
  app = await s.serve({}, clock);
});
afterAll(() => s.close());

describe.each([
  ['Pacific/Tongatapu', '2026-11-28', '+13:00'],
  ['Pacific/Honolulu', '2026-11-27', '-10:00'],
  ['UTC', '2026-11-27', '+00:00'],
])('a station in %s', (zone, today, offset) => {
  it(`has ${today} for today: its list, what falls due after a pass, what it notes, and the offset of its runs`, async () => {
    clock.ms = Date.parse(NOON);
    const officer = await new Person(app).signIn('officer');
    expect((await officer.ask('PUT', '/api/station', { name: 'A station', zone })).status).toBe(200);
    expect((await officer.ask('GET', '/api/session')).body).toMatchObject({ zone });
    expect((await officer.ask<TodayView>('GET', '/api/today')).body.date).toBe(today);

    const speaker = new HeldSpeaker(await officer.open(s), officer, clock);
    await speaker.through(3.9);
    const { record } = (await officer.ask<RunView>('GET', `/api/runs/${speaker.run.id}`)).body;
    const view = (await officer.ask<RecordView>('GET', `/api/records/${record ?? ''}`)).body;
    expect(view.nextDue).toBe(`2027${today.slice(4)}`);
    const { rows } = await s.connection.pool.query<{ offset: string }>("SELECT event->>'offset' AS offset FROM run_event WHERE run = $1 AND seq = 1", [
      speaker.run.id,
    ]);
    expect(rows[0]?.offset).toBe(offset);
    const { rows: last } = await s.connection.pool.query<{ on: string }>('SELECT last_on::text AS on FROM standing WHERE asset = $1', [s.ids.suit]);
    expect(last[0]?.on).toBe(today);

    // Tomorrow has not come yet, wherever the server stands; today has.
    const note = (on: string) => officer.ask('POST', '/api/occasions', { assets: [s.ids.suit2], kind: 'used', on });
    expect((await note(today)).status).toBe(201);
    const next = new Date(Date.parse(`${today}T00:00:00Z`) + 86_400_000).toISOString().slice(0, 10);
    expect((await note(next)).body).toMatchObject({ code: 'occasion.ahead' });
  });
});

describe('a zone that is none', () => {
  it('is refused, and changes nothing', async () => {
    const officer = await new Person(app).signIn('officer');
    expect(await officer.ask('PUT', '/api/station', { name: 'A station', zone: 'Moon/Base' })).toMatchObject({ status: 400, body: { code: 'malformed' } });
    expect((await officer.ask('GET', '/api/station')).body).toMatchObject({ zone: 'UTC' });
    const tester = await new Person(app).signIn('tester');
    expect((await tester.ask('PUT', '/api/station', { name: 'Mine', zone: 'UTC' })).status).toBe(403);
  });
});
