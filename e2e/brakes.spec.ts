import { expect, test } from '@playwright/test';
import { certificateText, openAsset, sealAndRead, signIn, startRun } from './testing/bench';
import { setUp } from './testing/practisedHand';
import { sharing } from './testing/rotation';

const shared = sharing(test, 3);

shared('tight brakes pass, with both gauges recorded', async ({ page }) => {
  await signIn(page);
  await startRun(page, 'TR-02', { primary: 'BP-01a', secondary: 'BP-01b' });
  await setUp(page, 'none');
  await sealAndRead(page);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('TR-02 is tight');
  await expect(page.getByText(/Recorded, not judged/).first()).toBeVisible();
  const text = await certificateText(page);
  expect(text).toContain('TR-02 is tight');
  expect(text).toMatch(/psi in 1 min; allowed 3\.0/);
});

shared('a chamber that leaks fails the applied minute and blocks the vehicle', async ({ page }) => {
  await signIn(page);
  await startRun(page, 'TR-01', { primary: 'BP-02a', secondary: 'BP-02b' });
  await setUp(page, 'chamber diaphragm');
  await sealAndRead(page);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('TR-01 leaks');
  expect(await certificateText(page)).toContain('TR-01 leaks');
  await openAsset(page, 'TR-01');
  await expect(page.getByRole('heading', { name: 'Not to be used' })).toBeVisible();
});
