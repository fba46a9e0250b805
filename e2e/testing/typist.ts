import { expect, type Page } from '@playwright/test';

/** What a person types at a step: what each gauge shows, by its title. */
export type Shows = (gauge: string, step: string) => string;

const footer = (page: Page) => page.locator('footer[data-next]');
const main = (page: Page) => page.locator('footer .primary');
const asked = (page: Page) => page.locator('gr-reading-form label');

/** Where a run stands, as the bench says it. */
export async function at(page: Page): Promise<{ readonly next: string; readonly step: string }> {
  return footer(page).evaluate((f) => ({ next: f.dataset['next'] ?? '', step: f.dataset['step'] ?? '' }));
}

/** Types what every gauge that is asked for shows now, one after the other. */
async function readAll(page: Page, shows: Shows, step: string): Promise<void> {
  for (const label of await asked(page).allInnerTexts()) {
    const input = page.getByLabel(label, { exact: true });
    if (!(await input.isVisible())) continue;
    await input.fill(shows(label.replace(', read now', ''), step));
    await input.press('Enter');
  }
}

/**
 * Carries a run on by what is typed and pressed alone, with no rig and no gauge that sends, in the minutes that it really takes.
 * @param until asked before each turn whether to stop there
 */
export async function carryOnTyped(page: Page, shows: Shows, until: (step: string, next: string) => boolean): Promise<void> {
  for (let i = 0; i < 400; i++) {
    const here = await at(page);
    if (here.next === 'closed' || until(here.step, here.next)) return;
    if (here.next === 'read' || (/act|reach|answer|start|mark/.test(here.next) && !(await main(page).isEnabled()))) await readAll(page, shows, here.step);
    // What takes its time opens by itself; what has gone on meanwhile is looked at anew.
    await expect
      .poll(
        async () => {
          const now = await at(page);
          if (now.step !== here.step || now.next !== here.next || (await main(page).isEnabled())) return true;
          // A hold is over when what the gauge shows then has been read.
          if (now.next !== 'hold' || !/Time is up/.test(await main(page).innerText())) return false;
          await readAll(page, shows, here.step);
          return true;
        },
        { timeout: 90_000, intervals: [50] },
      )
      .toBe(true);
    const now = await at(page);
    if (now.step === here.step && now.next === here.next && here.next !== 'read') {
      await main(page).click();
      await page.waitForTimeout(60);
    }
  }
}
