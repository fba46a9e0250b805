import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';

export type Scheme = 'light' | 'dark';

/**
 * What would keep out a person with a screen reader, or with weak eyes.
 *
 * A field whose colours are on their way from the light theme to the dark one is neither: axe looks once they have
 * arrived. What turns for ever (a spinner) is not waited for. The dark screens differ from the light ones in their
 * colours alone, and only those are looked at there.
 */
export async function seriousIssues(page: Page, scheme: Scheme): Promise<string[]> {
  await page.evaluate(async () => {
    const passing = document.getAnimations().filter((a) => a.effect?.getComputedTiming().endTime !== Infinity);
    await Promise.allSettled(passing.map((a) => a.finished));
  });
  const axe = new AxeBuilder({ page });
  const { violations } = await (scheme === 'dark' ? axe.withRules(['color-contrast']) : axe).analyze();
  return violations
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .map((v) => `${v.id}: ${v.nodes.map((n) => `${n.target.join(' ')} ${n.html.slice(0, 140)}`).join(', ')}`);
}
