import type { Locator, Page } from '@playwright/test';

const panel = (page: Page): Locator => page.locator('gr-rig-panel section');

/** How many things the rig has done that were asked of it. */
const done = async (page: Page): Promise<number> => Number((await panel(page).getAttribute('data-done')) ?? 0);

/**
 * Asks something of the simulated rig and waits until it has done it. The page shows a moment later that it is at it: who only looks whether it is idle can go on
 * before a tap is shut, and then has carried out another test. What answers `false` has asked nothing.
 */
export async function worked(page: Page, ask: () => Promise<unknown>): Promise<void> {
  const before = await done(page);
  if ((await ask()) === false) return;
  await page.waitForFunction(
    (n) => {
      const section = document.querySelector<HTMLElement>('gr-rig-panel section');
      return Number(section?.dataset['done'] ?? 0) > n && section?.getAttribute('aria-busy') === 'false';
    },
    before,
    { timeout: 90_000, polling: 30 },
  );
}

/**
 * Has the rig's hand do what the step asks, and says whether there was something to do. Looked for and pressed in one breath of the page: a run that moves on
 * between the two shuts the button, and a click would wait for it for ever.
 */
export async function handDoes(page: Page): Promise<boolean> {
  let there = false;
  const button = panel(page).getByRole('button', { name: 'Do what the step asks' });
  // A button that is shut because the rig is still at something else is not one that has nothing to do: what is then left out is another test.
  await page.waitForFunction(() => document.querySelector('gr-rig-panel section')?.getAttribute('aria-busy') === 'false', undefined, {
    timeout: 90_000,
    polling: 30,
  });
  await worked(page, async () => {
    there = await button.evaluate((b: HTMLButtonElement) => {
      if (b.disabled) return false;
      b.click();
      return true;
    });
    return there;
  });
  return there;
}
