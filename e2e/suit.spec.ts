import { expect, test } from '@playwright/test';
import { carryOn, certificateText, openAsset, sealAndRead, signIn, startRun } from './testing/bench';
import { setUp } from './testing/practisedHand';
import { sharing } from './testing/rotation';

const shared = sharing(test, 4);

shared('a tight suit passes, has its certificate and its next due date', async ({ page }) => {
  await signIn(page);
  await startRun(page, 'GS-08', { suit: 'PL-01' });
  await expect(page.getByText('SIMULATED', { exact: true })).toBeVisible();
  await setUp(page, 'none');
  await sealAndRead(page);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('GS-08 is tight');
  const due = `${new Date().getUTCFullYear() + 1}-${new Date().toISOString().slice(5, 10)}`;
  await expect(page.getByText(due)).toBeVisible();
  const text = await certificateText(page);
  expect(text).toContain('GS-08 is tight');
  expect(text).toContain(due);
  expect(text).toContain('SIMULATED');
  expect(text).toMatch(/2\.\d\d\d − [12]\.\d\d\d [=≈] 0\.\d\d\d inH2O in 3 min/);
  await openAsset(page, 'GS-08');
  await expect(page.getByText(`next due ${due}`)).toBeVisible();
});

shared('a leaking suit fails and is in quarantine', async ({ page }) => {
  await signIn(page);
  await startRun(page, 'GS-01', { suit: 'PL-02' });
  await setUp(page, 'zip end');
  await sealAndRead(page);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('GS-01 leaks');
  await expect(page.getByText('Not to be used.')).toBeVisible();
  const text = await certificateText(page);
  expect(text).toContain('GS-01 leaks');
  expect(text).toContain('unchanged: this run does not release the item');
  await page.goto('/today');
  const blocked = page.locator('section').filter({ has: page.getByRole('heading', { name: /May not be used/ }) });
  await expect(blocked.getByRole('link', { name: 'GS-01', exact: true })).toBeVisible();
  await openAsset(page, 'GS-01');
  await expect(page.getByRole('heading', { name: 'Not to be used' })).toBeVisible();
});

shared('a leaking kit says nothing of the suit: prove it again', async ({ page }) => {
  await signIn(page);
  await startRun(page, 'GS-12', { suit: 'PL-03' });
  await setUp(page, 'kit joint');
  await carryOn(page, /Inflate/);
  await expect(page.getByText('The test kit itself leaks: nothing is said of the item')).toBeVisible();
  await page.keyboard.press('r');
  await page.getByLabel(/done again/).fill('remade the joint');
  await page.keyboard.press('Enter');
  await setUp(page, 'none');
  await sealAndRead(page);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('GS-12 is tight');
  await expect(page.getByRole('heading', { name: 'Earlier attempts' })).toBeVisible();
});
