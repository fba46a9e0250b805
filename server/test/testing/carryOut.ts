import type { RunView } from '@grellin/contract';
import type { Attributes, EventBody, RunEvent } from '@grellin/core';
import { practiceRun, rigFor } from '@grellin/core/practice';
import { v7 } from 'uuid';
import { insertInstruments, Moment } from '../../src';
import { HeldSpeaker, type HeldClock } from './speaker';
import type { Person, Station } from './station';

/** What a run is carried out with. */
export interface Hand {
  readonly station: Station;
  readonly officer: Person;
  readonly tester: Person;
  readonly clock: HeldClock;
}

/** A row of the register for whatever a test needs. @returns its id */
export async function added(
  officer: Person,
  item: { readonly tag: string; readonly class: string; readonly attributes?: object; readonly practice?: boolean },
): Promise<string> {
  const { status, body } = await officer.ask<{ id: string }>('POST', '/api/assets', {
    serial: `S-${item.tag}`,
    title: item.tag,
    place: 'Bench',
    practice: true,
    attributes: {},
    ...item,
  });
  if (status !== 201) throw new Error(JSON.stringify(body));
  return body.id;
}

/** What is said, without who said it and when. */
function bodyOf(event: RunEvent): EventBody {
  const head = new Set(['id', 'source', 'n', 'at']);
  return Object.fromEntries(Object.entries(event).filter(([name]) => !head.has(name))) as unknown as EventBody;
}

/**
 * Carries a procedure out from start to seal over the API, by typed readings alone, as a practised hand does: on an item that has no fault, or has one.
 * @param more items in other roles, by their ids; attributes that the item has besides
 * @returns the sealed run
 */
export async function carryOut(
  { station, officer, tester, clock }: Hand,
  tag: string,
  [procedure, ruleSet, fault = 'none']: readonly [string, string, string?],
  more: {
    readonly assets?: Readonly<Record<string, string>>;
    readonly id?: string;
    readonly kind?: string;
    readonly attributes?: Attributes;
    /** The tag of what the item carries, where its own dates answer. */
    readonly carries?: string;
    readonly simulated?: true;
  } = {},
): Promise<RunView> {
  const { opened, events } = practiceRun(procedure, ruleSet, rigFor(procedure) ?? '', fault, {
    readings: 'typed',
    ...(more.attributes ? { attributes: more.attributes } : {}),
    ...(more.carries === undefined ? {} : { carries: [{ id: more.carries, until: '9999-12-31' }] }),
  });
  const [role = ''] = Object.keys(opened.assets);
  const attributes = opened.assets[role]?.attributes ?? {};
  const item = more.id ?? (await added(officer, { tag, class: more.kind ?? '', attributes }));
  const gauges = Object.entries(opened.instruments).map(([channel, { fitted, ...facts }]) => {
    const name = `${tag} ${channel} ${v7().slice(-4)}`;
    return [
      channel,
      { ...facts, id: v7(), tag: name, title: name, fittedTo: fitted ? item : null, address: null, simulated: more.simulated === true, rig: null },
    ] as const;
  });
  if (gauges.length > 0) await insertInstruments(station.connection.db, gauges.map(([, g]) => g), new Moment(clock.now(), 'UTC')); // prettier-ignore
  const run = await tester.open(station, {
    procedure,
    ruleSet,
    assets: { [role]: item, ...more.assets },
    instruments: Object.fromEntries(gauges.map(([channel, g]) => [channel, g.id])),
    ...(opened.lists ? { lists: opened.lists } : {}),
  });
  const speaker = new HeldSpeaker(run, tester, clock);
  const said = events.filter((e) => e.kind !== 'opened' && e.kind !== 'recorded');
  while (said.length > 0) {
    // What is said at one moment is sent at once.
    const later = said.findIndex((e) => e.at > (said[0]?.at ?? 0));
    const now = said.splice(0, later < 0 ? said.length : later);
    const { status, body } = await speaker.send(now.map((e) => speaker.event(e.at / 1000, bodyOf(e))));
    if (status !== 201) throw new Error(JSON.stringify(body));
  }
  clock.ms += 60_000;
  return (await tester.ask<RunView>('GET', `/api/runs/${run.id}`)).body;
}
