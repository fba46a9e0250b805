import type { PlanView } from '@grellin/contract';
import { addDays, weekOf } from '@grellin/core';
import type { FastifyInstance } from 'fastify';
import { v7 } from 'uuid';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Person, station, type Station } from '../testing/station';

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

const view = async (weeks = 26): Promise<PlanView> => (await tester.ask<PlanView>('GET', `/api/plan?weeks=${String(weeks)}`)).body;

describe('the plan', () => {
  it('holds what falls due within the weeks asked for, with the minutes that each takes', async () => {
    const tests = (await view()).tests;
    expect(tests).toMatchObject([{ tag: 'GS-01', due: addDays(today, 5), procedure: 'suit.inflation' }]);
    expect(tests[0]?.minutes).toBeGreaterThanOrEqual(15);
    expect((await view(0)).tests).toEqual([]);
  });

  it('is kept whole, and what it names is put where it says', async () => {
    const bench = (await officer.ask<{ id: string }>('POST', '/api/plan/benches', { name: 'Suit bench', setups: ['suit.inflation'], hoursAWeek: 12 })).body.id;
    const obligation = (await view()).tests[0]?.id ?? '';
    const keep = (placed: unknown) => officer.ask('PUT', '/api/plan', { placed });
    const first = { obligation, week: weekOf(today), bench, fixed: true };
    expect((await keep([first])).body).toMatchObject({ kept: 1 });
    expect((await view()).kept).toEqual([first]);
    const second = (await keep([{ ...first, week: weekOf(today) + 1, fixed: false }])).body as { change: string };
    expect((await officer.ask('POST', `/api/changes/${second.change}/undo`)).status).toBe(200);
    expect((await view()).kept).toEqual([first]);
    expect((await keep([{ obligation, week: 1, bench: v7(), fixed: false }])).body).toMatchObject({ code: 'bench.unknown' });
    expect((await keep([{ obligation: v7(), week: 1, bench, fixed: false }])).body).toMatchObject({ code: 'obligation.unknown' });
    expect((await view()).kept).toHaveLength(1);
    const { path } = (await tester.ask<{ path: string }>('POST', '/api/calendar')).body;
    expect((await tester.ask('GET', path)).raw.toString()).toContain('SUMMARY:This week: GS-01');
    const gone = await officer.ask<{ change: string }>('DELETE', `/api/plan/benches/${bench}`);
    expect((await view()).kept).toEqual([]);
    expect((await officer.ask('DELETE', `/api/plan/benches/${bench}`)).body).toMatchObject({ code: 'bench.unknown' });
    expect((await officer.ask('POST', `/api/changes/${gone.body.change}/undo`)).status).toBe(200);
    expect((await view()).benches).toMatchObject([{ id: bench }]);
  });

  it('is the officer’s to keep, and a bench has its name once and hours of a week', async () => {
    expect((await tester.ask('PUT', '/api/plan', { placed: [] })).status).toBe(403);
    const bench = { name: 'Stand', setups: [], hoursAWeek: 10 };
    expect((await officer.ask('POST', '/api/plan/benches', bench)).status).toBe(201);
    expect((await officer.ask('POST', '/api/plan/benches', bench)).body).toMatchObject({ code: 'bench.exists' });
    expect((await officer.ask('POST', '/api/plan/benches', { ...bench, name: 'X', hoursAWeek: 200 })).body).toMatchObject({ code: 'malformed' });
    expect((await officer.ask('POST', '/api/plan/benches', { ...bench, name: 'Y', setups: ['hats'] })).body).toMatchObject({ code: 'procedure.unknown' });
  });
});
