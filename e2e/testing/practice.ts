import { assetClass, procedureById, type Procedure } from '@grellin/core';
import { setupFor, rigFor } from '@grellin/core/practice';
import type { APIRequestContext, Page } from '@playwright/test';
import { carryOnUntil, openRecord, setUp, takeOver } from './practisedHand';

/** A run opened for a test on an item and instruments of its own, made through the API. */
export interface Practice {
  readonly run: string;
  readonly tag: string;
  readonly procedure: Procedure;
}

let made = 0;
/** A number that no other worker and no earlier test has used. */
const fresh = (): string => `${String(process.pid % 1000)}${String(Date.now() % 100_000)}${String(made++)}`;

async function post<T>(api: APIRequestContext, path: string, data: unknown): Promise<T> {
  const reply = await api.post(path, { data });
  if (!reply.ok()) throw new Error(`${path}: ${String(reply.status())} ${await reply.text()}`);
  return (await reply.json()) as T;
}

/** A day that is past wherever the station is. */
const lastWeek = (): string => new Date(Date.now() - 7 * 86_400_000).toISOString().slice(0, 10);

/**
 * Opens a run of a procedure on its practice item, each with a rig of its own that stands still until it is stepped.
 * With `typed` no gauge is on a rig: every reading is a person's.
 */
export async function openPractice(api: APIRequestContext, id: string, ruleSet: string, typed = false): Promise<Practice> {
  const { procedure, tag, role, asset, instruments, rig, figures, lists } = await makePractice(api, id, ruleSet, typed);
  const run = await post<{ id: string }>(api, '/api/runs', {
    procedure: id,
    ruleSet,
    assets: { [role]: asset },
    instruments,
    ...(Object.keys(figures).length > 0 ? { figures: { [role]: figures } } : {}),
    ...(lists ? { lists } : {}),
    ...(rig ? { rig } : {}),
  });
  return { run: run.id, tag, procedure };
}

/** A round of a procedure with a number of its practice items, on gauges of its own. */
export async function openRound(
  api: APIRequestContext,
  id: string,
  ruleSet: string,
  items: number,
): Promise<{ readonly id: string; readonly procedure: Procedure; readonly serials: readonly string[] }> {
  const { procedure, serial, instruments, rig } = await makePractice(api, id, ruleSet, false);
  const serials = [serial];
  for (let i = 1; i < items; i++) serials.push((await makePractice(api, id, ruleSet, false, true)).serial);
  const round = await post<{ id: string }>(api, '/api/rounds', { procedure: id, ruleSet, instruments, ...(rig ? { rig } : {}) });
  return { id: round.id, procedure, serials };
}

/** An item and instruments of a test’s own, made through the API; with `fittedAlone` it has those alone that are its own. */
async function makePractice(api: APIRequestContext, id: string, ruleSet: string, typed: boolean, fittedAlone = false) {
  const procedure = procedureById(id);
  if (!procedure) throw new Error(`there is no procedure ${id}`);
  const setup = setupFor(id, ruleSet);
  const [role, copy] = Object.entries(setup.assets)[0] ?? [];
  const kind = procedure.roles[role ?? '']?.classes[0] ?? '';
  if (!role || !copy) throw new Error(`no item for ${id}`);
  const asked = new Set((assetClass(kind)?.attributes ?? []).filter((a) => a.asked).map((a) => a.id));
  const part = (wanted: boolean): Record<string, unknown> => Object.fromEntries(Object.entries(copy.attributes).filter(([name]) => asked.has(name) === wanted));
  const number = fresh();
  const tag = `${copy.id}-${number}`;
  const device = `${setup.device}-${number}`;
  const asset = await post<{ id: string }>(api, '/api/assets', { tag, serial: `S${number}`, class: kind, title: `Practice: ${procedure.title}`, place: 'Practice', practice: true, attributes: part(false) }); // prettier-ignore
  const instrument = (name: string, channel: string | null, input: string | null): Promise<{ id: string }> => {
    const of = channel === null ? undefined : setup.instruments[channel];
    const one = { value: 1, unit: '1' };
    const { low, high, resolution, accuracy } = of ?? { low: { value: 0, unit: '1' }, high: one, resolution: one, accuracy: one };
    return post(api, '/api/instruments', {
      tag: name,
      title: name,
      fittedTo: of?.fitted ? asset.id : null,
      low,
      high,
      resolution,
      accuracy,
      correlation: of?.correlation ?? 0,
      calibrationDue: of?.fitted ? null : '2099-12-31',
      calibratedOn: of?.calibratedOn === undefined ? null : lastWeek(),
      address: input === null ? null : `sim/${device}/${input}`,
      rig: input === null ? null : (rigFor(id) ?? null),
    });
  };
  const instruments: Record<string, string> = {};
  for (const channel of Object.keys(setup.instruments).filter((c) => !fittedAlone || setup.instruments[c]?.fitted))
    instruments[channel] = (await instrument(`${device} ${channel}`, channel, typed ? null : (setup.inputs[channel] ?? null))).id;
  const rig = Object.keys(setup.inputs).length > 0 || fittedAlone ? undefined : (await instrument(device, null, 'none')).id;
  return {
    procedure,
    tag,
    serial: `S${number}`,
    kind,
    attributes: part(false),
    role,
    asset: asset.id,
    instruments,
    rig,
    figures: part(true),
    lists: setup.lists,
  };
}

/** Opens a run's bench, takes it over and sets its rig up with a fault. */
export async function atBench(page: Page, p: Practice, fault: string): Promise<void> {
  await page.goto(`/bench/${p.run}`);
  await takeOver(page);
  await setUp(page, fault);
}

/** Goes through a run on the real screens as a practised hand would, and opens its record. */
export async function carryThrough(page: Page, p: Practice, fault: string): Promise<void> {
  await atBench(page, p, fault);
  await carryOnUntil(page, p, () => false);
  await openRecord(page);
}

/** Opens a run on an item of the demo, with the demo's own bench for it. */
export async function openDemo(api: APIRequestContext, tag: string, id: string, ruleSet: string): Promise<Practice> {
  const procedure = procedureById(id);
  if (!procedure) throw new Error(`there is no procedure ${id}`);
  const get = async <T>(path: string): Promise<T> => (await (await api.get(path)).json()) as T;
  const asset = (await get<{ rows: { id: string; tag: string }[] }>(`/api/assets?q=${tag}`)).rows.find((a) => a.tag === tag);
  const all = await get<{ id: string; tag: string; low: { unit: string } }[]>('/api/instruments');
  const setup = setupFor(id, ruleSet);
  const role = Object.keys(setup.assets)[0] ?? '';
  const copy = Object.values(setup.assets)[0];
  const kind = procedure.roles[role]?.classes[0] ?? '';
  const asked = new Set((assetClass(kind)?.attributes ?? []).filter((a) => a.asked).map((a) => a.id));
  const figures = Object.fromEntries(Object.entries(copy?.attributes ?? {}).filter(([name]) => asked.has(name)));
  const instruments: Record<string, string> = {};
  for (const channel of Object.keys(setup.instruments)) {
    const eye = all.find((i) => i.tag === (channel.startsWith('stroke') ? 'RU-01' : 'BC-01'));
    const found = all.find((i) => new RegExp(`^${setup.device}-0\\d ${channel}$`).test(i.tag)) ?? eye;
    if (found) instruments[channel] = found.id;
  }
  const rig = Object.keys(setup.inputs).length > 0 ? undefined : all.find((i) => i.tag.startsWith(`${setup.device}-01`))?.id;
  const run = await post<{ id: string }>(api, '/api/runs', {
    procedure: id,
    ruleSet,
    assets: { [role]: asset?.id },
    instruments,
    ...(Object.keys(figures).length > 0 ? { figures: { [role]: figures } } : {}),
    ...(setup.lists ? { lists: setup.lists } : {}),
    ...(rig ? { rig } : {}),
  });
  return { run: run.id, tag, procedure };
}

/** An item of a procedure with gauges that are read by eye, and no run yet. */
export const makeTyped = (api: APIRequestContext, id: string, ruleSet: string): Promise<{ readonly tag: string; readonly asset: string }> =>
  makePractice(api, id, ruleSet, true);
