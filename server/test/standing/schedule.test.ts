import type { TodayView } from '@grellin/contract';
import { addDays } from '@grellin/core';
import { eq } from 'drizzle-orm';
import type { FastifyInstance } from 'fastify';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { instrument, obligation } from '../../src';
import { Person, refreshed, station, type Station } from '../testing/station';

let s: Station;
let app: FastifyInstance;
let officer: Person;
const today = new Date().toISOString().slice(0, 10);
beforeAll(async () => {
  s = await station();
  app = await s.serve();
  officer = await new Person(app).signIn('officer');
});
afterAll(() => s.close());

const owe = (more: Record<string, unknown>) =>
  officer.ask('POST', '/api/obligations', {
    asset: s.ids.suit2,
    procedure: 'suit.inflation',
    ruleSet: 'in-h2o-4',
    interval: 'P1Y',
    counting: 'anchored',
    anchor: today,
    ...more,
  });
const due = async (days: number) => {
  await s.connection.db
    .update(obligation)
    .set({ due: addDays(today, days), lastDone: '2026-01-02' })
    .where(eq(obligation.asset, s.ids.suit));
  await refreshed(s.connection.db, [s.ids.suit]);
  return (await officer.ask<TodayView>('GET', '/api/today')).body;
};

describe('what an asset owes', () => {
  // SCH-E3 through the API: a day that the month lacks becomes its last. Reg. 1182/71, from memory.
  it('counts the first due date from its anchor', async () => {
    const { status, body } = await owe({ interval: 'P1M', anchor: '2025-01-31' });
    expect([status, body['due']]).toEqual([201, '2025-02-28']);
  });

  it('is owed once, to an asset and under a rule set that exist', async () => {
    expect((await owe({})).body).toMatchObject({ code: 'obligation.exists' });
    expect((await owe({ ruleSet: 'elsewhere' })).body).toMatchObject({ code: 'procedure.unknown' });
    expect((await owe({ asset: '01a21210-5165-73ba-a61a-96e6123016d0' })).body).toMatchObject({ code: 'asset.unknown' });
    expect((await owe({ interval: 'PT5H' })).body).toMatchObject({ code: 'malformed', flaws: [{ path: 'interval', code: 'interval' }] });
    expect((await owe({ anchor: '2025-02-30' })).body).toMatchObject({ flaws: [{ path: 'anchor' }] });
  });
});

describe('today', () => {
  it.each([
    [-3, 'overdue', '3 days late'],
    [-1, 'overdue', 'one day late'],
    [0, 'due', 'due today'],
    [1, 'due', 'due tomorrow'],
    [14, 'due', 'due in 14 days'],
  ] as const)('due in %s days is %s: %s', async (days, section, why) => {
    const view = await due(days);
    expect(view[section].rows.find((a) => a.tag === 'GS-01')).toMatchObject({ why: `Gas-tight suit, inflation test: ${why}`, due: addDays(today, days) });
  });

  it('fifteen days ahead is not yet shown as due', async () => {
    const view = await due(15);
    expect([...view.due.rows, ...view.overdue.rows, ...view.blocked.rows].map((a) => a.tag)).not.toContain('GS-01');
  });

  it('names what runs, and instruments whose calibration ends within thirty days, fitted ones never', async () => {
    await s.connection.db
      .update(instrument)
      .set({ calibrationDue: addDays(today, 30) })
      .where(eq(instrument.id, s.ids.manual));
    await refreshed(s.connection.db, [s.ids.manual]);
    const run = await officer.open(s);
    const view = (await officer.ask<TodayView>('GET', '/api/today')).body;
    expect(view.running).toMatchObject([{ id: run.id, tag: 'GS-01', by: 'The officer', clock: 'live', blocks: false }]);
    expect(view.instruments.map((i) => [i.tag, i.days])).toEqual([
      ['MG-09', -1],
      ['MG-01', 30],
    ]);
  });
});
