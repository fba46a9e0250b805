import type { Locator, Page } from '@playwright/test';

const panel = (page: Page): Locator => page.locator('gr-rig-panel section');

/** How many things the rig has done that were asked of it. */
const done = async (page: Page): Promise<number> => Number((await panel(page).getAttribute('data-done')) ?? 0);

/**
 * Asks something of the simulated rig and waits until it has done it. The page shows a moment later that it is at it: who only looks whether it is idle can go on
 * before a tap is shut, and then has carried out another test.
 */
export async function worked(page: Page, ask: () => Promise<void>): Promise<void> {
  const before = await done(page);
  await ask();
  await page.waitForFunction(
    (n) => {
      const section = document.querySelector<HTMLElement>('gr-rig-panel section');
      return Number(section?.dataset['done'] ?? 0) > n && section?.getAttribute('aria-busy') === 'false';
    },
    before,
    { timeout: 90_000, polling: 30 },
  );
}
