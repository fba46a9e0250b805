import { expect, type APIRequestContext, type Page } from '@playwright/test';
import { atBench, carryThrough, openPractice, type Practice } from './testing/practice';
import { carryOnUntil, letHandDo, letPass, openRecord } from './testing/practisedHand';
import { worked } from './testing/rigHand';
import { inTurn, sharing } from './testing/rotation';
import { test } from './testing/signedIn';

/** An item as the register has it. */
interface Item {
  readonly id: string;
  readonly tag: string;
  readonly readiness: string;
  readonly why: string;
}

async function itemOf(api: APIRequestContext, tag: string): Promise<Item> {
  const { rows } = (await (await api.get(`/api/assets?q=${encodeURIComponent(tag)}`)).json()) as { rows: Item[] };
  const found = rows.find((r) => r.tag === tag);
  if (!found) throw new Error(`no item ${tag}`);
  return found;
}

const title = (page: Page) => page.getByRole('heading', { level: 1 });
const main = (page: Page) => page.locator('footer .primary');
const footer = (page: Page) => page.locator('footer[data-next]');

/** What will not fill, hold a vacuum or come under pressure at all: too large a leak to be measured is a leak. */
const neverFills = [
  { procedure: 'suit.inflation', ruleSet: 'in-h2o-4', fault: 'glove torn' },
  { procedure: 'anaes.circle', ruleSet: 'steady', fault: 'hole in the bag' },
  { procedure: 'ba.facepiece', ruleSet: 'mbar-10', fault: 'valve missing' },
  { procedure: 'ba.high-pressure', ruleSet: 'bar-10', fault: 'hose burst' },
  { procedure: 'tank.ibc', ruleSet: 'un', fault: 'manhole left open' },
  { procedure: 'store.half-life', ruleSet: 'new', fault: 'hatch left open' },
];

const shared = sharing(test, 4);

for (const c of inTurn(neverFills, 12))
  test(`${c.procedure} with ${c.fault} never fills: it leaks, is blocked, and stands on Today`, async ({ page, api }) => {
    const p = await openPractice(api, c.procedure, c.ruleSet);
    await carryThrough(page, p, c.fault);
    await expect(title(page)).toHaveText(`${p.tag} ${p.procedure.verdictWords.fail}`);
    await expect(page.getByText(/^Never (reached|came)|never reached|It never came/i).first()).toBeVisible();
    expect(await itemOf(api, p.tag)).toMatchObject({ readiness: 'blocked' });
    await page.goto('/today');
    await expect(page.getByRole('link', { name: new RegExp(p.tag) }).first()).toBeVisible();
  });

shared('a cylinder whose wall has yielded is condemned once that was confirmed, and no test of it is opened again', async ({ page, api }) => {
  const p = await openPractice(api, 'cyl.water-jacket', 'us-metal');
  await atBench(page, p, 'wall has yielded');
  await carryOnUntil(page, p, (at) => at.step === 'condemn-rig');
  await expect(page.getByText(/The rig was proved again, and holds by itself/).first()).toBeVisible();
  await carryOnUntil(page, p, (at) => at.next === 'seal');
  await expect(page.getByText(`Sealing condemns ${p.tag} for ever.`)).toBeVisible();
  await carryOnUntil(page, p, () => false);
  await openRecord(page);
  await expect(page.getByText(/Condemned: it never returns/).first()).toBeVisible();
  const item = await itemOf(api, p.tag);
  expect(item.readiness).toBe('condemned');
  const again = await api.post('/api/runs', { data: { procedure: 'cyl.water-jacket', ruleSet: 'us-metal', assets: { cylinder: item.id }, instruments: {} } });
  expect(again.ok()).toBe(false);
});

shared('what a rule set hangs on and nobody has said of the item is asked before the run, and written on the item', async ({ page, api }) => {
  const stamp = String(Date.now() % 1e8);
  const made = await api.post('/api/assets', { data: { tag: `GU-${stamp}`, serial: `U${stamp}`, class: 'anaesthetic-machine', title: 'Machine', place: 'Theatre', practice: true, attributes: {} } }); // prettier-ignore
  const { id } = (await made.json()) as { id: string };
  await page.goto(`/register/${id}`);
  // A rule set that nothing in the register asks for is chosen by the officer.
  await page.locator('#ruleset').click();
  await page.getByRole('option', { name: 'Outlet or bulb' }).click();
  await expect(page.getByText('Say first what is not known of this item; it is written on it.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Start', exact: true })).toBeDisabled();
  const fact = page.locator('gr-unknown-facts');
  await fact.getByRole('combobox').first().click();
  await page.getByRole('option', { name: /^no$/i }).click();
  // As many as there are of what is looked at one by one is asked as well: none is left out.
  await fact.locator('#a-vaporisers').fill('2');
  await fact.getByRole('button').last().click();
  await expect(page.getByText('Say first what is not known of this item; it is written on it.')).toBeHidden();
  expect(await (await api.get(`/api/assets/${id}`)).json()).toMatchObject({ attributes: { outletCheckValve: false, vaporisers: { value: 2 } } });
  await page.locator('#ruleset').click();
  await page.getByRole('option', { name: 'Outlet or bulb' }).click();
  await expect(page.locator('gr-day-list fieldset')).toHaveCount(2);
});

shared('a yes that the gauge contradicts is refused with what the gauge shows', async ({ page, api }) => {
  const p = await openPractice(api, 'anaes.circle', 'steady');
  await atBench(page, p, 'relief valve sticks');
  await carryOnUntil(page, p, (at) => at.next === 'answer' && at.step === 'falls-to-zero');
  await expect(main(page)).toBeDisabled();
  await expect(page.getByText(/The pressure falls smoothly to zero.*1[0-9](\.\d)? ?cmH2O|1[0-9](\.\d)? ?cmH2O.*falls smoothly to zero/i).first()).toBeVisible();
  await page.keyboard.press('Space');
  expect(await footer(page).getAttribute('data-step')).toBe('falls-to-zero');
});

shared('the strip of the set-up says where the chocks are, and they are asked for before anybody drives', async ({ page, api }) => {
  const p = await openPractice(api, 'brakes.whole', 'bus-a');
  await atBench(page, p, 'none');
  await carryOnUntil(page, p, (at) => at.step === 'stands.chocks.out');
  await expect(page.getByText('Chocks in').first()).toBeVisible();
  await expect(page.getByText('Take the chocks out').first()).toBeVisible();
  await carryOnUntil(page, p, (at) => at.step === 'moving-ground');
  await expect(page.getByText('Chocks out').first()).toBeVisible();
});

/** Presses one of the rig's own controls. */
const rigDoes = (page: Page, name: string): Promise<void> =>
  worked(page, () => page.locator('gr-rig-panel').getByRole('button', { name, exact: true }).click());

/** A suit that has been filled and settles. */
async function settling(page: Page, api: APIRequestContext, fault: string): Promise<Practice> {
  const p = await openPractice(api, 'suit.inflation', 'mbar-16.5');
  await atBench(page, p, fault);
  await carryOnUntil(page, p, (at) => at.next === 'wait' && at.step === 'settle');
  return p;
}

shared('a settling is watched: what sinks out of its window is topped up or told of, and the clock waits for it', async ({ page, api }) => {
  await settling(page, api, 'zip end');
  await rigDoes(page, 'Shut the tap');
  await letPass(page, 240);
  await expect(page.getByText(/top it up/i).first()).toBeVisible();
  const stands = await page.getByRole('timer').innerText();
  await letPass(page, 30);
  // Outside its window the clock does not run.
  expect(await page.getByRole('timer').innerText()).toBe(stands);
  await letHandDo(page);
  await letPass(page, 60);
  await expect(page.getByText(/top it up/i)).toBeHidden();
  expect(await page.getByRole('timer').innerText()).not.toBe(stands);
});

shared('a school by feel asks for no gauge, keeps its ten seconds, and its record says what a hand cannot find', async ({ page, api }) => {
  const p = await openPractice(api, 'anaes.mapleson-a', 'by-feel');
  await atBench(page, p, 'none');
  await carryOnUntil(page, p, ({ step }) => step === 'bag-taut');
  await expect(page.getByText('Hands off: the bag stays taut for ten seconds').first()).toBeVisible();
  // No yes before the time is over.
  await expect(main(page)).toBeDisabled();
  await expect(page.getByText(/it takes 10 s/)).toBeVisible();
  await carryOnUntil(page, p, () => false);
  await openRecord(page);
  await expect(title(page)).toHaveText(`${p.tag} is tight, by feel`);
  await expect(page.getByText(/By feel, without a gauge\. It finds .*; it cannot find a leak that takes longer/)).toBeVisible();
});
