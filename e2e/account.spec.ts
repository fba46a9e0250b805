import { expect } from '@playwright/test';
import { test } from './testing/signedIn';

test('a new person signs in with the password for once, gets nowhere before it is changed, and out as soon as the account is disabled', async ({
  page,
  browser,
}) => {
  const name = `hand-${String(Date.now() % 1_000_000)}`;
  const whole = `A New Hand ${name}`;
  await page.goto('/people');
  await page.getByRole('button', { name: 'Add a person' }).click();
  const made = page.getByRole('region', { name: 'A new person' });
  await made.getByLabel('Name to sign in with').fill(name);
  await made.getByLabel('Full name').fill(whole);
  await made.getByRole('button', { name: 'Add the person' }).click();
  const once = (await made.locator('.password').innerText()).trim();
  expect(once.length).toBeGreaterThanOrEqual(12);

  const theirs = await (await browser.newContext({ storageState: { cookies: [], origins: [] } })).newPage();
  await theirs.goto('/sign-in');
  const signIn = async (password: string): Promise<void> => {
    await theirs.getByLabel('Name').fill(name);
    await theirs.getByLabel('Password').fill(password);
    await theirs.getByRole('button', { name: 'Sign in' }).click();
  };
  await signIn(once);
  await expect(theirs.getByText('Choose your own before anything else')).toBeVisible();
  // Neither a typed address nor the server lets them by.
  await theirs.goto('/register');
  await theirs.waitForURL('**/account');
  expect((await theirs.request.get('/api/assets')).status()).toBe(403);
  await theirs.getByLabel('Old password').fill(once);
  await theirs.getByLabel('New password', { exact: true }).fill('kittiwakes over the outer skerry');
  await theirs.getByLabel('New password again').fill('kittiwakes over the outer skerry');
  await theirs.getByRole('button', { name: 'Change the password' }).click();
  await theirs.waitForURL('**/today');

  await page.reload();
  const row = page.getByRole('region', { name: whole });
  await row.getByRole('button', { name: `Account of ${whole}` }).click();
  await row.getByRole('button', { name: 'Disable', exact: true }).click();
  await expect(row.getByText('disabled', { exact: true })).toBeVisible();
  await theirs.goto('/register');
  await theirs.waitForURL('**/sign-in**');
  await signIn('kittiwakes over the outer skerry');
  await expect(theirs.getByRole('alert')).toHaveText('Name or password is wrong.');
});
