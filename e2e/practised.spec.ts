import { procedureById, verdictSentence, type Verdict } from '@grellin/core';
import { expect } from '@playwright/test';
import { atBench, carryThrough, openPractice } from './testing/practice';
import { carryOnUntil, openRecord, setUp } from './testing/practisedHand';
import { inTurn, sharing } from './testing/rotation';
import { test } from './testing/signedIn';

/** Schools that hang one stage on another, or decide by what is seen, driven through the real screens to what their rig's hidden truth is. */
const schools: readonly { readonly procedure: string; readonly ruleSet: string; readonly fault: string; readonly verdict: Verdict; readonly says?: RegExp }[] =
  [
    { procedure: 'anaes.circle', ruleSet: 'watch-first', fault: 'hose crack', verdict: 'fail', says: /Decided by what comes after it/ },
    { procedure: 'anaes.circle', ruleSet: 'watch-first', fault: 'none', verdict: 'pass' },
    { procedure: 'store.half-life', ruleSet: 'oil-25', fault: 'hatch seal', verdict: 'fail', says: /Top hatch: a stream/ },
    { procedure: 'tank.ibc', ruleSet: 'psi-2', fault: 'manhole gasket', verdict: 'fail', says: /Manhole and its gasket: a st/ },
    { procedure: 'anaes.automatic', ruleSet: 'ml-150', fault: 'hose crack', verdict: 'fail' },
    { procedure: 'brakes.in-cab', ruleSet: 'general', fault: 'wheel play', verdict: 'fail' },
    { procedure: 'anaes.t-piece', ruleSet: 'by-feel', fault: 'none', verdict: 'pass' },
    { procedure: 'tank.ibc-look', ruleSet: 'general', fault: 'none', verdict: 'pass' },
  ];

const shared = sharing(test, 4);

for (const s of inTurn(schools, 12))
  test(`${s.procedure}, ${s.ruleSet}, ${s.fault}: ${s.verdict}`, async ({ page, api }) => {
    const practice = await openPractice(api, s.procedure, s.ruleSet);
    await carryThrough(page, practice, s.fault);
    const words = procedureById(s.procedure)?.verdictWords;
    const word = s.verdict === 'pass' || s.verdict === 'fail' ? (words?.[s.verdict] ?? '') : 'cannot tell';
    // A school by feel says so with its word.
    await expect(page.getByRole('heading', { level: 1 })).toContainText(verdictSentence(practice.tag, s.verdict, word));
    if (s.says) await expect(page.getByText(s.says).first()).toBeVisible();
  });

shared('a relief valve whose manifold leaks: no bubble at the seat, the seat is held again once that is mended, and it passes', async ({ page, api }) => {
  const p = await openPractice(api, 'valve.relief', 'asme');
  await atBench(page, p, 'manifold leaks');
  await carryOnUntil(page, p, (at) => at.next === 'begin' && at.step === 'aftercare');
  await expect(page.getByText(/Seat decided nothing.*soap manifold and fittings, mend them, and hold it again/)).toBeVisible();
  await setUp(page, 'none');
  await page.keyboard.press('r');
  await expect(page.getByText('Why is “Seat” done again?')).toBeVisible();
  await page.locator('#reason').fill('a fitting of the manifold was mended');
  await page.locator('#reason').press('Enter');
  await expect(page.locator('footer[data-next]')).toHaveAttribute('data-step', 'seat-up');
  await carryOnUntil(page, p, () => false);
  await openRecord(page);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(`${p.tag} passes`);
  await expect(page.getByText('a fitting of the manifold was mended').first()).toBeVisible();
});

shared('a vent valve is not cracked at a wrong flow: the step waits until the flow stands in its window, whoever presses', async ({ page, api }) => {
  const p = await openPractice(api, 'valve.vent', 'in-order');
  await atBench(page, p, 'none');
  await carryOnUntil(page, p, (at) => at.step === 'crack-plus-flow');
  // What is left from the leak test is far less than it cracks at.
  const key = page.locator('footer .primary');
  await expect(key).toBeDisabled();
  await expect(page.locator('footer')).toContainText(/Not yet: .*mL\/min/);
  await page.keyboard.press('Space');
  await expect(page.locator('footer[data-next]')).toHaveAttribute('data-step', 'crack-plus-flow');
  await carryOnUntil(page, p, () => false);
  await openRecord(page);
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(verdictSentence(p.tag, 'pass', p.procedure.verdictWords.pass));
});
