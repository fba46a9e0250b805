import type { AddressInfo } from 'node:net';
import type { PositionedEvent, RunView } from '@grellin/contract';
import type { FastifyInstance } from 'fastify';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { connect } from '../../src';
import { batchAfter, type Batch } from '../../src/run/store';
import { loggers, passwords, Pen, Person, station, type Station } from '../testing/station';

let s: Station;
let sims: Awaited<ReturnType<typeof loggers>>;
let here: FastifyInstance;
let there: FastifyInstance;
let tester: Person;
beforeAll(async () => {
  s = await station();
  sims = await loggers();
  here = await s.serve({ instruments: sims.entry });
  there = await s.serve({ instruments: sims.entry });
  for (const app of [here, there]) await app.listen({ port: 0, host: '127.0.0.1' });
  tester = await new Person(here).signIn('tester');
});
afterAll(async () => {
  await s.close();
  await sims.close();
});

const addressOf = (app: FastifyInstance): string => `http://127.0.0.1:${(app.server.address() as AddressInfo).port}`;

async function cookieOf(app: FastifyInstance): Promise<string> {
  const reply = await app.inject({ method: 'POST', url: '/api/session', payload: { name: 'tester', password: passwords.tester } });
  return `grellin_session=${reply.cookies[0]?.value ?? ''}`;
}

/** Listens to a run's events at one server until `enough`. */
async function listen(app: FastifyInstance, run: string, after: number, enough: (events: readonly PositionedEvent[]) => boolean): Promise<PositionedEvent[]> {
  const stop = AbortSignal.timeout(20_000);
  const reply = await fetch(`${addressOf(app)}/api/runs/${run}/events?after=${after}`, { headers: { cookie: await cookieOf(app) }, signal: stop });
  expect(reply.headers.get('content-type')).toBe('text/event-stream');
  const events: PositionedEvent[] = [];
  let text = '';
  for await (const part of reply.body ?? []) {
    text += Buffer.from(part as Uint8Array).toString();
    const messages = text.split('\n\n');
    text = messages.pop() ?? '';
    for (const m of messages) {
      const data = /^data: (.*)$/m.exec(m)?.[1];
      if (data !== undefined) events.push(...(JSON.parse(data) as { events: PositionedEvent[] }).events);
    }
    if (enough(events)) return events;
  }
  return events;
}

const rig = (command: Record<string, unknown>) => tester.ask('POST', `/api/instruments/${s.ids.logger}/rig`, command);
const valuesOf = (events: readonly PositionedEvent[]): number[] => events.flatMap((e) => (e.event.kind === 'samples' ? [...e.event.values] : []));
const timesOf = (events: readonly PositionedEvent[]): number[] =>
  events.flatMap(({ event: e }) => (e.kind === 'samples' ? e.values.map((_, i) => e.at + i * e.everyMs) : []));

describe('a simulated instrument, two servers, one database', () => {
  it('sends several runs down one connection, each from its position, and refuses what is no list of runs', async () => {
    const [one, two] = [await tester.open(s), await tester.open(s, { assets: { suit: s.ids.suit2 }, instruments: { suit: s.ids.manual } })];
    const cookie = await cookieOf(here);
    const stop = new AbortController();
    const reply = await fetch(`${addressOf(here)}/api/runs/events?follow=${one.id}:0,${two.id}:1`, { headers: { cookie }, signal: stop.signal });
    expect(reply.headers.get('content-type')).toBe('text/event-stream');
    const pen = new Pen('bench:two');
    await tester.ask('POST', `/api/runs/${two.id}/events`, { lease: 1, events: [pen.write(1, { kind: 'disturbed', note: 'a door' })] });
    const seen = new Map<string, string[]>();
    let text = '';
    for await (const part of reply.body ?? []) {
      text += Buffer.from(part as Uint8Array).toString();
      for (const found of text.matchAll(/^data: (.*)$/gm)) {
        const { run, events } = JSON.parse(found[1] ?? '') as { run: string; events: PositionedEvent[] };
        seen.set(run, [...(seen.get(run) ?? []), ...events.map((e) => e.event.kind)]);
      }
      text = text.slice(text.lastIndexOf('\n\n') + 2);
      if (seen.get(one.id)?.includes('opened') && seen.get(two.id)?.includes('disturbed')) break;
    }
    stop.abort();
    expect(seen.get(one.id)).toEqual(['opened']);
    expect(seen.get(two.id)).toEqual(['disturbed']);
    for (const bad of ['', one.id, `${one.id}:x`, `${one.id}:0;DROP`])
      expect((await tester.ask('GET', `/api/runs/events?follow=${encodeURIComponent(bad)}`)).status).toBe(400);
    expect((await tester.ask('GET', '/api/runs/events?follow=01900000-0000-7000-8000-000000000000:0')).status).toBe(404);
  });

  let run: RunView;
  beforeAll(async () => {
    await rig({ act: 'free', speed: 0 });
    await rig({ act: 'reset', fault: 'none' });
    run = await tester.open(s, { instruments: { suit: s.ids.logger } });
  });

  it('is marked simulated, and its device cannot serve two open runs', async () => {
    expect(run.clock).toBe('simulated');
    const second = await tester.ask('POST', '/api/runs', {
      procedure: 'suit.inflation',
      ruleSet: 'in-h2o-4',
      assets: { suit: s.ids.suit2 },
      instruments: { suit: s.ids.logger },
    });
    expect(second).toMatchObject({ status: 409, body: { code: 'instrument.busy', values: { run: run.id } } });
  });

  it('sends live values to both servers, every reading of a stepped clock, each once and in order', async () => {
    await rig({ act: 'hand', move: 'fill', to: 1370 });
    const enough = (events: readonly PositionedEvent[]): boolean => valuesOf(events).length >= 240;
    const both = Promise.all([listen(here, run.id, 0, enough), listen(there, run.id, 0, enough)]);
    await rig({ act: 'step', seconds: 60 });
    await rig({ act: 'step', seconds: 60 });
    const [a, b] = await both;
    expect(valuesOf(a)).toHaveLength(240);
    expect(valuesOf(b)).toEqual(valuesOf(a));
    const times = timesOf(a);
    expect(times.every((t, i) => i === 0 || t - (times[i - 1] ?? 0) === 500)).toBe(true);
    expect(valuesOf(a).some((v) => v > 13)).toBe(true);
  });

  it('says so when a device does not answer', async () => {
    const alone = await s.serve({ instruments: { sim: { host: '127.0.0.1', port: 1 } } });
    const person = await new Person(alone).signIn('tester');
    const reply = await person.ask('POST', `/api/instruments/${s.ids.logger}/rig`, { act: 'free', speed: 1 });
    expect(reply).toMatchObject({ status: 502, body: { code: 'instrument.unreachable' } });
    await alone.close();
  });

  it('goes on reading at another server when the one that read has gone, and no reading is lost or doubled', async () => {
    await here.close();
    await new Person(there).signIn('tester');
    tester = tester.at(there);
    await rig({ act: 'step', seconds: 30 });
    const events = await listen(there, run.id, 0, (e) => valuesOf(e).length >= 300);
    const times = timesOf(events);
    expect(times).toHaveLength(300);
    expect(times.every((t, i) => i === 0 || t - (times[i - 1] ?? 0) === 500)).toBe(true);
  });

  it('does not believe a person whose clock is ahead of the instrument', async () => {
    const pen = new Pen();
    const ahead = await tester.ask('POST', `/api/runs/${run.id}/events`, {
      lease: 1,
      events: [pen.write(400_000, { kind: 'began', stage: 'gather', attempt: 1 })],
    });
    expect(ahead).toMatchObject({ status: 409, body: { code: 'event.ahead' } });
  });

  it('refuses a fault, a move and a device that are not there', async () => {
    expect((await rig({ act: 'reset', fault: 'moths' })).body).toMatchObject({ code: 'instrument.refused' });
    expect((await rig({ act: 'hand', move: 'kick' })).body).toMatchObject({ code: 'instrument.refused' });
    expect((await tester.ask('POST', `/api/instruments/${s.ids.manual}/rig`, { act: 'free', speed: 1 })).body).toMatchObject({
      code: 'instrument.notSimulated',
    });
  });
});

describe('the last of a run’s events', () => {
  it('brings with it that the run is closed, at whatever moment it is stored', async () => {
    const run = await tester.open(s, { assets: { suit: s.ids.suit2 }, instruments: { suit: s.ids.manual } });
    const reader = connect(s.url);
    const ask = reader.pool.query.bind(reader.pool) as (...args: unknown[]) => Promise<unknown>;
    let asked = 0;
    // The run is closed as early as it can be: after the first answer of the database, before it is asked for more.
    reader.pool.query = (async (...args: unknown[]) => {
      const reply = await ask(...args);
      if (++asked === 1) expect((await tester.ask('POST', `/api/runs/${run.id}/events`, { lease: 1, events: [new Pen().write(0, { kind: 'abandoned', reason: 'for the test' })] })).status).toBe(201); // prettier-ignore
      return reply;
    }) as typeof reader.pool.query;
    const holds = (batch: Batch): boolean => batch.events.some((e) => e.event.kind === 'abandoned');
    const first = await batchAfter(reader.db, run.id, 0, 100);
    const second = await batchAfter(reader.db, run.id, 0, 100);
    for (const batch of [first, second]) expect(batch.closed).toBe(holds(batch));
    expect(holds(second)).toBe(true);
    await reader.close();
  });
});
