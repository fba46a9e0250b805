import { expect, type Page } from '@playwright/test';
import { label, primary } from './testing/bench';
import { openPractice, openRecord } from './testing/practice';
import { test } from './testing/signedIn';

/** What a gauge shows, typed and written down. */
async function type(page: Page, value: string): Promise<void> {
  await page.getByLabel('Circuit pressure, read now').fill(value);
  await page.keyboard.press('Enter');
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
  await page.getByRole('button', { name: 'Take it over' }).click();
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
