import AxeBuilder from '@axe-core/playwright';
import { expect, type BrowserContext, type Page } from '@playwright/test';
import { makeTyped } from './testing/practice';
import { choose, people, primary } from './testing/bench';
import { takePicture } from './testing/picture';
import { test } from './testing/signedIn';
import { carryOnTyped, type Shows } from './testing/typist';

/** With nothing but the device: what was taken along, carried out from a cold start to the seal, and handed in. */
test.use({ serviceWorkers: 'allow' });

const PIN = '482913';

/** Waits until the pages are kept: from then on they open without a server. */
async function pagesKept(page: Page): Promise<void> {
  await page.evaluate(async () => {
    await navigator.serviceWorker.ready;
    const listing = (await (await fetch('/ngsw.json')).json()) as { hashTable: Record<string, string> };
    const wanted = Object.keys(listing.hashTable).length;
    const kept = async (): Promise<number> => {
      const names = (await caches.keys()).filter((n) => n.includes(':assets:') && n.endsWith(':cache'));
      return (await Promise.all(names.map(async (n) => (await (await caches.open(n)).keys()).length))).reduce((a, b) => a + b, 0);
    };
    while ((await kept()) < wanted) await new Promise((go) => setTimeout(go, 200));
  });
}

/** Takes an item along by its tag, on the page that does it. */
async function takeAlong(page: Page, tag: string): Promise<void> {
  await page.goto('/along');
  await page.getByLabel('Tag or serial of an item').fill(tag);
  await page.getByLabel('Tag or serial of an item').press('Enter');
  await expect(page.getByRole('checkbox', { name: new RegExp(tag) })).toBeChecked();
  await page.getByLabel('PIN', { exact: true }).fill(PIN);
  await page.getByLabel('The PIN again').fill(PIN);
  await page.getByRole('button', { name: 'Take 1 item along' }).click();
  await expect(page.getByRole('link', { name: 'Open it with its PIN' })).toBeVisible();
}

async function unlock(page: Page, pin = PIN): Promise<void> {
  await page.getByLabel('PIN').fill(pin);
  await page.getByRole('button', { name: 'Open what was taken along' }).click();
}

/** Starts its test by what lies on the device, and carries it out by typing alone. */
async function carryOut(page: Page, tag: string, shows: Shows): Promise<void> {
  await page
    .getByRole('link', { name: new RegExp(tag) })
    .first()
    .click();
  await expect(page.getByRole('heading', { level: 1, name: tag })).toBeVisible();
  await choose(page, 'ruleset', 'Steady ten seconds');
  await page.getByLabel('Serial on the item').fill(await page.locator('dt:has-text("Serial") + dd').first().innerText());
  await page.getByRole('button', { name: 'Start', exact: true }).click();
  await page.waitForURL('**/bench/**');
  await expect(primary(page)).toBeEnabled();
  await takePicture(page, 'the rig as it stood');
  // It falls from where it stood: that is read while it still stands.
  await carryOnTyped(page, shows, (step) => step === 'open-relief');
  await page.getByLabel('Circuit pressure, read now').fill('30');
  await page.keyboard.press('Enter');
  await expect(page.getByLabel('Circuit pressure, read now')).toHaveValue('');
  await primary(page).click();
  await carryOnTyped(page, shows, (_, next) => next === 'closed');
  await expect(primary(page)).toHaveText(/To the record/);
  await page.keyboard.press('Space');
  await page.waitForURL('**/along');
}

/** A circuit that stands at 30 and is let down to nothing. */
const steady: Shows = (_, step) => {
  return /zero|down|after|safe|pressure$/.test(step) ? '0' : '30';
};

async function offline(context: BrowserContext, off: boolean): Promise<void> {
  await context.setOffline(off);
}

test('a test is carried out from a cold start with no server, sealed on the device, and becomes a record when it is back', async ({ page, context, api }) => {
  const { tag } = await makeTyped(api, 'anaes.circle', 'steady');
  await page.goto('/today');
  await pagesKept(page);
  await takeAlong(page, tag);
  await page.close();

  await offline(context, true);
  const away = await context.newPage();
  await away.goto('/');
  await expect(away.getByRole('heading', { name: 'Away from the server' })).toBeVisible();
  await unlock(away, '000000');
  await expect(away.getByRole('alert')).toHaveText('That is not the PIN.');
  await unlock(away);
  await expect(away.getByRole('heading', { level: 1, name: 'Working away' })).toBeVisible();
  const { violations } = await new AxeBuilder({ page: away }).withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']).analyze();
  expect(violations.map((v) => v.id)).toEqual([]);
  await carryOut(away, tag, steady);
  await expect(away.getByText('not handed in yet')).toBeVisible();
  // Without the server it stays; what else there is of the station is not known here.
  await away.getByRole('button', { name: 'Hand in what is closed' }).click();
  await expect(away.getByText('It stays on this device.')).toBeVisible();
  await away.goto('/today');
  await expect(away.getByRole('heading', { name: 'Away from the server' })).toBeVisible();
  await unlock(away);

  // Its session is over meanwhile: it signs in, and what lies here is still open.
  await offline(context, false);
  await context.clearCookies({ name: 'grellin_session' });
  await away.getByRole('button', { name: 'Hand in what is closed' }).click();
  await away.waitForURL('**/sign-in**');
  await away.getByLabel('Name').fill('officer');
  await away.getByLabel('Password').fill(people.officer);
  await away.getByRole('button', { name: 'Sign in' }).click();
  await away.waitForURL('**/along');
  await away.getByRole('button', { name: 'Hand in what is closed' }).click();
  await expect(away.getByText(/^GR-\d{4}-\d{5}$/)).toBeVisible();
  await away.getByRole('button', { name: 'Back at the server' }).click();
  await away.getByRole('link', { name: /^GR-\d{4}-\d{5}$/ }).click();
  await expect(away.getByRole('heading', { level: 1 })).toHaveText(`${tag} is tight`);
  await expect(away.getByText('Carried out away from the server')).toBeVisible();
  await expect(away.getByRole('img', { name: /Picture of/ })).toBeVisible();
  await expect(away.getByText('the rig as it stood').first()).toBeVisible();

  // Signed out, nothing is open: what lies on the device is asked for by its PIN again.
  await away.goto('/away');
  await unlock(away);
  await expect(away.getByRole('heading', { level: 1, name: 'Working away' })).toBeVisible();
  await away.getByRole('button', { name: 'Sign out' }).click();
  await away.waitForURL('**/sign-in');
  await away.goBack();
  await expect(away.getByText(tag)).toHaveCount(0);
});
