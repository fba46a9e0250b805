import { type AssetRow, type AssetView, type InstrumentRow, type RegisterPage, type SavedViewRow } from '@grellin/contract';
import {
  addDays,
  occasionKinds,
  owedByUse,
  readiness,
  readinessKinds,
  usableUntil,
  useTriggers,
  type FilledRule,
  type OccasionKind,
  type UseTrigger,
} from '@grellin/core';
import { eq } from 'drizzle-orm';
import type { FastifyInstance } from 'fastify';
import { v7 } from 'uuid';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { asset, obligation, occasion, standing } from '../../src';
import { passedOn, Person, refreshed, station, type Station } from '../testing/station';

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

const add = async (tag: string, more: Record<string, unknown> = {}): Promise<AssetRow & { change: string }> =>
  (
    await officer.ask<AssetRow & { change: string }>('POST', '/api/assets', {
      tag,
      serial: `S-${tag}`,
      class: 'dry-suit',
      title: `Dry suit ${tag}`,
      place: 'Dive shed',
      practice: true,
      attributes: {},
      ...more,
    })
  ).body;
const filledRules: readonly FilledRule[] = ['untilEmptied', 'months', 'blocked'];
const page = async (query: string): Promise<RegisterPage> => (await tester.ask<RegisterPage>('GET', `/api/assets?${query}`)).body;
const tags = (p: RegisterPage): string[] => p.rows.map((r) => r.tag);

describe('a page of the register', () => {
  beforeAll(async () => {
    for (let i = 1; i <= 12; i++) await add(`DS-${String(i).padStart(2, '0')}`, { place: i % 2 === 0 ? 'Dive shed' : '50% store' });
  });

  it.each(['tag', 'title', 'serial', 'place', 'due', 'used'])('goes through all of it once, ordered by %s, either way', async (sort) => {
    for (const down of ['true', 'false']) {
      const seen: string[] = [];
      let after = '';
      for (let i = 0; i < 20; i++) {
        const p = await page(`class=dry-suit&limit=5&sort=${sort}&down=${down}${after}`);
        seen.push(...tags(p));
        if (p.next === null) break;
        after = `&after=${p.next}`;
      }
      expect([seen.length, new Set(seen).size]).toEqual([12, 12]);
    }
  });

  it('is counted once, with the first page', async () => {
    const first = await page('class=dry-suit&limit=5');
    expect([first.count, first.more]).toEqual([12, false]);
    expect((await page(`class=dry-suit&limit=5&after=${first.next ?? ''}`)).count).toBeNull();
  });

  it('finds part of a tag, serial, title or place, and takes no sign for a pattern', async () => {
    expect(tags(await page('q=ds-1'))).toEqual(['DS-10', 'DS-11', 'DS-12']);
    expect(tags(await page('q=s-ds-03'))).toEqual(['DS-03']);
    expect((await page('q=50%25%20store')).count).toBe(6);
    expect((await page('q=50_%20store')).count).toBe(0);
    expect(tags(await page('q=g'))).toEqual(['GS-01', 'GS-02']);
  });

  it.each([
    ['state=broken', 'malformed'],
    ['sort=colour', 'malformed'],
    ['limit=many', 'malformed'],
    ['shelf=3', 'malformed'],
    ['after=nonsense', 'page.cursor'],
  ])('refuses %s with %s', async (query, code) => {
    expect((await tester.ask('GET', `/api/assets?${query}`)).body).toMatchObject({ code });
  });

  it('knows the places that are in use', async () => {
    expect((await tester.ask<string[]>('GET', '/api/places')).body).toEqual(['50% store', 'Bench', 'Dive shed', 'Instruments']);
  });

  it('keeps a question for the person who asked it, and for nobody else', async () => {
    const kept = await officer.ask<SavedViewRow>('POST', '/api/views', {
      name: 'Dive shed',
      query: { place: 'Dive shed', sort: 'due' },
      columns: ['tag', 'due'],
    });
    expect(kept.status).toBe(201);
    expect((await officer.ask<SavedViewRow[]>('GET', '/api/views')).body).toMatchObject([{ name: 'Dive shed', query: { place: 'Dive shed', sort: 'due' } }]);
    expect((await tester.ask<SavedViewRow[]>('GET', '/api/views')).body).toEqual([]);
    await tester.ask('DELETE', `/api/views/${kept.body.id}`);
    expect((await officer.ask<SavedViewRow[]>('GET', '/api/views')).body).toHaveLength(1);
    expect((await officer.ask('DELETE', `/api/views/${kept.body.id}`)).status).toBe(204);
    expect((await officer.ask<SavedViewRow[]>('GET', '/api/views')).body).toEqual([]);
  });
});

describe('a change', () => {
  it('of an asset is undone, but not over a later one', async () => {
    const made = await add('CH-01');
    const first = await officer.ask<AssetRow & { change: string }>('PATCH', `/api/assets/${made.id}`, { revision: made.revision, place: 'Attic' });
    expect(first.body).toMatchObject({ place: 'Attic', revision: made.revision + 1 });
    const second = await officer.ask<AssetRow & { change: string }>('PATCH', `/api/assets/${made.id}`, { revision: first.body.revision, title: 'Renamed' });
    expect((await officer.ask('POST', `/api/changes/${first.body.change}/undo`)).body).toMatchObject({ code: 'change.overtaken' });
    expect((await officer.ask('POST', `/api/changes/${second.body.change}/undo`)).status).toBe(200);
    expect((await officer.ask('POST', `/api/changes/${first.body.change}/undo`)).status).toBe(200);
    expect((await officer.ask('POST', `/api/changes/${first.body.change}/undo`)).body).toMatchObject({ code: 'change.undone' });
    expect((await officer.ask<AssetView>('GET', `/api/assets/${made.id}`)).body).toMatchObject({ place: 'Dive shed', title: 'Dry suit CH-01' });
  });

  it('on an older sight of it is refused, and writes nothing', async () => {
    const made = await add('CH-02');
    await officer.ask('PATCH', `/api/assets/${made.id}`, { revision: 1, place: 'Attic' });
    expect((await officer.ask('PATCH', `/api/assets/${made.id}`, { revision: 1, place: 'Cellar' })).body).toMatchObject({ code: 'asset.changed' });
    expect((await officer.ask<AssetView>('GET', `/api/assets/${made.id}`)).body.place).toBe('Attic');
  });

  it('of many is one change and one undo; one unknown among them, and none is changed', async () => {
    const ids = [(await add('CH-03')).id, (await add('CH-04')).id];
    expect((await officer.ask('POST', '/api/assets/bulk', { assets: [...ids, v7()], place: 'Loft' })).body).toMatchObject({ code: 'asset.unknown' });
    expect((await page('place=Loft')).count).toBe(0);
    const done = await officer.ask<{ change: string; changed: number }>('POST', '/api/assets/bulk', { assets: ids, place: 'Loft', archived: true });
    expect(done.body.changed).toBe(2);
    expect((await page('place=Loft')).count).toBe(0);
    expect(tags(await page('place=Loft&archived=true'))).toEqual(['CH-03', 'CH-04']);
    await officer.ask('POST', `/api/changes/${done.body.change}/undo`);
    expect((await page('place=Loft&archived=true')).count).toBe(0);
    expect((await page('q=ch-0')).count).toBeGreaterThanOrEqual(2);
  });

  it('that added an asset puts it away again: nothing is erased', async () => {
    const made = await add('CH-05');
    await officer.ask('POST', `/api/changes/${made.change}/undo`);
    expect(tags(await page('q=ch-05'))).toEqual([]);
    expect(tags(await page('q=ch-05&archived=true'))).toEqual(['CH-05']);
  });

  it('is for the officer', async () => {
    expect((await tester.ask('PATCH', `/api/assets/${s.ids.suit}`, { revision: 1, place: 'X' })).status).toBe(403);
    expect((await tester.ask('POST', `/api/changes/${(await add('CH-06')).change}/undo`)).body).toMatchObject({ code: 'change.notYours' });
    expect((await officer.ask('POST', `/api/changes/${v7()}/undo`)).body).toMatchObject({ code: 'change.unknown' });
  });
});

describe('the end of a life', () => {
  it('blocks from the day after, by the day or by the month it was made', async () => {
    const old = await add('LF-01', { madeOn: addDays(today, -366 * 10), life: 'P10Y' });
    expect(old).toMatchObject({ readiness: 'blocked' });
    expect(old.why).toContain('its life ended');
    const month = await add('LF-02', { madeOn: '2016-02', life: 'P20Y' });
    expect(month.lifeEnds).toBe('2036-02-29');
    expect(tags(await page('state=blocked'))).toContain('LF-01');
  });
});

describe('the states of the register', () => {
  it('are the same in SQL as the core finds them, for every mixture of dates and happenings', async () => {
    const { db } = s.connection;
    const me = (await db.query.account.findFirst())?.id ?? '';
    // A small generator of its own: the same mixture every time.
    let seed = 7;
    const draw = (n: number): number => (seed = (seed * 48_271) % 2_147_483_647) % n;
    const made: {
      id: string;
      owes: { filled: FilledRule | null; trigger: UseTrigger | null; due: string | null; done: string | null }[];
      happened: Map<OccasionKind, string>;
    }[] = [];
    for (let i = 0; i < 120; i++) {
      const { id } = await add(`MX-${String(i).padStart(3, '0')}`, draw(6) === 0 ? { madeOn: '2000-01-01', life: 'P1Y' } : {});
      const owes = ['drysuit.survey', 'suit.inflation'].slice(0, draw(3)).map((procedure) => ({
        procedure,
        filled: draw(2) === 0 ? (filledRules[draw(3)] ?? null) : null,
        trigger: draw(2) === 0 ? (useTriggers[draw(useTriggers.length)] ?? null) : null,
        due: draw(4) === 0 ? null : addDays(today, draw(60) - 20),
        done: draw(3) === 0 ? null : new Date(Date.now() - draw(40) * 86_400_000).toISOString(),
      }));
      const happened = new Map<OccasionKind, string>();
      for (const kind of occasionKinds) if (draw(3) === 0) happened.set(kind, new Date(Date.now() - draw(40) * 86_400_000 - 60_000).toISOString());
      if (owes.length > 0)
        await db.insert(obligation).values(
          owes.map((o) => ({
            id: v7(),
            asset: id,
            procedure: o.procedure,
            ruleSet: 'general',
            interval: 'P1Y',
            counting: 'rolling' as const,
            anchor: today,
            filled: o.filled,
            triggers: o.trigger === null ? [] : [o.trigger],
            due: o.due,
            lastDone: o.done === null ? null : o.done.slice(0, 10),
            lastDoneAt: o.done === null ? null : new Date(o.done),
          })),
        );
      for (const [kind, at] of happened) await db.insert(occasion).values({ id: v7(), asset: id, kind, at: new Date(at), note: '', by: me });
      made.push({ id, owes, happened });
    }
    await refreshed(
      db,
      made.map((m) => m.id),
    );
    const inSql = new Map<string, string>();
    for (const state of readinessKinds)
      for (const row of (await page(`state=${state}&q=mx-&limit=200`)).rows) {
        expect(inSql.has(row.id), `${row.tag} is in two states`).toBe(false);
        inSql.set(row.id, state);
        expect(row.readiness).toBe(state);
      }
    expect(new Set(inSql.values()).size).toBeGreaterThanOrEqual(6);
    for (const m of made) {
      const [held] = await db.select().from(asset).where(eq(asset.id, m.id));
      const expected = readiness(
        {
          condemnedBy: null,
          blockedBy: null,
          heldBy: null,
          lifeEnds: held?.lifeEnds ?? null,
          tested: false,
          owes: m.owes.map((o) => ({
            dueOn: o.due,
            ...(o.due === null ? {} : { until: usableUntil(o.filled, o.due, m.happened.get('filled') ?? null, m.happened.get('emptied') ?? null) }),
            never: o.done === null,
            owedNow: o.trigger !== null && owedByUse(o.trigger, { done: o.done, ...Object.fromEntries(m.happened) }),
          })),
        },
        today,
      );
      expect(inSql.get(m.id), held?.tag).toBe(expected.readiness);
    }
    expect((await db.select().from(standing)).length).toBe((await db.select().from(asset)).length);
  }, 60_000);
});

describe('kits', () => {
  it('say how many are ready, and how many more are needed', async () => {
    const assets: string[] = [];
    for (let i = 1; i <= 4; i++) assets.push((await add(`KT-0${String(i)}`, { class: 'face-piece', title: 'Face-piece', place: 'Kit room' })).id);
    for (const [i, id] of assets.entries()) {
      const given = {
        asset: id,
        procedure: 'ba.facepiece',
        ruleSet: 'mbar-10',
        interval: 'P6M',
        counting: 'anchored',
        anchor: addDays(today, i === 0 ? -190 : -20),
      };
      expect((await officer.ask('POST', '/api/obligations', given)).status).toBe(201);
      expect((await officer.ask<AssetRow>('GET', `/api/assets/${id}`)).body.readiness).toBe(i === 0 ? 'overdue' : 'neverTested');
      await passedOn(s.connection.db, id, addDays(today, -20));
    }
    const made = await officer.ask<{ id: string; change: string }>('POST', '/api/kits', {
      name: 'Entry team',
      needs: [{ class: 'face-piece', minimum: 4 }],
      assets,
    });
    expect(made.status).toBe(201);
    expect((await tester.ask('GET', '/api/kits')).body).toMatchObject([
      { name: 'Entry team', ready: false, short: '3 of 4 face-pieces ready; one more needed', needs: [{ ready: 3, held: 4 }] },
    ]);
    const change = () => officer.ask<{ change: string }>('PUT', `/api/kits/${made.body.id}`, { name: 'Entry team', needs: [{ class: 'face-piece', minimum: 3 }], assets: assets.slice(0, 3) }); // prettier-ignore
    const smaller = await change();
    expect((await tester.ask('GET', '/api/kits')).body).toMatchObject([{ short: '2 of 3 face-pieces ready; one more needed', needs: [{ ready: 2, held: 3 }] }]);
    expect((await officer.ask('POST', `/api/changes/${smaller.body.change}/undo`)).status).toBe(200);
    expect((await tester.ask('GET', '/api/kits')).body).toMatchObject([{ needs: [{ minimum: 4, ready: 3, held: 4 }] }]);
    await officer.ask('PUT', `/api/kits/${made.body.id}`, { name: 'Entry team', needs: [{ class: 'face-piece', minimum: 3 }], assets });
    expect((await tester.ask('GET', '/api/kits')).body).toMatchObject([{ ready: true, short: null }]);
    expect((await officer.ask('POST', '/api/kits', { name: 'Entry team', needs: [{ class: 'face-piece', minimum: 3 }], assets: [] })).body).toMatchObject({
      code: 'kit.exists',
    });
    const other = await officer.ask<{ id: string }>('POST', '/api/kits', { name: 'Second', needs: [{ class: 'face-piece', minimum: 1 }], assets: [] });
    expect(
      (await officer.ask('PUT', `/api/kits/${other.body.id}`, { name: 'Entry team', needs: [{ class: 'face-piece', minimum: 1 }], assets: [] })).body,
    ).toMatchObject({ code: 'kit.exists' });
    await officer.ask('DELETE', `/api/kits/${other.body.id}`);
    const gone = await officer.ask<{ change: string }>('DELETE', `/api/kits/${made.body.id}`);
    expect((await tester.ask('GET', '/api/kits')).body).toEqual([]);
    await officer.ask('POST', `/api/changes/${gone.body.change}/undo`);
    expect((await tester.ask('GET', '/api/kits')).body).toHaveLength(1);
  });
});

describe('instruments in the register', () => {
  const figures = (tag: string, more: Record<string, unknown> = {}): Record<string, unknown> => {
    const q = (value: number) => ({ value, unit: 'mbar' });
    return { tag, title: 'Column gauge', fittedTo: null, low: q(0), high: q(50), resolution: q(0.1), accuracy: q(0.2), correlation: 0.9, calibrationDue: addDays(today, 90), address: null, rig: null, ...more }; // prettier-ignore
  };
  const addGauge = (tag: string, more?: Record<string, unknown>) => officer.ask<InstrumentRow & { change: string; code?: string }>('POST', '/api/instruments', figures(tag, more)); // prettier-ignore

  it('are assets of a class: found, owed their calibration, put away and taken back like any other', async () => {
    const made = (await addGauge('CG-01', { serial: 'C-77', place: 'Gauge room' })).body;
    expect((await page('class=instrument&q=cg-01')).rows).toMatchObject([
      { id: made.id, tag: 'CG-01', serial: 'C-77', class: 'instrument', place: 'Gauge room', due: addDays(today, 90), readiness: 'ready', why: 'Calibration: due in 90 days' }, // prettier-ignore
    ]);
    const put = await officer.ask<{ change: string }>('PATCH', `/api/assets/${made.id}`, { revision: 1, archived: true });
    const inUse = async (): Promise<string[]> => (await tester.ask<InstrumentRow[]>('GET', '/api/instruments')).body.map((i) => i.tag);
    expect(await inUse()).not.toContain('CG-01');
    await officer.ask('POST', `/api/changes/${put.body.change}/undo`);
    expect(await inUse()).toContain('CG-01');
  });

  it('are late when their calibration has run out, and right again after the next one', async () => {
    const { id } = (await addGauge('CG-02', { calibrationDue: addDays(today, -3) })).body;
    expect((await page('state=overdue&q=cg-02')).rows).toMatchObject([{ id, why: 'Calibration: 3 days late' }]);
    const nominal = { value: 20, unit: 'mbar' };
    const given = { on: today, due: addDays(today, 365), by: 'Laboratory', certificate: 'L-1', points: [{ nominal, asFound: nominal, asLeft: nominal }] };
    expect((await officer.ask('POST', `/api/instruments/${id}/calibrations`, given)).status).toBe(201);
    expect((await page('state=ready&q=cg-02')).rows).toMatchObject([{ id, due: addDays(today, 365) }]);
  });

  it('are added with their range alone: neither as an item nor by a file, nor under a tag that is taken', async () => {
    expect(await add('CG-03', { class: 'instrument' })).toMatchObject({ code: 'asset.isInstrument' });
    const csv = 'tag,serial,class,title,place\r\nCG-04,1,instrument,Gauge,Store\r\n';
    const columns = Object.fromEntries(['tag', 'serial', 'class', 'title', 'place'].map((c) => [c, c]));
    const report = await officer.ask('POST', '/api/assets/import', { csv, columns, write: false });
    expect(JSON.stringify(report.body)).toContain('it is added as an instrument');
    expect((await addGauge('GS-01')).body).toMatchObject({ code: 'instrument.exists' });
  });

  it('that are put away are not read in a run', async () => {
    const { id } = (await addGauge('CG-05')).body;
    await officer.ask('PATCH', `/api/assets/${id}`, { revision: 1, archived: true });
    const opened = await tester.ask('POST', '/api/runs', { procedure: 'suit.inflation', ruleSet: 'mbar-16.5', assets: { suit: s.ids.suit2 }, instruments: { suit: id } }); // prettier-ignore
    expect(opened.body).toMatchObject({ code: 'instrument.unfit' });
  });
});

describe('what was noted of an item', () => {
  const owed = async (id: string, triggers: readonly string[]) =>
    officer.ask('POST', '/api/obligations', { asset: id, procedure: 'drysuit.survey', ruleSet: 'general', interval: null, counting: 'rolling', anchor: today, triggers }); // prettier-ignore
  it('is taken back by who noted it, and no longer asks for anything', async () => {
    const { id } = await add('NO-01');
    await owed(id, ['afterUse']);
    await passedOn(s.connection.db, id, addDays(today, -1));
    const noted = await tester.ask<{ change: string; noted: number }>('POST', '/api/occasions', { assets: [id], kind: 'used' });
    const now = async (): Promise<AssetView> => (await tester.ask<AssetView>('GET', `/api/assets/${id}`)).body;
    expect(await now()).toMatchObject({ readiness: 'checkFirst', occasions: [{ kind: 'used' }] });
    expect((await tester.ask('POST', `/api/changes/${noted.body.change}/undo`)).body).toEqual({ what: 'NO-01: used' });
    expect(await now()).toMatchObject({ readiness: 'ready', occasions: [] });
  });

  it('a name that another bears by now is not given back', async () => {
    const kit = { needs: [{ class: 'dry-suit', minimum: 1 }], assets: [] };
    const first = (await officer.ask<{ id: string }>('POST', '/api/kits', { ...kit, name: 'North' })).body;
    const renamed = (await officer.ask<{ change: string }>('PUT', `/api/kits/${first.id}`, { ...kit, name: 'South' })).body;
    await officer.ask('POST', '/api/kits', { ...kit, name: 'North' });
    expect((await officer.ask('POST', `/api/changes/${renamed.change}/undo`)).body).toMatchObject({ code: 'change.overtaken' });
  });
});

describe('what was filled before its test fell due', () => {
  const cylinder = async (tag: string, due: string, filled: FilledRule) => {
    const { id } = await add(tag, { class: 'cylinder', title: 'Cylinder' });
    const rule = { asset: id, procedure: 'cyl.visual', ruleSet: 'us-metal', interval: 'P1Y', counting: 'rolling' as const };
    await s.connection.db.insert(obligation).values({ ...rule, id: v7(), anchor: due, due, lastDone: '2020-01-01', filled });
    await refreshed(s.connection.db, [id]);
    return id;
  };
  const note = (id: string, kind: OccasionKind, on: string) => tester.ask<{ code?: string }>('POST', '/api/occasions', { assets: [id], kind, on });
  const stands = async (id: string): Promise<string> => (await tester.ask<AssetView>('GET', `/api/assets/${id}`)).body.readiness;

  it('may be emptied, and is not filled again; emptied, it is late', async () => {
    const id = await cylinder('CY-F1', addDays(today, -10), 'untilEmptied');
    expect(await stands(id)).toBe('overdue');
    expect((await note(id, 'filled', addDays(today, -20))).status).toBe(201);
    expect(await stands(id)).toBe('useUp');
    expect((await note(id, 'filled', today)).body).toMatchObject({ code: 'occasion.notFilled', values: { tag: 'CY-F1' } });
    await note(id, 'emptied', addDays(today, -1));
    expect(await stands(id)).toBe('overdue');
  });

  it('for so many months, where the rule counts them', async () => {
    const soon = await cylinder('CY-F2', addDays(today, -10), 'months');
    const long = await cylinder('CY-F3', addDays(today, -120), 'months');
    await note(soon, 'filled', addDays(today, -20));
    await note(long, 'filled', addDays(today, -130));
    expect([await stands(soon), await stands(long)]).toEqual(['useUp', 'overdue']);
  });

  it('blocks all the same, where the rule says so', async () => {
    const id = await cylinder('CY-F4', addDays(today, -10), 'blocked');
    await note(id, 'filled', addDays(today, -20));
    expect(await stands(id)).toBe('overdue');
  });
});
