import { mkdirSync } from 'node:fs';
import type { Page } from '@playwright/test';

export const folder = 'docs/screenshots';

/** One picture of what the screen shows, once everything on it has come. */
export async function picture(page: Page, name: string): Promise<void> {
  mkdirSync(folder, { recursive: true });
  await page.waitForLoadState('networkidle', { timeout: 3000 }).catch(() => undefined);
  await page.evaluate(() => document.fonts.ready);
  await page.evaluate(() => document.querySelector('aside')?.scrollTo(0, 0));
  await page.mouse.move(0, 0);
  await page.screenshot({ path: `${folder}/${name}.png` });
}
