import { execFileSync } from 'node:child_process';
import { expect, type Page } from '@playwright/test';

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
  await page.getByRole('option', { name: option }).click();
}

export async function openAsset(page: Page, tag: string): Promise<void> {
  await page.goto('/register');
  await page.getByRole('link', { name: tag, exact: true }).click();
  await expect(page.getByRole('heading', { level: 1, name: tag })).toBeVisible();
}

/** Starts a run on an asset with named gauges, by channel. */
export async function startRun(page: Page, tag: string, gauges: Readonly<Record<string, string>>): Promise<void> {
  await openAsset(page, tag);
  for (const [channel, gauge] of Object.entries(gauges)) await choose(page, `gauge-${channel}`, gauge);
  await page.getByRole('button', { name: 'Start', exact: true }).click();
  await page.waitForURL('**/bench/**');
  await expect(page.locator('footer .primary')).toBeVisible();
}

export const primary = (page: Page) => page.locator('footer .primary');

export async function label(page: Page): Promise<string> {
  return (await primary(page).innerText({ timeout: 20_000 })).replace(/\s+/g, ' ').trim();
}

/** Sets the simulated rig up with a fault and lets its clock run. */
export async function setUpRig(page: Page, fault: string, speed = '×60'): Promise<void> {
  await page.getByLabel('Fault').selectOption(fault);
  await page.getByRole('button', { name: 'Set up anew' }).click();
  await expect(page.getByRole('button', { name: 'Set up anew' })).toBeEnabled();
  await page.getByRole('button', { name: speed, exact: true }).click();
}

const hand = (page: Page) => page.getByRole('button', { name: 'Do what the step asks' });

/**
 * Starts a hold as a person can: at the true speed of the clock, trimmed into the window, the tap shut, and only then the key. At sixty times that
 * speed a leak would leave the window before anybody could press.
 */
async function startHold(page: Page): Promise<void> {
  const gears = page.getByRole('group', { name: 'Speed of the simulated clock' }).locator('button[aria-pressed="true"]');
  const speed = await gears.innerText();
  await page.getByRole('button', { name: '×1', exact: true }).click();
  const trim = page.getByRole('button', { name: 'Trim to the window' });
  if (await trim.isVisible()) {
    if (!(await primary(page).isEnabled())) await trim.click();
    await expect(primary(page)).toBeEnabled({ timeout: 60_000 });
    await hand(page).click();
  }
  await expect(primary(page)).toBeEnabled();
  await page.keyboard.press('Space');
  await expect.poll(() => label(page)).toMatch(/Holding/);
  await page.getByRole('button', { name: speed, exact: true }).click();
}

/**
 * Goes through the run as a practised person would: the rig does what the step asks, Space says that it is done. Stops when the label of the
 * primary action matches.
 */
export async function carryOn(page: Page, until: RegExp, seconds = 150): Promise<void> {
  const deadline = Date.now() + seconds * 1000;
  let worked = '';
  while (Date.now() < deadline) {
    const now = await label(page);
    if (until.test(now)) return;
    if (/^Start the hold/.test(now)) {
      await startHold(page);
      continue;
    }
    const step = `${now.replace(/\d+:\d+/, '')} ${await page.locator('.say strong').innerText()}`;
    if (
      step !== worked &&
      (await hand(page)
        .isEnabled({ timeout: 1000 })
        .catch(() => false))
    ) {
      await hand(page).click();
      worked = step;
    }
    // Only what was read is pressed: at sixty times the clock the next stage may have come meanwhile.
    const words = now.replace(/ Space$/, '');
    if (await primary(page).isEnabled())
      await primary(page)
        .filter({ hasText: words })
        .click({ timeout: 400 })
        .catch(() => undefined);
    await page.waitForTimeout(100);
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
