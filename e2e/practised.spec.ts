import { procedureById, verdictSentence, type Verdict } from '@grellin/core';
import { expect } from '@playwright/test';
import { carryThrough, openPractice } from './testing/practice';
import { inTurn } from './testing/rotation';
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
    { procedure: 'tank.ibc-look', ruleSet: 'general', fault: 'none', verdict: 'pass' },
  ];

for (const s of inTurn(schools, 4))
  test(`${s.procedure}, ${s.ruleSet}, ${s.fault}: ${s.verdict}`, async ({ page, api }) => {
    const practice = await openPractice(api, s.procedure, s.ruleSet);
    await carryThrough(page, practice, s.fault);
    const words = procedureById(s.procedure)?.verdictWords;
    const word = s.verdict === 'pass' || s.verdict === 'fail' ? (words?.[s.verdict] ?? '') : 'cannot tell';
    await expect(page.getByRole('heading', { level: 1 })).toHaveText(verdictSentence(practice.tag, s.verdict, word));
    if (s.says) await expect(page.getByText(s.says).first()).toBeVisible();
  });
