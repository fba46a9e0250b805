import { gzipSync } from 'node:zlib';
import { expect, test as stranger, type Page } from '@playwright/test';
import { seriousIssues, type Scheme } from './testing/axe';
import { inTurn } from './testing/rotation';
import { openAsset, signIn, startRun } from './testing/bench';
import { test } from './testing/signedIn';
import { standsWithinItsWindow } from './testing/widths';

type Walk = (page: Page, scheme: Scheme) => Promise<void>;
const at = (path: string): Walk => async (page) => {
  await page.goto(path);
  await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  await page.waitForLoadState('networkidle');
}; // prettier-ignore

const beforeSigningIn: Readonly<Record<string, Walk>> = { 'sign-in': at('/sign-in'), 'the first officer': at('/first'), verify: at('/verify') };
const screens: Readonly<Record<string, Walk>> = {
  ...Object.fromEntries(
    [
      'register',
      'log',
      'bench',
      'plan',
      'instruments',
      'people',
      'kits',
      'rounds',
      'rounds/new',
      'register/new',
      'register/import',
      'register/changes',
      'instruments/new',
      'settings',
      'account',
      'verification',
      'calculator',
    ].map((path) => [path, at(`/${path}`)]),
  ),
  today: async (page) => {
    await page.goto('/today');
    await expect(page.getByRole('heading', { name: /May not be used/ })).toBeVisible();
  },
  'a record': async (page) => {
    await page.goto('/log');
    await page.getByRole('link', { name: 'GR-' }).first().click();
    await expect(page.getByRole('heading', { name: 'Findings' })).toBeVisible();
  },
  'an instrument': async (page) => {
    await page.goto('/instruments');
    await page.getByRole('link', { name: 'PL-04', exact: true }).click();
    await expect(page.getByText('Found out of tolerance')).toBeVisible();
  },
  'an item': (page) => openAsset(page, 'GS-05'),
  'a stage that asks': async (page, scheme) => {
    await startRun(page, scheme === 'light' ? 'GS-03' : 'GS-09', { suit: 'MG-01' });
    await page.keyboard.press('Space');
    await expect(page.getByText('The serial on the suit')).toBeVisible();
  },
};

for (const scheme of ['light', 'dark'] as const) {
  stranger.describe(`before signing in, ${scheme}`, () => {
    stranger.use({ colorScheme: scheme });
    for (const [name, walk] of Object.entries(beforeSigningIn))
      stranger(`${name} is accessible`, async ({ page }) => {
        await walk(page, scheme);
        expect(await seriousIssues(page, scheme)).toEqual([]);
        if (scheme === 'light') await standsWithinItsWindow(page);
      });
  });
  test.describe(`signed in, ${scheme}`, () => {
    test.use({ colorScheme: scheme });
    for (const [name, walk] of inTurn(Object.entries(screens), scheme === 'light' ? 4 : 8))
      test(`${name} is accessible`, async ({ page }) => {
        await walk(page, scheme);
        expect(await seriousIssues(page, scheme)).toEqual([]);
        if (scheme === 'light') await standsWithinItsWindow(page);
      });
  });
}

test('the first page is light, and the chart comes only when it is needed', async ({ page }) => {
  let total = 0;
  const names: string[] = [];
  page.on('response', (response) => {
    if (!response.url().endsWith('.js')) return;
    names.push(response.url());
    void response.body().then((body) => (total += gzipSync(body).length));
  });
  await page.goto('/sign-in');
  await expect(page.getByRole('button', { name: 'Sign in' })).toBeVisible();
  await page.waitForLoadState('networkidle');
  expect(names.length).toBeGreaterThan(2);
  expect(total).toBeGreaterThan(50_000);
  expect(total).toBeLessThan(350_000);
  const scripts = await Promise.all(names.map(async (n) => (await page.request.get(n)).text()));
  expect(scripts.some((s) => s.includes('zrender'))).toBe(false);
});

test('pages print as pages: no rail, nothing that is pressed, on white though the bay is dark', async ({ page }) => {
  await page.goto('/settings');
  await page.getByRole('button', { name: 'Dark bay' }).first().click();
  for (const path of ['/today', '/register', '/log', '/instruments', '/people']) {
    await page.goto(path);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    await page.emulateMedia({ media: 'print' });
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    await expect(page.getByRole('navigation', { name: 'Destinations' })).toBeHidden();
    expect(await page.locator('button, .control').evaluateAll((all) => all.filter((e) => e.checkVisibility()).map((e) => e.textContent))).toEqual([]);
    expect(await page.evaluate(() => getComputedStyle(document.documentElement).getPropertyValue('--ground').trim())).toMatch(/^#fff(fff)?$/);
    await page.emulateMedia({ media: 'screen' });
  }
});

stranger('the find box jumps by tag, serial or place, from the keyboard', async ({ page }) => {
  await signIn(page, 'reader');
  await page.keyboard.press('/');
  await page.keyboard.type('crawler 1');
  await expect(page.getByRole('option', { name: /TR-01/ })).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { level: 1, name: 'TR-01' })).toBeVisible();
  await expect(page.getByText('You may look, not test.')).toBeVisible();
});

stranger('a wrong password is said plainly, and a lost session leads back to where one was', async ({ page, context }) => {
  await page.goto('/log');
  await page.waitForURL('**/sign-in**');
  await page.getByLabel('Name').fill('reader');
  await page.getByLabel('Password').fill('wrong');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert')).toHaveText('Name or password is wrong.');
  await page.getByLabel('Password').fill('skarvoy-reader');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL('**/log');
  await expect(page.getByRole('link', { name: 'GR-' }).first()).toBeVisible();
  await page.waitForLoadState('networkidle');
  await context.clearCookies();
  await page.getByRole('link', { name: 'Register' }).click();
  await page.waitForURL('**/sign-in**');
});

test('on a phone the four at the thumb are there, and the rest is behind More: by touch, and by keys alone', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto('/today');
  const bar = page.getByRole('navigation', { name: 'Destinations' });
  await expect(bar.getByRole('link')).toHaveText(['Today', 'Bench', 'Register']);
  const { y = 0, height = 0 } = (await bar.boundingBox()) ?? {};
  expect(y + height).toBeCloseTo(844, 0);
  const more = bar.getByRole('button', { name: 'More' });
  await more.click();
  const rest = page.getByRole('dialog', { name: 'More' });
  await rest.getByRole('link', { name: 'Log' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'Log' })).toBeVisible();
  await expect(rest).toHaveCount(0);
  await more.focus();
  await page.keyboard.press('Enter');
  await expect(rest.getByRole('link', { name: 'Settings' })).toBeVisible();
  expect(await seriousIssues(page, 'light')).toEqual([]);
  await page.keyboard.press('Escape');
  await expect(rest).toHaveCount(0);
});
