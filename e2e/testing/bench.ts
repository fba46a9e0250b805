import { execFileSync } from 'node:child_process';
import { expect, type Page } from '@playwright/test';
import { handDoes, worked } from './rigHand';

export const people = { officer: 'skarvoy-officer', tester: 'skarvoy-tester', reader: 'skarvoy-reader' } as const;

export async function signIn(page: Page, name: keyof typeof people = 'tester'): Promise<void> {
  await page.goto('/');
  await page.getByLabel('Name').fill(name);
  await page.getByLabel('Password').fill(people[name]);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL('**/today');
}

/** Chooses from one of PrimeNG's selects by its label. */
async function choose(page: Page, id: string, option: string): Promise<void> {
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

/** Sets the simulated rig up with a fault; its clock stands still until it is stepped. */
export async function setUpRig(page: Page, fault: string): Promise<void> {
  await page.getByLabel('Fault').selectOption(fault);
  await worked(page, () => page.getByRole('button', { name: 'Set up anew' }).click());
  await worked(page, () => page.getByRole('button', { name: 'still', exact: true }).click());
}

/** Lets time pass on the rig; every reading of it is emitted. */
export async function pass(page: Page, seconds: number): Promise<void> {
  await page.getByLabel('Let pass, s').fill(String(seconds));
  await worked(page, () => page.getByRole('button', { name: 'Pass', exact: true }).click());
}

/** The seconds that a label such as `Holding · 2:18 left` still has to go. */
function secondsOf(text: string): number {
  const found = /(\d+):(\d\d)/.exec(text);
  return found ? Number(found[1]) * 60 + Number(found[2]) : 0;
}

/** Steps the clock until the needle stands where the step wants it. */
async function intoWindow(page: Page): Promise<void> {
  for (let i = 0; i < 60 && !(await primary(page).isEnabled()); i++) {
    await pass(page, 8);
    await page.waitForTimeout(400); // the readings come by way of the server
    // What the hand was to do may not have been there to be done when it was looked for.
    if (i % 8 === 7 && !(await primary(page).isEnabled())) await handDoes(page);
  }
  await expect(primary(page)).toBeEnabled();
}

async function doNext(page: Page, now: string): Promise<void> {
  // The program says by itself that a stage is over: a press that comes a moment after it would begin the next one.
  if (now.startsWith('Judge it')) {
    await expect.poll(() => label(page)).not.toBe(now);
    return;
  }
  if (/^(Settling|Holding)/.test(now)) {
    await handDoes(page);
    await pass(page, secondsOf(now) + 1);
    await expect.poll(() => label(page)).not.toBe(now);
    return;
  }
  if (now.startsWith('It stands')) {
    await handDoes(page);
    await intoWindow(page);
  } else if (now.startsWith('Start the hold')) {
    // Trimmed until the needle stands, because what was let down warms and rises; then the tap is shut, or it would hide a leak.
    const trim = page.getByRole('button', { name: 'Trim to the window' });
    if (await trim.isVisible()) {
      await worked(page, () => trim.click());
      await pass(page, 20);
    }
    await intoWindow(page);
    await handDoes(page);
  } else if (now.startsWith('Done')) {
    await handDoes(page);
    await pass(page, 1);
  } else if (now.startsWith('Nothing here')) {
    // A place takes its time before it can be called dry.
    for (let i = 0; i < 5 && !(await primary(page).isEnabled()); i++) await pass(page, 5);
  } else if (now.startsWith('Yes')) {
    // What takes its time before it can be answered, a plug that is counted, takes the rig's.
    for (let i = 0; i < 5 && !(await primary(page).isEnabled()); i++) await pass(page, 2);
  }
  await expect(primary(page)).toBeEnabled();
  const said = await page.locator('.question, .say strong').first().innerText();
  await page.keyboard.press(now.startsWith('Seal') ? 'z' : 'Space');
  await expect.poll(async () => `${await label(page)} ${await page.locator('.question, .say strong').first().innerText()}`).not.toBe(`${now} ${said}`);
}

/** Goes through the run as a practised person would, step by step, and stops when the label of the primary action matches. */
export async function carryOn(page: Page, until: RegExp): Promise<void> {
  for (let step = 0; step < 120; step++) {
    const now = await label(page);
    if (until.test(now)) return;
    await doNext(page, now);
  }
  throw new Error(`never came to ${String(until)}; it stands at "${await label(page)}"`);
}

/** Seals the run and opens its record. */
export async function sealAndRead(page: Page): Promise<void> {
  await carryOn(page, /To the record/);
  await expect(primary(page)).toBeEnabled();
  await page.keyboard.press('Space');
  await page.waitForURL('**/log/GR-*');
  await expect(page.getByRole('heading', { name: 'Findings' })).toBeVisible();
}

/** The text of the certificate of the record that is open. */
export async function certificateText(page: Page): Promise<string> {
  const href = await page.getByRole('link', { name: 'Certificate (PDF)' }).getAttribute('href');
  const reply = await page.request.get(href ?? '');
  expect(reply.headers()['content-type']).toBe('application/pdf');
  return execFileSync('pdftotext', ['-layout', '-', '-'], { input: await reply.body(), encoding: 'utf8' });
}
