import type { Page } from '@playwright/test';
import { atBench, openDemo } from '../testing/practice';
import { carryOnUntil, letHandDo, letPass, type Here } from '../testing/practisedHand';
import { test } from '../testing/signedIn';
import { picture } from './picture';

/** One picture of each method's stage, from the demo's own items and benches. */
interface Shot {
  readonly name: string;
  readonly tag: string;
  readonly procedure: string;
  readonly ruleSet: string;
  readonly fault: string;
  readonly until: (at: Here) => boolean;
  readonly then?: (page: Page) => Promise<void>;
}

const shots: readonly Shot[] = [
  { name: 'bench-half-life', tag: 'SS-01', procedure: 'store.half-life', ruleSet: 'new', fault: 'none', until: (at) => at.next === 'hold', then: (page) => letPass(page, 170) },
  { name: 'bench-expansion', tag: 'CY-01', procedure: 'cyl.water-jacket', ruleSet: 'us-metal', fault: 'none', until: (at) => at.step === 'permanent-read', then: letHandDo },
  { name: 'bench-relief', tag: 'RV-01', procedure: 'valve.relief', ruleSet: 'asme', fault: 'none', until: (at) => at.step === 'shut-3', then: letHandDo },
  { name: 'bench-survey', tag: 'BA-01', procedure: 'ba.soap-survey', ruleSet: 'general', fault: 'line joint', until: (at) => at.step === 'alarm-cover' },
  { name: 'bench-stroke', tag: 'TR-05', procedure: 'brakes.whole', ruleSet: 'build-from-low', fault: 'adjuster behind', until: (at) => at.step === 'strokeRight' },
]; // prettier-ignore

test.describe.configure({ mode: 'serial' });
for (const shot of shots)
  test(shot.name, async ({ page, api }) => {
    test.setTimeout(400_000);
    const p = await openDemo(api, shot.tag, shot.procedure, shot.ruleSet);
    await atBench(page, p, shot.fault);
    await carryOnUntil(page, p, shot.until);
    await shot.then?.(page);
    await page.waitForTimeout(1200);
    await picture(page, shot.name);
    // The bench is needed for the next one.
    await page.keyboard.press('x');
    await page.locator('#reason').fill('picture taken');
    await page.locator('#reason').press('Enter');
    await page.locator('footer[data-next="closed"]').waitFor();
  });
