import type { AssetView, RecordView } from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { recomputeStanding } from '../../src';
import { added, carryOut, type Hand } from '../testing/carryOut';
import { HeldClock } from '../testing/speaker';
import { Person, station, type Station } from '../testing/station';

/** What is tested together, and what goes along with another: each owes for itself, and none is ready by the word of another. */
const clock = new HeldClock('2026-12-01T08:00:00Z');
let s: Station;
let app: FastifyInstance;
let officer: Person;
let tester: Person;
let hand: Hand;
beforeAll(async () => {
  s = await station({ now: clock.now() });
  app = await s.serve({}, clock);
});
beforeEach(async () => {
  clock.ms += 600_000;
  officer = await new Person(app).signIn('officer');
  tester = await new Person(app).signIn('tester');
  hand = { station: s, officer, tester, clock };
});
afterAll(() => s.close());

const item = async (id: string): Promise<AssetView> => (await tester.ask<AssetView>('GET', `/api/assets/${id}`)).body;
const owe = async (asset: string, procedure: string, ruleSet: string, more: object = {}): Promise<void> => {
  const rule = { asset, procedure, ruleSet, interval: 'P1M', counting: 'rolling', anchor: '2026-12-01', ...more };
  const { status, body } = await officer.ask('POST', '/api/obligations', rule);
  if (status !== 201) throw new Error(JSON.stringify(body));
};
const strokes = ['brakes.strokes', 'most'] as const;
const one = { value: 1, unit: '1' };
const recordOf = async (number: string | null): Promise<RecordView> => (await tester.ask<RecordView>('GET', `/api/records/${number ?? ''}`)).body;

describe('a trailer', () => {
  it('owes for itself: a pass of it with what pulls it settles for both, and one of the truck alone for the truck', async () => {
    const trailer = await added(officer, { tag: 'TL-01', class: 'trailer', attributes: { axles: one } });
    await owe(trailer, ...strokes);
    expect(await item(trailer)).toMatchObject({ readiness: 'neverTested' });
    await carryOut(hand, 'TR-11', strokes, { kind: 'truck', attributes: { axles: one } });
    expect(await item(trailer)).toMatchObject({ readiness: 'neverTested' });
    const run = await carryOut(hand, 'TR-12', strokes, {
      kind: 'truck',
      attributes: { axles: one, mileage: { value: 41_200, unit: 'km' } },
      assets: { trailer },
    });
    expect(await item(trailer)).toMatchObject({ readiness: 'ready', due: '2027-01-01' });
    const record = await recordOf(run.record);
    expect(record.verdict).toBe('pass');
    expect(record.told[0]).toMatchObject({ title: 'What was tested', things: [{ name: 'TR-12' }, { name: 'TL-01', words: 'Braked axles 1' }] });
    expect(record.told[0]?.things[0]?.words).toContain('Mileage 41200 km');
    // What it passed before it owed it counts for it too.
    const later = await added(officer, { tag: 'TL-02', class: 'trailer', attributes: { axles: one } });
    await carryOut(hand, 'TR-13', strokes, { kind: 'truck', attributes: { axles: one }, assets: { trailer: later } });
    await owe(later, ...strokes);
    expect(await item(later)).toMatchObject({ readiness: 'ready' });
  });

  it('is out of use with what pulls it where they fail together', async () => {
    const trailer = await added(officer, { tag: 'TL-03', class: 'trailer', attributes: { axles: one } });
    await carryOut(hand, 'TR-14', [...strokes, 'adjuster behind'], { kind: 'truck', attributes: { axles: one }, assets: { trailer } });
    expect(await item(trailer)).toMatchObject({ readiness: 'blocked' });
  });

  it('that is no practice item settles nothing and gets nothing lifted by what is played on a rig', async () => {
    const trailer = await added(officer, { tag: 'TL-05', class: 'trailer', attributes: { axles: one }, practice: false });
    await owe(trailer, ...strokes);
    const run = await carryOut(hand, 'TR-15', strokes, { kind: 'truck', attributes: { axles: one }, assets: { trailer }, simulated: true });
    expect(await item(trailer)).toMatchObject({ readiness: 'neverTested' });
    expect(await recordOf(run.record)).toMatchObject({
      verdict: 'pass',
      simulated: true,
      disposition: expect.stringContaining('nothing is settled by it') as unknown,
    });
  });

  it('is not named twice in one run', async () => {
    const trailer = await added(officer, { tag: 'TL-04', class: 'trailer', attributes: { axles: one } });
    const told = { procedure: 'brakes.whole', ruleSet: 'combination', assets: { vehicle: s.ids.truck, trailer, secondTrailer: trailer }, instruments: {} };
    expect(await tester.ask('POST', '/api/runs', told)).toMatchObject({ status: 409, body: { code: 'run.itemTwice' } });
  });
});

describe('a set and the cylinder that it carries', () => {
  const check = ['ba.user-check', 'quarter'] as const;
  const cylinderAttributes = { use: 'US metal', material: 'steel' };
  it('may be used no longer than its cylinder, whatever the set itself passed; and back again once that passes', async () => {
    const cylinder = await added(officer, { tag: 'CY-71', class: 'cylinder', attributes: cylinderAttributes });
    await carryOut(hand, 'CY-71', ['cyl.visual', 'us-metal'], { id: cylinder });
    await owe(cylinder, 'cyl.visual', 'us-metal', { interval: 'P1Y' });
    const run = await carryOut(hand, 'BA-71', check, { kind: 'breathing-set', attributes: { cylinder: 'CY-71' }, carries: 'CY-71' });
    const record = await recordOf(run.record);
    expect(record).toMatchObject({ verdict: 'pass' });
    expect(record.told[0]?.things[0]?.words).toContain('carries CY-71, usable until 2027-12-01');
    const set = record.asset;
    expect(await item(set)).toMatchObject({ readiness: 'ready' });
    // Whether it is in date is not asked of anybody.
    expect(JSON.stringify(record.findings)).not.toContain('within its test date');
    // Its cylinder is condemned on another day, by somebody else.
    const dented = await carryOut(hand, 'CY-71', ['cyl.visual', 'us-metal', 'heat mark'], { id: cylinder });
    expect((await recordOf(dented.record)).verdict).toBe('fail');
    expect(await item(set)).toMatchObject({ readiness: 'blocked' });
    expect((await item(set)).why).toContain('what it carries, CY-71: condemned');
    const again = { procedure: check[0], ruleSet: check[1], assets: { set }, instruments: {} };
    const refused = await tester.ask<{ code: string }>('POST', '/api/runs', again);
    expect(['asset.carriedUnfit', 'instrument.leftOut']).toContain(refused.body.code);
    // Another cylinder is put on it: the register is told, and it stands by that one.
    const other = await added(officer, { tag: 'CY-72', class: 'cylinder', attributes: cylinderAttributes });
    const now = await item(set);
    const changed = await officer.ask('PATCH', `/api/assets/${set}`, { revision: now.revision, attributes: { ...now.attributes, cylinder: 'CY-72' } });
    expect(changed.status).toBeLessThan(300);
    expect((await item(set)).why).toContain('what it carries, CY-72, was never tested');
    await carryOut(hand, 'CY-72', ['cyl.visual', 'us-metal'], { id: other });
    expect(await item(set)).toMatchObject({ readiness: 'ready' });
    expect(await recomputeStanding(s.connection.db)).toEqual([]);
  });

  it('is not ready by a cylinder that is for practice, where it is not itself: what is played on a rig says nothing of it', async () => {
    const cylinder = await added(officer, { tag: 'CY-75', class: 'cylinder', attributes: cylinderAttributes });
    await carryOut(hand, 'CY-75', ['cyl.visual', 'us-metal'], { id: cylinder });
    const real = await added(officer, { tag: 'BA-75', class: 'breathing-set', attributes: { cylinder: 'CY-75' }, practice: false });
    expect(await item(real)).toMatchObject({ readiness: 'blocked', why: expect.stringContaining('CY-75, is for practice') as unknown });
    const practised = await added(officer, { tag: 'BA-76', class: 'breathing-set', attributes: { cylinder: 'CY-75' } });
    expect((await item(practised)).readiness).toBe('neverTested');
  });

  it('does not open a check with a cylinder that may not be used, or that nobody knows', async () => {
    await expect(carryOut(hand, 'BA-72', check, { kind: 'breathing-set', attributes: { cylinder: 'CY-99' }, carries: 'CY-99' })).rejects.toThrow(
      'asset.carriedUnfit',
    );
    await added(officer, { tag: 'CY-73', class: 'cylinder', attributes: cylinderAttributes });
    await expect(carryOut(hand, 'BA-73', check, { kind: 'breathing-set', attributes: { cylinder: 'CY-73' }, carries: 'CY-73' })).rejects.toThrow(
      'asset.carriedUnfit',
    );
  });
});
