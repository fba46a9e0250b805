import type { PlanView } from '@grellin/contract';
import { addDays, firstDue, usualRule } from '@grellin/core';
import { expect } from '@playwright/test';
import { choose } from './testing/bench';
import { atBench, carryThrough, openPractice } from './testing/practice';
import { carryOnUntil } from './testing/practisedHand';
import { test } from './testing/signedIn';
import { sharing } from './testing/rotation';

const shared = sharing(test, 5);

const today = new Date().toISOString().slice(0, 10);
const inAYear = firstDue({ ...usualRule, interval: 'P1Y', anchor: today }) ?? '';
const stamp = `${String(process.pid % 1000)}${String(Date.now() % 1_000_000)}`;

shared('the morning look: what may not be used and why, kits that are short, and the work at one press', async ({ page }) => {
  await page.goto('/today');
  const blocked = page.getByRole('region', { name: /May not be used/ });
  await expect(blocked.getByText(/crack at the visor/)).toBeVisible();
  await expect(blocked.getByText(/instrument found out of tolerance/).first()).toBeVisible();
  const kits = page.getByRole('region', { name: 'Kits going out' });
  await expect(kits.getByText('3 of 4 breathing sets ready; one more needed')).toBeVisible();
  await kits.getByRole('link', { name: 'Check BA-04 before use' }).click();
  await expect(page.getByRole('heading', { level: 1, name: 'BA-04' })).toBeVisible();
  await expect(page.getByText('before the next use').first()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Start', exact: true })).toBeVisible();
});

shared('a new suit, with all that it owes at one press; a date put off with its reason; what was done is taken back', async ({ page }) => {
  const tag = `GN-${stamp}`;
  await page.goto('/register/new');
  await page.getByRole('textbox', { name: 'Tag', exact: true }).fill(tag);
  await page.getByRole('textbox', { name: 'Serial', exact: true }).fill(`N${stamp}`);
  await page.getByLabel('What it is').fill('Gas-tight suit, new');
  await page.getByLabel('Place', { exact: true }).fill('Fire store');
  await page.getByLabel('Made on').fill('2026-03');
  await page.getByLabel('Life').fill('P12Y');
  await page.getByRole('combobox', { name: 'Built to' }).click();
  await page.getByRole('option', { name: 'EN 943-1' }).click();
  await page.getByRole('button', { name: 'Add it' }).click();
  await expect(page.getByRole('heading', { level: 1, name: tag })).toBeVisible();
  const owes = page.getByRole('region', { name: 'What it owes' });
  await expect(owes.getByText(/16\.5 mbar; every year, from the day it was done; and on receipt, after use, after repair/)).toBeVisible();
  await expect(page.getByText('2038-03-31')).toBeVisible();
  await owes.getByRole('button', { name: 'Put off' }).click();
  // It owes the first test of a year counted from when it was made: nobody knows of a later one.
  const due = '2027-03-01';
  const later = addDays(due, 29);
  await owes.getByLabel('Until').fill(later);
  await owes.getByLabel('Reason').fill('the ship comes in December');
  await owes.getByRole('button', { name: 'Put it off' }).click();
  await expect(owes.getByText(`Put off from ${due} to ${later} by Runa Tveitholm: the ship comes in December`)).toBeVisible();
  await page.getByRole('button', { name: 'Take it back' }).click();
  await expect(owes.getByText(due, { exact: true })).toBeVisible();
  await owes.getByRole('button', { name: 'No longer owed' }).click();
  await owes.getByRole('button', { name: 'Another check' }).click();
  await owes.getByLabel('Every', { exact: true }).fill('2');
  await choose(page, 'owe-stamp', 'the month: due at its end');
  await owes.getByLabel('on receipt').check();
  await owes.getByRole('button', { name: 'Let it owe this' }).click();
  await expect(owes.getByText(/every 2 years, by the month; and on receipt/)).toBeVisible();
  await page.getByRole('button', { name: 'Note what happened' }).click();
  await page.getByRole('menuitem', { name: 'came in' }).click();
  await expect(page.getByText('before the next use').first()).toBeVisible();
});

shared('many are moved at once, found where they are now, and the move is taken back', async ({ page }) => {
  await page.goto('/register?class=dry-suit&place=Dive+shed');
  await expect(page.getByRole('link', { name: 'DS-05', exact: true })).toBeVisible();
  await page.getByRole('checkbox', { name: 'Choose DS-05' }).click();
  await page.getByRole('checkbox', { name: 'Choose DS-06' }).click();
  await page.getByLabel('Move to').fill(`Loft ${stamp}`);
  await page.getByRole('button', { name: 'Move', exact: true }).click();
  await expect(page.getByText(`2 moved to Loft ${stamp}`)).toBeVisible();
  await expect(page.getByRole('link', { name: 'DS-05', exact: true })).toHaveCount(0);
  await page.getByRole('button', { name: 'Take it back' }).click();
  await expect(page.getByRole('link', { name: 'DS-05', exact: true })).toBeVisible();
});

shared('a register’s file: columns matched, tried dry, then written', async ({ page }) => {
  await page.goto('/register/import');
  const csv = `Tag,Serial,Class,What it is,Place\r\nIP-${stamp},P1,face-piece,Face-piece,Fire store\r\nIQ-${stamp},P2,hat,Hat,Fire store\r\n`;
  await page.getByLabel('A CSV file').setInputFiles({ name: 'register.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
  await page.getByRole('button', { name: 'Try it: nothing is written' }).click();
  await expect(page.getByText(/there is no class “hat”/)).toBeVisible();
  await page.getByRole('button', { name: 'Write 1 rows, all or none' }).click();
  await expect(page.getByRole('heading', { name: 'What was written' })).toBeVisible();
  await page.goto(`/register?q=ip-${stamp}`);
  await expect(page.getByRole('link', { name: `IP-${stamp}`, exact: true })).toBeVisible();
});

shared('a week is planned, one test is put elsewhere and the rest answers, and the round is printed', async ({ page, request }) => {
  await page.goto('/plan');
  const table = page.getByRole('region', { name: 'The plan, week by week' });
  const chip = table.getByRole('button', { name: /^TK-01/ });
  await expect(chip).toBeVisible();
  await chip.click();
  const move = page.getByRole('group', { name: 'Move TK-01' });
  await move.getByRole('combobox', { name: 'Week' }).click();
  await page.getByRole('option').nth(1).click();
  await move.getByRole('button', { name: 'Put it there' }).click();
  await expect(table.locator('.chip.pinned', { hasText: 'TK-01' })).toBeVisible();
  const keep = page.getByRole('button', { name: 'Keep the plan' });
  await keep.click();
  await expect(page.getByText(/tests have their week/)).toBeVisible();
  await expect(keep).toBeEnabled();
  // The round of the week that it was put into, whatever else other tests have left to do.
  const cell = table.getByRole('cell').filter({ has: page.locator('.chip.pinned', { hasText: 'TK-01' }) });
  await cell.getByRole('button', { name: /The round of Round: fuel farm/ }).click();
  const round = page.getByRole('region', { name: /Round: fuel farm and stores, week of/ });
  await expect(round.getByRole('heading', { name: 'What must come along' })).toBeVisible();
  await expect(round.getByText('TK-01')).toBeVisible();
  await page.emulateMedia({ media: 'print' });
  await expect(round.getByText('TK-01')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Keep the plan' })).toBeHidden();
  await page.emulateMedia({ media: 'screen' });
  await page.goto('/settings');
  await page.getByRole('button', { name: 'Make a new link' }).click();
  const link = await page.getByLabel('The link of your calendar').inputValue();
  const calendar = await (await request.get(link)).text();
  expect(calendar).toContain('SUMMARY:This week: TK-01');
});

shared('a test is dragged to another week with the mouse, stays there, and goes back', async ({ page }) => {
  await page.goto('/plan');
  const table = page.getByRole('region', { name: 'The plan, week by week' });
  const chip = table.locator('td .chip:not(.pinned)').first();
  await expect(chip).toBeVisible();
  const tag = (await chip.innerText()).split(' ')[0] ?? '';
  const to = chip.locator('xpath=ancestor::tr').locator('td').nth(3);
  const [a, b] = [await chip.boundingBox(), await to.boundingBox()];
  if (!a || !b) throw new Error('nothing to drag');
  await page.mouse.move(a.x + a.width / 2, a.y + a.height / 2);
  await page.mouse.down();
  await page.mouse.move(a.x + a.width / 2 + 12, a.y + a.height / 2, { steps: 4 });
  await page.mouse.move(b.x + b.width / 2, b.y + b.height / 2, { steps: 12 });
  await page.mouse.up();
  await expect(to.locator('.chip.pinned', { hasText: tag })).toBeVisible();
  await page.getByRole('button', { name: 'Take back' }).click();
  await expect(table.locator('.chip.pinned', { hasText: tag })).toHaveCount(0);
});

shared('twenty thousand tests are planned while the screen goes on, and it says how far it is', async ({ page }) => {
  const tests = Array.from({ length: 20_000 }, (_, i) => ({
    id: `o${String(i)}`,
    due: addDays(today, (i * 7919) % 180),
    procedure: i % 3 === 0 ? 'tank.ibc' : 'suit.inflation',
    ruleSet: 'general',
    interval: 'P1Y',
    early: null,
    counting: 'rolling' as const,
    asset: `a${String(i)}`,
    tag: `X-${String(i).padStart(5, '0')}`,
    title: 'Item',
    place: `Place ${String(i % 40)}`,
    minutes: 20 + (i % 40),
  }));
  const benches = Array.from({ length: 40 }, (_, i) => ({ id: `b${String(i)}`, name: `Bench ${String(i)}`, setups: [], hoursAWeek: 40 }));
  const view: PlanView = { today, procedures: {}, tests, benches, kept: [] };
  await page.route('**/api/plan?*', (route) => route.fulfill({ json: view }));
  // Frames that were drawn while a plan was being made: none, where making it held the screen.
  await page.addInitScript(() => {
    const seen = window as unknown as { planning: number };
    seen.planning = 0;
    const look = (): void => {
      if (document.querySelector('progress[aria-label="Making the plan"]:not(.idle)')) seen.planning += 1;
      requestAnimationFrame(look);
    };
    requestAnimationFrame(look);
  });
  await page.goto('/plan');
  await page.getByLabel('Tests a week').fill('500');
  await page.getByLabel('Tests a week').press('Tab');
  const table = page.getByRole('region', { name: 'The plan, week by week' });
  await expect(table.locator('td .chip').first()).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText(/20000 tests, \d+ set-ups/)).toBeVisible();
  // Five hundred a week cannot hold them, and the proof says so.
  await expect(page.getByText(/there are \d+ tests that cannot move out, and \d+ can be done/)).toBeVisible();
  await expect(page.getByRole('progressbar', { name: 'Making the plan' })).toHaveCount(0, { timeout: 60_000 });
  expect(await page.evaluate(() => (window as unknown as { planning: number }).planning)).toBeGreaterThan(5);
});

shared('a new instrument stands in the register with its calibration; putting it away is taken back later, from the list of changes', async ({ page }) => {
  const tag = `IN-${stamp}`;
  await page.goto('/instruments/new');
  await page.getByRole('textbox', { name: 'Tag', exact: true }).fill(tag);
  await page.getByRole('textbox', { name: 'Serial', exact: true }).fill(`I${stamp}`);
  await page.getByLabel('What it is').fill('Column gauge');
  await page.getByLabel('Place', { exact: true }).fill('Gauge room');
  for (const [label, text] of [['Range from', '0'], ['Range to', '60'], ['Smallest step', '0.1'], ['Limit of error', '0.2']] as const) await page.getByLabel(label).fill(text); // prettier-ignore
  // The date field listens to keys: a value that is only set says nothing to it.
  await page.getByLabel('Calibration stands to').pressSequentially(addDays(today, 9));
  await page.keyboard.press('Tab');
  await page.getByRole('button', { name: 'Add it' }).click();
  await expect(page.getByRole('heading', { level: 1, name: tag })).toBeVisible();
  await page.getByRole('link', { name: 'In the register' }).click();
  await expect(page.getByText('Calibration: due in 9 days')).toBeVisible();
  await page.getByRole('button', { name: 'Put away', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Take back into use' })).toBeVisible();
  await page.goto('/register/changes');
  await page.getByRole('button', { name: `Take back: ${tag} put away` }).click();
  await expect(page.getByText(`Taken back: ${tag} put away`)).toBeVisible();
  await page.goto(`/register?class=instrument&q=${tag.toLowerCase()}`);
  await expect(page.getByRole('link', { name: tag, exact: true })).toBeVisible();
});

shared('an instrument is found bad: its runs are judged again, and the item waits for a retest', async ({ page, api }) => {
  const p = await openPractice(api, 'suit.inflation', 'in-h2o-4');
  await carryThrough(page, p, 'none');
  const { instruments } = (await (await api.get(`/api/runs/${p.run}`)).json()) as { instruments: Record<string, { id: string }> };
  await page.goto(`/instruments/${Object.values(instruments)[0]?.id ?? ''}`);
  await page.getByRole('button', { name: 'A new calibration' }).click();
  await page.getByLabel('Done on').fill(today);
  await page.getByLabel('Next due').fill(inAYear);
  await page.getByLabel('By', { exact: true }).fill('Calibration room');
  await page.getByLabel('Certificate').fill('K-9');
  for (const [i, [nominal, found]] of [['0', '0'], ['7', '9.9'], ['10', '10.02']].entries()) {
    await page.getByLabel(`Nominal, point ${String(i + 1)}`).fill(nominal ?? '');
    await page.getByLabel(`As found, point ${String(i + 1)}`).fill(found ?? '');
    await page.getByLabel(`As left, point ${String(i + 1)}`).fill(nominal ?? '');
  } // prettier-ignore
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByText(/1 runs judged again, 1 to be tested again/)).toBeVisible();
  await page.getByRole('link', { name: `Retest ${p.tag}` }).click();
  await expect(page.getByRole('heading', { level: 1, name: p.tag })).toBeVisible();
  await expect(page.getByText(/read with an instrument found out of tolerance/)).toBeVisible();
});

shared('a reading is shown in the unit that the person prefers, with the one of its source beside it', async ({ page, api }) => {
  await page.goto('/settings');
  await page.getByRole('combobox', { name: 'Low pressure' }).click();
  await page.getByRole('option', { name: 'cmH2O' }).click();
  const p = await openPractice(api, 'ba.facepiece', 'mbar-10');
  await atBench(page, p, 'none');
  await carryOnUntil(page, p, (at) => at.next === 'hold');
  await expect(page.locator('.gauge .value').first()).toContainText('cmH2O');
  await expect(page.locator('[data-also]').first()).toContainText('mbar');
  await expect(page.locator('dt:has-text("Limit") + dd').first()).toContainText(/mbar, that is .* cmH2O/);
});
