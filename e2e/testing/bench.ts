import { execFileSync } from 'node:child_process';
import { expect, type Page } from '@playwright/test';
import { carryOnUntil, openRecord, type Carried } from './practisedHand';

export const people = { officer: 'skarvoy-officer', tester: 'skarvoy-tester', reader: 'skarvoy-reader' } as const;

export async function signIn(page: Page, name: keyof typeof people = 'tester'): Promise<void> {
  await page.goto('/');
  await page.getByLabel('Name').fill(name);
  await page.getByLabel('Password').fill(people[name]);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL('**/today');
}

/** Chooses from one of PrimeNG's selects by its label. */
export async function choose(page: Page, id: string, option: string): Promise<void> {
  const box = page.locator(`#${id}`);
  await box.click();
  const list = page.getByRole('listbox');
  await list.getByRole('option', { name: option }).click();
  // The list of this one is gone before the next one opens.
  await expect(list).toHaveCount(0);
}

export async function openAsset(page: Page, tag: string): Promise<void> {
  await page.goto(`/register?q=${tag}`);
  await page.getByRole('link', { name: tag, exact: true }).click();
  await expect(page.getByRole('heading', { level: 1, name: tag })).toBeVisible();
}

/** Starts a run on an asset with named gauges, by channel. */
export async function startRun(page: Page, tag: string, gauges: Readonly<Record<string, string>>): Promise<void> {
  await openAsset(page, tag);
  for (const [channel, gauge] of Object.entries(gauges)) await choose(page, `gauge-${channel}`, gauge);
  await page.getByLabel('Serial on the item').fill(await page.locator('dt:has-text("Serial") + dd').first().innerText());
  await page.getByRole('button', { name: 'Start', exact: true }).click();
  await page.waitForURL('**/bench/**');
  // It stands before the lock has come: what is pressed until then says nothing.
  await expect(page.locator('footer .primary')).toBeEnabled();
}

export const primary = (page: Page) => page.locator('footer .primary');

export async function label(page: Page): Promise<string> {
  return (await primary(page).innerText({ timeout: 20_000 })).replace(/\s+/g, ' ').trim();
}

/** A run of the demo that reads the rig's gauges. */
const onItsGauges: Carried = { procedure: { channels: { every: 'one' } } };

/** Goes on with a run that reads a rig as a practised hand would, and stops when the label of the primary action matches. */
export async function carryOn(page: Page, until: RegExp): Promise<void> {
  await carryOnUntil(page, onItsGauges, async () => until.test(await label(page)));
  expect(await label(page)).toMatch(until);
}

/** Seals the run and opens its record. */
export async function sealAndRead(page: Page): Promise<void> {
  await carryOn(page, /To the record/);
  await openRecord(page);
  await expect(page.getByRole('heading', { name: 'Findings' })).toBeVisible();
}

/** The text of the certificate of the record that is open. */
export async function certificateText(page: Page): Promise<string> {
  const href = await page.getByRole('link', { name: 'Certificate (PDF)' }).getAttribute('href');
  const reply = await page.request.get(href ?? '');
  expect(reply.headers()['content-type']).toBe('application/pdf');
  return execFileSync('pdftotext', ['-layout', '-', '-'], { input: await reply.body(), encoding: 'utf8' });
}
