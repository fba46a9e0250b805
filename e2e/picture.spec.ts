import type { RecordView } from '@grellin/contract';
import { expect } from '@playwright/test';
import { seriousIssues } from './testing/axe';
import { primary } from './testing/bench';
import { fromACamera, PLACE, takePicture } from './testing/picture';
import { openPractice } from './testing/practice';
import { carryOnUntil, setUp, takeOver } from './testing/practisedHand';
import { test } from './testing/signedIn';

test('a picture of what is seen goes into the record and its certificate, smaller, without where it was taken', async ({ page, api }) => {
  const p = await openPractice(api, 'cyl.visual', 'us-metal');
  await page.goto(`/bench/${p.run}`);
  await takeOver(page);
  await setUp(page, 'none');
  await takePicture(page, 'stamp of the maker');
  await carryOnUntil(page, p, (at) => at.next === 'seal');
  // What was kept is there to be looked at before it is sealed.
  await page.getByRole('button', { name: 'Picture', exact: true }).click();
  await expect(page.getByRole('dialog').getByText('stamp of the maker')).toBeVisible();
  // Keys of the bench are those of the dialog while it is open.
  await page.keyboard.press('z');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await expect(page.locator('footer[data-next]')).toHaveAttribute('data-next', 'seal');
  await expect(primary(page)).toBeEnabled();
  await page.keyboard.press('z');
  await expect(primary(page)).toHaveText(/To the record/);
  await expect(primary(page)).toBeEnabled();
  await page.keyboard.press('Space');
  await page.waitForURL('**/log/**');
  const { pictures } = (await (await api.get(`/api/records/${page.url().split('/').at(-1) ?? ''}`)).json()) as RecordView;
  expect(pictures).toMatchObject([{ note: 'stamp of the maker' }]);
  const kept = await (await api.get(`/api/pictures/${pictures[0]?.sha256 ?? ''}`)).body();
  expect(kept.includes(Buffer.from(PLACE))).toBe(false);

  const shown = page.getByRole('img', { name: /^Picture of/ });
  await expect(shown).toBeVisible();
  expect(await shown.evaluate((img: HTMLImageElement) => [img.naturalWidth, img.naturalHeight])).toEqual([1280, 800]);
});

test('the sheet of pictures at a phone: in its window, readable in both lights, and a file that is none is told so', async ({ page, api }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  const p = await openPractice(api, 'cyl.visual', 'us-metal');
  await page.goto(`/bench/${p.run}`);
  await takeOver(page);
  await page.getByRole('button', { name: 'Picture', exact: true }).click();
  const sheet = page.getByRole('dialog', { name: 'Picture' });
  const field = sheet.locator('input[type=file]');
  await field.setInputFiles({ name: 'x.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('<svg><script>alert(1)</script></svg>') });
  await expect(sheet.getByRole('alert')).toHaveText('This file is no picture that can be read here.');
  await field.setInputFiles({ name: 'x.jpg', mimeType: 'image/jpeg', buffer: await fromACamera(page) });
  await expect(sheet.getByRole('img', { name: 'The picture that was taken' })).toBeVisible();
  const box = await sheet.boundingBox();
  expect(box && box.x >= 0 && box.x + box.width <= 390 && box.y >= 0 && box.y + box.height <= 844).toBe(true);
  for (const scheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme: scheme });
    expect(await seriousIssues(page, scheme)).toEqual([]);
  }
  // A server that is gone loses no picture: it stays in the sheet until it is kept.
  await page.route('**/api/pictures/*', (route) => route.abort());
  await sheet.getByRole('button', { name: 'Keep it' }).click();
  await expect(sheet.getByRole('alert')).toHaveText('The server cannot be reached.');
  await page.unroute('**/api/pictures/*');
  await sheet.getByRole('button', { name: 'Keep it' }).click();
  await expect(sheet).toHaveCount(0);
});
