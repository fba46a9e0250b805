import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import bwipjs from 'bwip-js/node';
import { chromium, expect, type Page } from '@playwright/test';
import config from '../playwright.config';
import { openPractice } from './testing/practice';
import { carryOnUntil, setUp, takeOver } from './testing/practisedHand';
import { seriousIssues } from './testing/axe';
import { test } from './testing/signedIn';

/** A short film of a code, as Chromium's fake camera plays it: YUV4MPEG2, the code in the middle of a grey desk. */
function filmOf(text: string, file: string): void {
  const [drawn] = bwipjs.raw({ bcid: 'qrcode', text }) as readonly { pixs: number[]; pixx: number; pixy: number }[];
  if (!drawn) throw new Error('nothing was drawn');
  const [width, height, scale] = [640, 480, 6];
  const [left, top] = [Math.round((width - drawn.pixx * scale) / 2), Math.round((height - drawn.pixy * scale) / 2)];
  const light = Buffer.alloc(width * height, 170);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [cx, cy] = [Math.floor((x - left) / scale), Math.floor((y - top) / scale)];
      if (cx >= -4 && cy >= -4 && cx < drawn.pixx + 4 && cy < drawn.pixy + 4) light[y * width + x] = drawn.pixs[cy * drawn.pixx + cx] === 1 && cx >= 0 && cx < drawn.pixx && cy >= 0 ? 40 : 235; // prettier-ignore
    }
  const frame = Buffer.concat([Buffer.from('FRAME\n'), light, Buffer.alloc((width * height) / 2, 128)]);
  writeFileSync(file, Buffer.concat([Buffer.from(`YUV4MPEG2 W${String(width)} H${String(height)} F10:1 Ip A1:1 C420jpeg\n`), frame, frame, frame]));
}

const folder = mkdtempSync(join(tmpdir(), 'grellin-scan-'));
test.afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** A browser of its own, whose camera sees the label of an item. */
async function beforeACamera(text: string, go: (page: Page) => Promise<void>): Promise<void> {
  const film = join(folder, 'label.y4m');
  filmOf(text, film);
  const { launchOptions, baseURL } = config.use ?? {};
  const seeing = ['--use-fake-ui-for-media-stream', '--use-fake-device-for-media-stream', `--use-file-for-fake-video-capture=${film}`];
  const browser = await chromium.launch({ ...launchOptions, args: [...(launchOptions?.args ?? []), ...seeing] });
  try {
    const context = await browser.newContext({ viewport: { width: 390, height: 844 }, ...(baseURL === undefined ? {} : { baseURL }) });
    await go(await context.newPage());
  } finally {
    await browser.close();
  }
}

test('the camera reads a label: from anywhere to its item, and its serial where it is asked for', async ({ api }) => {
  const { rows } = (await (await api.get('/api/assets?q=GS-09')).json()) as { rows: { serial: string; tag: string; title: string }[] };
  const item = rows.find((a) => a.tag === 'GS-09');
  const link = `https://leaks.example/to?${new URLSearchParams({ serial: item?.serial ?? '', tag: 'GS-09' }).toString()}`;
  await beforeACamera(link, async (page) => {
    // The session of these tests is this browser's too.
    await page.goto('/today');
    await page.getByRole('search').getByRole('button', { name: 'Scan' }).click();
    // The camera is let go as soon as it has read: its item stands there.
    await expect(page.getByRole('heading', { level: 1, name: 'GS-09' })).toBeVisible();
    await expect(page.getByRole('dialog')).toHaveCount(0);
    await page.locator('form[aria-labelledby=start]').getByRole('button', { name: 'Scan' }).click();
    await expect(page.getByRole('dialog')).toHaveCount(0);
    await expect(page.getByLabel('Serial on the item')).toHaveValue(item?.serial ?? '');
    expect(await seriousIssues(page, 'light')).toEqual([]);
  });
});

test('a device without a camera is told so, and what to do', async ({ page }) => {
  await page.goto('/today');
  await page.getByRole('search').getByRole('button', { name: 'Scan' }).click();
  await expect(page.getByRole('dialog').getByRole('alert')).toContainText(/camera/);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
});

test('a scanner that types leads to its item from anywhere; on the bench it answers nothing, whatever signs its code has', async ({ page, api }) => {
  await page.goto('/log');
  await expect(page.getByRole('heading', { level: 1, name: 'Log' })).toBeVisible();
  await page.locator('h1').click();
  const scanned = (code: string): Promise<void> =>
    // As a scanner does it, a key every few milliseconds, which this test cannot be slow at.
    page.evaluate((text) => {
      for (const key of [...text.split(/(?=.)/u), 'Enter']) document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    }, code);
  await scanned('GS-09');
  await expect(page.getByRole('heading', { level: 1, name: 'GS-09' })).toBeVisible();

  const p = await openPractice(api, 'cyl.visual', 'us-metal');
  await page.goto(`/bench/${p.run}`);
  await takeOver(page);
  await setUp(page, 'none');
  await carryOnUntil(page, p, (at) => at.next === 'seal');
  await expect(page.locator('footer .primary')).toBeEnabled();
  const before = await page.locator('footer[data-next]').getAttribute('data-position');
  await scanned('ZNX-1204 Z');
  await page.waitForTimeout(300);
  await expect(page.locator('footer[data-next]')).toHaveAttribute('data-next', 'seal');
  expect(await page.locator('footer[data-next]').getAttribute('data-position')).toBe(before);
  await expect(page.locator('#reason')).toHaveCount(0);
  // The same sign by a hand seals.
  await page.keyboard.press('z');
  await expect(page.locator('footer[data-next]')).toHaveAttribute('data-next', 'closed');
});
