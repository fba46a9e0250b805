import { assetClass, procedureById, type Procedure } from '@grellin/core';
import { setupFor, rigFor } from '@grellin/core/practice';
import { expect, type APIRequestContext, type Page } from '@playwright/test';
import { handDoes, worked } from './rigHand';

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
  for (const channel of Object.keys(setup.instruments))
    instruments[channel] = (await instrument(`${device} ${channel}`, channel, typed ? null : (setup.inputs[channel] ?? null))).id;
  const rig = Object.keys(setup.inputs).length > 0 ? undefined : (await instrument(device, null, 'none')).id;
  const figures = part(true);
  const run = await post<{ id: string }>(api, '/api/runs', {
    procedure: id,
    ruleSet,
    assets: { [role]: asset.id },
    instruments,
    ...(Object.keys(figures).length > 0 ? { figures: { [role]: figures } } : {}),
    ...(setup.lists ? { lists: setup.lists } : {}),
    ...(rig ? { rig } : {}),
  });
  return { run: run.id, tag, procedure };
}

const footer = (page: Page) => page.locator('footer[data-next]');
const main = (page: Page) => page.locator('footer .primary');
const panel = (page: Page) => page.locator('gr-rig-panel section');

/** Where a run stands, as the bench says it. */
export interface Here {
  readonly next: string;
  readonly step: string;
  readonly position: number;
}

async function here(page: Page): Promise<Here> {
  return footer(page).evaluate((f) => ({ next: f.dataset['next'] ?? '', step: f.dataset['step'] ?? '', position: Number(f.dataset['position'] ?? 0) }));
}

const same = (a: Here, b: Here): boolean => a.next === b.next && a.step === b.step;

/** Waits until the run has moved on from where it was. */
async function moved(page: Page, from: Here, any = true, timeout = 15_000): Promise<void> {
  await page.waitForFunction(
    ([next, step, position, count]) => {
      const f = document.querySelector<HTMLElement>('footer[data-next]');
      return f !== null && (f.dataset['next'] !== next || f.dataset['step'] !== step || (count && f.dataset['position'] !== String(position)));
    },
    [from.next, from.step, from.position, any] as const,
    { timeout, polling: 50 },
  );
}

async function press(page: Page, name: string): Promise<void> {
  await worked(page, () => panel(page).getByRole('button', { name, exact: true }).click());
}

/** Lets time pass, and waits until what the rig's instruments then say has come. */
async function pass(page: Page, seconds: number, streams: boolean): Promise<void> {
  const before = await here(page);
  await panel(page)
    .getByLabel('Let pass, s')
    .fill(String(Math.max(1, Math.ceil(seconds))));
  await press(page, 'Pass');
  // A logger that keeps its values for itself moves nothing: the wait is an allowance, not a need.
  if (streams) await moved(page, before, true, 3000).catch(() => undefined);
}

/** Gives the reason that the bar asks for. */
async function reason(page: Page, text: string): Promise<void> {
  await page.locator('#reason').fill(text, { timeout: 20_000 });
  await page.locator('#reason').press('Enter');
}

function secondsIn(text: string): number {
  const found = /(?:(\d+):)?(\d+):(\d\d)/.exec(text);
  return found ? Number(found[1] ?? 0) * 3600 + Number(found[2]) * 60 + Number(found[3]) : 1;
}

const MOST_TURNS = 400;
/** A quarter of an hour of the rig's, by the steps below. */
const PATIENCE_TURNS = 24;

/** Lets time pass until the primary action is open; false when patience runs out. */
async function untilOpen(page: Page, streams: boolean, step = 8): Promise<boolean> {
  for (let i = 0; i < PATIENCE_TURNS; i++) {
    if (await main(page).isEnabled()) return true;
    const now = await here(page);
    // What takes long is waited for in longer steps, and what never comes does not take the whole morning.
    await pass(page, Math.max(step, i < 4 ? 0 : i < 12 ? 20 : 60), streams);
    await page.waitForTimeout(50);
    if ((await here(page)).next !== now.next) return true;
  }
  return false;
}

async function turn(page: Page, at: Here, streams: boolean): Promise<void> {
  switch (at.next) {
    case 'answer': {
      const seen = panel(page).locator('[data-seen]');
      const wrong = (await seen.count()) > 0 && (await seen.getAttribute('class'))?.includes('wrong');
      if (wrong) {
        await page.keyboard.press('n');
        await reason(page, 'not in order');
      } else if (await page.getByRole('button', { name: /Does not apply/ }).isVisible()) {
        await page.keyboard.press('a');
        await reason(page, 'not fitted');
      } else if (await untilOpen(page, streams, 2)) await page.keyboard.press('Space');
      else {
        // Its gauge shows otherwise.
        await page.keyboard.press('n');
        await reason(page, 'its gauge shows otherwise');
      }
      return;
    }
    case 'seal':
      await expect(main(page)).toBeEnabled();
      await page.keyboard.press('z');
      return;
    case 'spot': {
      const words = await panel(page).locator('[data-seen]').innerText();
      const grade = /few/.test(words) ? 'A few at first' : /grows/.test(words) ? 'Grows with pressure' : /stream/.test(words) ? 'Steady stream' : null;
      if (grade === null) {
        // A place takes its time before it can be called dry: the rig's, where its clock is the run's.
        if (streams) await untilOpen(page, streams, 5);
        await expect(main(page)).toBeEnabled({ timeout: 30_000 });
        await page.keyboard.press('Space');
      } else await page.getByRole('button', { name: grade }).click();
      return;
    }
    case 'read':
      await panel(page).getByRole('button', { name: 'Write it down' }).click();
      return;
    case 'begin':
      await handDoes(page);
      await page.keyboard.press('Space');
      return;
    case 'act':
    case 'reach': {
      await handDoes(page);
      // What was waited for can have come while the hand was at it.
      if (!same(at, await here(page))) return;
      const came = (await panel(page).getByRole('alert').count()) === 0;
      if (at.next === 'act' && came) await pass(page, 1, streams);
      if (came && (await untilOpen(page, streams, at.next === 'act' ? 2 : 8))) await page.keyboard.press('Space');
      else {
        if (!same(at, await here(page))) return;
        await page.keyboard.press('g');
        await reason(page, 'it never came');
      }
      return;
    }
    case 'wait': {
      await handDoes(page);
      await pass(page, secondsIn(await main(page).innerText()) + 1, streams);
      await moved(page, at, false).catch(() => undefined);
      return;
    }
    case 'start': {
      await pass(page, 20, streams);
      await handDoes(page);
      await untilOpen(page, streams, 3);
      await page.keyboard.press('Space');
      return;
    }
    case 'hold': {
      await handDoes(page);
      await pass(page, secondsIn(await main(page).innerText()), streams);
      await moved(page, at, false).catch(() => undefined);
      return;
    }
    // The program says by itself that a stage is over: a press that comes a moment after it would begin the next one, before the rig's hand has done anything for it.
    case 'end':
      return;
    default:
      await page.keyboard.press('Space');
  }
}

/** Opens a run's bench, takes it over and sets its rig up with a fault; the rig's clock then stands still until it is stepped. */
export async function atBench(page: Page, p: Practice, fault: string): Promise<void> {
  await page.goto(`/bench/${p.run}`);
  await page.getByRole('button', { name: 'Take it over' }).click();
  await press(page, 'still');
  // The same noise every time: what the rig reads does not hang on the chance of a name.
  await panel(page).getByLabel('Seed').fill('5');
  const choice = panel(page).getByLabel('Fault');
  await choice.selectOption(fault);
  await expect(choice).toHaveValue(fault);
  await press(page, 'Set up anew');
  // It was set up with this one, and not with what stood there before the panel was whole.
  await expect(choice).toHaveValue(fault);
}

/**
 * Waits until the run stands elsewhere. A reading that comes in between is no answer to a press: who takes it for one looks at a page that is about to change, and
 * has the hand do the next step twice.
 */
async function goneOn(page: Page, from: Here): Promise<void> {
  try {
    await moved(page, from, false, 5000);
  } catch {
    await moved(page, from).catch(async () => {
      const whole = await page.locator('body').innerText();
      throw new Error(`stuck at ${from.next} ${from.step}: ${await footer(page).innerText()}\n${whole}`);
    });
  }
}

/** Goes on with a run on the real screens as a practised hand would, until it is closed or stands where it is wanted. */
export async function carryOnUntil(page: Page, p: Practice, wanted: (at: Here) => boolean): Promise<void> {
  const streams = Object.keys(p.procedure.channels).length > 0;
  for (let i = 0; i < MOST_TURNS; i++) {
    const at = await here(page);
    if (at.next === 'closed' || wanted(at)) return;
    await turn(page, at, streams);
    await goneOn(page, at);
  }
}

/** Lets time pass on the rig of a run that reads something from it. */
export function letPass(page: Page, seconds: number): Promise<void> {
  return pass(page, seconds, true);
}

/** Does what the rig's hand does at the step that is shown. */
export async function letHandDo(page: Page): Promise<void> {
  await handDoes(page);
}

/** Goes through a run on the real screens as a practised hand would, and opens its record. */
export async function carryThrough(page: Page, p: Practice, fault: string): Promise<void> {
  await atBench(page, p, fault);
  await carryOnUntil(page, p, () => false);
  await openRecord(page);
}

/** From a closed run to its record, once that has been written. */
export async function openRecord(page: Page): Promise<void> {
  await expect(main(page)).toHaveText(/To the record/);
  await expect(main(page)).toBeEnabled();
  await page.keyboard.press('Space');
  await page.waitForURL('**/log/GR-*');
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
