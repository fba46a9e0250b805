import { expect } from '@playwright/test';
import { seriousIssues } from './testing/axe';
import { openPractice } from './testing/practice';
import { takeOver } from './testing/practisedHand';
import { test } from './testing/signedIn';
import { at } from './testing/typist';

/** The yard: a phone in one hand. */
test.use({ viewport: { width: 390, height: 844 }, hasTouch: true });

test('a whole check with one thumb: the key lies along the lower edge at every step, from the first look to the record', async ({ page, api }) => {
  const p = await openPractice(api, 'cyl.visual', 'us-metal');
  await page.goto(`/bench/${p.run}`);
  await takeOver(page);
  const key = page.locator('footer .primary');
  const seen = new Set<string>();
  for (let i = 0; i < 60; i++) {
    const { next, step } = await at(page);
    await expect(key).toBeEnabled();
    const box = await key.boundingBox();
    // As high as a glove needs it, as wide as the hand can reach, and on the screen.
    expect({ next, high: (box?.height ?? 0) >= 72, wide: (box?.width ?? 0) > 340, below: (box?.y ?? 0) > 600, inside: (box?.y ?? 0) + (box?.height ?? 0) <= 845 }).toEqual({ next, high: true, wide: true, below: true, inside: true }); // prettier-ignore
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
    seen.add(next);
    await key.tap();
    if (next === 'closed') break;
    await expect.poll(async () => JSON.stringify(await at(page))).not.toBe(JSON.stringify({ next, step }));
  }
  expect([...seen]).toEqual(expect.arrayContaining(['begin', 'answer', 'seal', 'closed']));
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(`${p.tag} is ${p.procedure.verdictWords.pass}`);
});

test('the value and the clock stay above what scrolls, and what is typed lies between them and the key', async ({ page, api }) => {
  const p = await openPractice(api, 'anaes.circle', 'steady', true);
  await page.goto(`/bench/${p.run}`);
  await takeOver(page);
  const key = page.locator('footer .primary');
  // To the first thing that is read.
  await expect(async () => {
    if (await key.isEnabled()) await key.tap();
    expect(await page.getByLabel('Circuit pressure, read now').isVisible()).toBe(true);
  }).toPass({ intervals: [100] });
  const value = page.locator('[data-channel="pressure"]');
  const before = await value.boundingBox();
  await page
    .locator('gr-gauge-aside, main')
    .last()
    .evaluate(() => document.querySelector('main')?.scrollTo(0, 4000));
  const after = await value.boundingBox();
  expect(before?.y).toBeGreaterThan(0);
  expect((after?.y ?? 0) + (after?.height ?? 0)).toBeLessThan(420);
  expect(after?.y ?? -1).toBeGreaterThanOrEqual(0);
  await expect(key).toBeInViewport({ ratio: 1 });
  await expect(page.getByLabel('Circuit pressure, read now')).toBeInViewport();

  // Its figures are typed on keys that a glove hits, in the window, and what was typed stays in sight.
  await page.getByLabel('Circuit pressure, read now').tap();
  const pad = page.getByRole('group', { name: 'Keypad' });
  await expect(pad).toBeInViewport({ ratio: 1 });
  for (const name of ['7', '8', '9', '0', 'point', 'minus', 'Write it down']) {
    const box = await pad.getByRole('button', { name, exact: true }).boundingBox();
    expect([name, (box?.height ?? 0) >= 56, (box?.width ?? 0) >= 56]).toEqual([name, true, true]);
  }
  expect(await seriousIssues(page, 'light')).toEqual([]);
  for (const name of ['2', '9', 'delete', '8']) await pad.getByRole('button', { name, exact: true }).tap();
  await expect(page.getByLabel('Circuit pressure, read now')).toHaveValue('28');
  await expect(page.getByLabel('Circuit pressure, read now')).toBeInViewport();
  await pad.getByRole('button', { name: 'Write it down' }).tap();
  await expect(pad).toHaveCount(0);
  await expect(value).toContainText('28');
  await page.getByLabel('Circuit pressure, read now').tap();
  await pad.getByRole('button', { name: /^Same again: 28/ }).tap();
  await expect(page.getByLabel('Circuit pressure, read now')).toHaveValue('28');
  await pad.getByRole('button', { name: 'Close' }).tap();
  await expect(key).toBeInViewport({ ratio: 1 });
});
