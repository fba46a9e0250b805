import { expect } from '@playwright/test';
import { openRound } from './testing/practice';
import { carryOnUntil, scan } from './testing/practisedHand';
import { everything, inCi } from './testing/rotation';
import { test } from './testing/signedIn';

/**
 * Items one after another, by scanning each: the rig proved once, every item with a run and a record of its own, and a sheet of them all. Fifteen cylinders and six
 * sets with E2E=all; elsewhere as many of their parts as it takes to leave a round and come back to it.
 */
const rounds = [
  {
    procedure: 'cyl.water-jacket',
    ruleSet: 'us-metal',
    parts: [1, 2, 3, 3, 3, 3],
    inCi: 3,
    short: 1,
    fault: 'wall has yielded',
    pass: 'passes',
    fail: 'condemned',
  },
  { procedure: 'ba.user-check', ruleSet: 'quarter', parts: [1, 1, 1, 1, 1, 1], inCi: 2, short: 0, fault: 'none', pass: 'ready', fail: 'not ready' },
] as const;

for (const r of rounds)
  test.describe.serial(`a round: ${r.procedure}, ${r.ruleSet}`, () => {
    let round: Awaited<ReturnType<typeof openRound>>;
    let done = 0;
    const parts = everything ? r.parts : r.parts.slice(0, inCi ? r.inCi : r.short);
    for (const [part, items] of parts.entries())
      test(`part ${String(part + 1)}: ${String(items)} items`, async ({ page, api }) => {
        // Between the parts somebody leaves and comes back: the round goes on where it stood.
        if (part === 0) round = await openRound(api, r.procedure, r.ruleSet, r.parts.reduce((sum: number, n) => sum + n, 0)); // prettier-ignore
        await page.goto(`/rounds/${round.id}`);
        for (let i = 0; i < items; i++) {
          await scan(page, round.serials[done] ?? '', done % 5 === 1 ? r.fault : 'none');
          const proves = page.locator('gr-bench-head ol li', { hasText: 'Prove the rig alone' });
          // The first proves the rig; nobody does it again.
          await expect(proves).toHaveCount(done === 0 && r.procedure === 'cyl.water-jacket' ? 1 : 0);
          await carryOnUntil(page, round, () => false);
          done++;
        }
        // It is offered once the last record is written, and not before.
        await page.getByRole('link', { name: 'The round’s sheet' }).click();
        await expect(page.getByRole('heading', { level: 1 })).toContainText('Round');
        const rows = page.locator('tbody tr');
        await expect(rows).toHaveCount(done);
        for (let i = 0; i < done; i++) await expect(rows.nth(i)).toContainText(i % 5 === 1 && r.fault !== 'none' ? r.fail : r.pass);
        if (r.procedure === 'cyl.water-jacket' && done > 1) await expect(rows.nth(1)).toContainText('Rig proved in GR-');
      });
  });
