import { expect, type Page } from '@playwright/test';

/** Where it was taken, as a camera writes it beside a picture. */
export const PLACE = 'GPS 61.2345 N 7.0987 E';

/** What a camera gives: the page as a JPEG, with a segment in which it says where it was. */
export async function fromACamera(page: Page): Promise<Buffer> {
  const plain = await page.screenshot({ type: 'jpeg', quality: 70 });
  const words = Buffer.from(`Exif\0\0${PLACE}`, 'latin1');
  return Buffer.concat([plain.subarray(0, 2), Buffer.from([0xff, 0xe1, 0, words.length + 2]), words, plain.subarray(2)]);
}

/** Takes a picture on the bench, looks at it, and keeps it with a note. */
export async function takePicture(page: Page, note: string): Promise<void> {
  const buffer = await fromACamera(page);
  await page.keyboard.press('p');
  const sheet = page.getByRole('dialog', { name: 'Picture' });
  await sheet.locator('input[type=file]').setInputFiles({ name: 'IMG_0001.JPG', mimeType: 'image/jpeg', buffer });
  await expect(sheet.getByRole('img', { name: 'The picture that was taken' })).toBeVisible();
  await sheet.getByLabel('Note').fill(note);
  await sheet.getByRole('button', { name: 'Keep it' }).click();
  await expect(sheet).toHaveCount(0);
}
