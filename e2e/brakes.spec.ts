import { expect, test } from '@playwright/test';
import { certificateText, label, openAsset, primary, sealAndRead, setUpRig, signIn, startRun } from './testing/bench';

test('tight brakes pass, with both gauges recorded', async ({ page }) => {
  await signIn(page);
  await startRun(page, 'TR-02', { primary: 'BP-01a', secondary: 'BP-01b' });
  await setUpRig(page, 'none');
  await sealAndRead(page);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('TR-02 is tight');
  await expect(page.getByText(/Recorded, not judged/).first()).toBeVisible();
  const text = await certificateText(page);
  expect(text).toContain('TR-02 is tight');
  expect(text).toMatch(/psi in 1 min; allowed 3\.0/);
});

test('a chamber that leaks fails the applied minute and blocks the vehicle', async ({ page }) => {
  await signIn(page);
  await startRun(page, 'TR-01', { primary: 'BP-02a', secondary: 'BP-02b' });
  await setUpRig(page, 'chamber diaphragm');
  await sealAndRead(page);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('TR-01 leaks');
  expect(await certificateText(page)).toContain('TR-01 leaks');
  await openAsset(page, 'TR-01');
  await expect(page.getByRole('heading', { name: 'Not to be used' })).toBeVisible();
});

/** Types a reading for each gauge. */
async function read(page: import('@playwright/test').Page, primaryPsi: string, secondaryPsi: string): Promise<void> {
  for (const [title, value] of [
    ['Primary gauge, read now', primaryPsi],
    ['Secondary gauge, read now', secondaryPsi],
  ] as const) {
    await page.getByLabel(title).fill(value);
    await page.keyboard.press('Enter');
    await expect(page.getByLabel(title))
      .toHaveValue('', { timeout: 2000 })
      .catch(() => undefined); // written down, or the stage has ended with it
  }
}

test('typed readings alone carry a run through, with a clock that is really waited out', async ({ page }) => {
  await signIn(page);
  await startRun(page, 'BU-02', { primary: 'BU-02 primary', secondary: 'BU-02 secondary' });
  await expect(page.getByText('SIMULATED', { exact: true })).toHaveCount(0);
  const press = async (wanted: RegExp): Promise<void> => {
    await expect.poll(() => label(page)).toMatch(wanted);
    await expect(primary(page)).toBeEnabled();
    await primary(page).click();
  };
  await press(/Identify/);
  for (let i = 0; i < 3; i++) await press(/Yes/);
  await page.keyboard.press('a');
  await page.getByLabel('Why does it not apply?').fill('no trailer');
  await page.keyboard.press('Enter');
  await press(/Look at/);
  for (let i = 0; i < 2; i++) await press(/Yes/);
  await press(/Applied/);
  await expect(primary(page)).toBeDisabled(); // nothing has been read yet
  await read(page, '124', '122');
  await press(/in the window/);
  await press(/Done/);
  await expect.poll(() => label(page)).toMatch(/Settling/);
  await expect.poll(() => label(page), { timeout: 60_000 }).toMatch(/Start the hold/);
  await read(page, '115', '114');
  const began = Date.now();
  await press(/Start the hold/);
  await expect.poll(() => label(page)).toMatch(/Holding/);
  await read(page, '114', '113'); // half-way readings end nothing
  await expect.poll(() => label(page), { timeout: 90_000 }).toMatch(/Time is up/);
  expect(Date.now() - began).toBeGreaterThan(58_000);
  await read(page, '113', '112');
  await expect(page.getByText(/115 − 113 = 2 psi in 1 min( \d+ s)?; allowed 3/)).toBeVisible();
  await press(/Leave it safe/);
  for (let i = 0; i < 3; i++) await press(/Yes/);
  await press(/Seal/);
  await press(/To the record/);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('BU-02 is tight');
  await expect(page.getByText('Simulated')).toHaveCount(0);
});
