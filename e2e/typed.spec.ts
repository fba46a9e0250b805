import { expect, type Page } from '@playwright/test';
import { label, primary } from './testing/bench';
import { openPractice } from './testing/practice';
import { openRecord, takeOver } from './testing/practisedHand';
import { sharing } from './testing/rotation';
import { test } from './testing/signedIn';
import { at, carryOnTyped, type Shows } from './testing/typist';

const shared = sharing(test, 4);

/** What a gauge shows, typed and written down. */
async function type(page: Page, value: string): Promise<void> {
  await page.getByLabel('Circuit pressure, read now').fill(value);
  await page.keyboard.press('Enter');
}

async function typeInto(page: Page, label: string, value: string): Promise<void> {
  const input = page.getByLabel(label, { exact: true });
  if (!(await input.isVisible())) return;
  await input.fill(value);
  await input.press('Enter');
}

async function press(page: Page, wanted: RegExp): Promise<void> {
  await expect.poll(() => label(page)).toMatch(wanted);
  await expect(primary(page)).toBeEnabled();
  await primary(page).click();
}

/** The ten seconds of a steady circuit: the shortest hold of the catalogue, and no less a clock than an hour's. */
test('typed readings alone carry a run through, with a clock that is really waited out', async ({ page, api }) => {
  const p = await openPractice(api, 'anaes.circle', 'steady', true);
  await page.goto(`/bench/${p.run}`);
  await takeOver(page);
  await press(page, /Make safe/);
  for (let i = 0; i < 2; i++) await press(page, /Yes/);
  await press(page, /Set it up/);
  for (let i = 0; i < 7; i++) await press(page, /Yes/);
  await press(page, /zero/);
  await press(page, /Done|open/);
  await type(page, '0');
  await press(page, /Now/);
  await press(page, /Watch it stand/);
  await press(page, /Done|off/);
  await press(page, /Done/); // the relief valve, opened for the zero, is shut again
  await expect(primary(page)).toBeDisabled(); // nothing has been read yet
  await type(page, '30.4');
  await press(page, /in the window/);
  await expect.poll(() => label(page)).toMatch(/Settling|stretch/);
  await expect.poll(() => label(page), { timeout: 60_000 }).toMatch(/Start the hold/);
  await type(page, '30.2');
  const began = Date.now();
  await press(page, /Start the hold/);
  await expect.poll(() => label(page)).toMatch(/Holding/);
  await type(page, '30.1'); // a reading half-way ends nothing
  await expect.poll(() => label(page), { timeout: 60_000 }).toMatch(/Time is up/);
  expect(Date.now() - began).toBeGreaterThan(9_500);
  await type(page, '30');
  await expect(page.getByText(/30\.2 − 30(\.0)? = 0\.2 cmH2O in \d+ s; allowed 1/)).toBeVisible();
  await press(page, /Valves/);
  await press(page, /Yes/);
  await press(page, /Open the relief valve/);
  await type(page, '29.9'); // it falls from where it stood: that is read while it still stands
  await press(page, /Done/);
  await type(page, '0');
  for (let i = 0; i < 2; i++) await press(page, /Yes/);
  await press(page, /Leave it safe/);
  await type(page, '0');
  for (let i = 0; i < 4; i++) await press(page, /Yes/);
  await press(page, /Seal/);
  await openRecord(page);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(`${p.tag} is tight`);
});

shared('a combination of two trailers: seven axles and every stroke typed, and the trailers have passed with it', async ({ page, api }) => {
  const stamp = `${String(process.pid % 1000)}${String(Date.now() % 1e7)}`;
  const one = (value: number) => ({ value, unit: '1' });
  const made = async (tag: string, kind: string, attributes: object): Promise<string> => {
    const reply = await api.post('/api/assets', { data: { tag: `${tag}-${stamp}`, serial: `S${tag}${stamp}`, class: kind, title: tag, place: 'Vehicle hall', practice: true, attributes } }); // prettier-ignore
    expect(reply.ok(), await reply.text()).toBe(true);
    return ((await reply.json()) as { id: string }).id;
  };
  const truck = await made('TC', 'truck', {
    axles: one(3),
    units: one(3),
    lowAirLamp: true,
    lowAirBuzzer: true,
    secondLamp: false,
    lowAirMessage: false,
    ebs: false,
  });
  await made('TX', 'trailer', { axles: one(2) });
  await made('TY', 'trailer', { axles: one(2) });
  const gauge = async (tag: string, unit: string, high: number, step: number): Promise<void> => {
    const q = (value: number) => ({ value, unit });
    const reply = await api.post('/api/instruments', { data: { tag: `${tag}-${stamp}`, title: tag, serial: tag + stamp, place: 'Vehicle hall', fittedTo: null, low: q(0), high: q(high), resolution: q(step), accuracy: q(step), correlation: 0.9, calibrationDue: '2099-01-01', address: null, rig: null } }); // prettier-ignore
    expect(reply.ok(), await reply.text()).toBe(true);
  };
  await gauge('DG', '[psi]', 160, 1);
  await gauge('RU', '[in_i]', 6, 0.0625);
  await page.goto(`/register/${truck}`);
  await page.locator('#procedure').click();
  await page.getByRole('option', { name: /strokes/ }).click();
  await page.locator('#ruleset').click();
  await page.getByRole('option', { name: 'The table is the most there may be' }).click();
  const choose = async (id: string, option: string | RegExp): Promise<void> => {
    await page.locator(`#${id}`).click();
    await page.getByRole('option', { name: option }).last().click();
    await expect(page.locator('li[role=option]')).toHaveCount(0);
  };
  await choose('role-trailer', new RegExp(`TX-${stamp}`));
  await choose('role-secondTrailer', new RegExp(`TY-${stamp}`));
  await choose('gauge-primary', new RegExp(`DG-${stamp}`));
  await choose('gauge-strokeLeft', new RegExp(`RU-${stamp}`));
  await choose('gauge-strokeRight', new RegExp(`RU-${stamp}`));
  await page.locator('#figure-mileage').fill('84 210');
  const axles = [[/towing/, /^20$/], [/towing/, /^30$/], [/towing/, /^30$/], [/the first/, /^30$/], [/the first/, /^30$/], [/the second/, /^30$/], [/the second/, /^30$/]] as const; // prettier-ignore
  for (const [k, [unit, chamber]] of axles.entries()) {
    if (k >= 3) await page.getByRole('button', { name: 'Another axle' }).click();
    await page.locator(`#a-axles-${String(k + 1)}-name`).fill(`axle ${String(k + 1)}`);
    await choose(`a-axles-${String(k + 1)}-unit`, unit);
    await choose(`a-axles-${String(k + 1)}-chamber`, chamber);
  }
  await page.getByLabel('Serial on the item').fill(`STC${stamp}`);
  await page.getByRole('button', { name: 'Start', exact: true }).click();
  await page.waitForURL('**/bench/**');
  // Fractions of an inch as they are read off the rule; one axle is longer than the others, and within its table.
  const shows: Shows = (gauge, step) => (gauge.startsWith('Stroke') ? (step === 'strokeLeft' ? '1 1/2' : '1 9/16') : /six|charge/.test(step) ? '112' : '100');
  await carryOnTyped(page, shows, (_, next) => next === 'closed');
  await openRecord(page);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(`TC-${stamp} is within its strokes`);
  await expect(page.getByText(/Mileage 84210 km/)).toBeVisible();
  for (const tag of ['TX', 'TY']) await expect(page.getByText(`${tag}-${stamp}`).first()).toBeVisible();
  await expect(page.getByText(/Axle 7, axle 7/).first()).toBeVisible();
});

shared('a build-up by taps: a thumb for each gauge, and the watch runs while both have begun and neither has come there', async ({ page, api }) => {
  const p = await openPractice(api, 'brakes.whole', 'fire-apparatus', true);
  await page.goto(`/bench/${p.run}`);
  await takeOver(page);
  // What comes before it in the series is not waited for here: it never comes, and the run goes on.
  await expect(async () => {
    const here = await at(page);
    const never = page.getByRole('button', { name: /It never comes/ });
    if (here.next !== 'begin' && (await never.isVisible())) {
      await page.keyboard.press('g');
      await page.locator('#reason').fill('not waited for');
      await page.locator('#reason').press('Enter');
    } else if (here.step !== 'engine-idle-both' && (await primary(page).isEnabled())) await primary(page).click();
    else for (const label of await page.locator('gr-reading-form label').allInnerTexts()) await typeInto(page, label, '0');
    expect((await at(page)).step).toBe('build-up-both');
  }).toPass({ timeout: 60_000, intervals: [100] });
  await press(page, /Build up/);
  await typeInto(page, 'Engine speed, read now', '700');
  await press(page, /Done/);
  for (const gauge of ['Primary', 'Secondary']) await typeInto(page, `${gauge} gauge, read now`, '80');
  const tap = (gauge: string, psi: number) => page.getByRole('button', { name: new RegExp(`${gauge} gauge\\s*${String(psi)} psi\\s*now`) }).click();
  await tap('Primary', 85);
  await page.waitForTimeout(2000);
  // Both have passed 85 now: the watch begins here.
  await tap('Secondary', 85);
  await page.waitForTimeout(4000);
  await tap('Primary', 100);
  await expect(primary(page)).toBeDisabled();
  await page.waitForTimeout(2000);
  await tap('Secondary', 100);
  await typeInto(page, 'Engine speed, read now', '700');
  await press(page, /Now/);
  const told = page.getByText(/From 85 psi to 100 psi in [\d.]+ s; allowed 45 s/).first();
  await expect(told).toBeVisible();
  const seconds = Number(/in ([\d.]+) s/.exec(await told.innerText())?.[1]);
  expect(seconds).toBeGreaterThan(5.5);
  expect(seconds).toBeLessThan(20);
});
