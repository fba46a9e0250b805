import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { carryOn, label, openAsset, primary, sealAndRead, signIn, startRun } from './testing/bench';
import { openPractice } from './testing/practice';
import { setUp, takeOver } from './testing/practisedHand';
import { worked } from './testing/rigHand';
import { sharing } from './testing/rotation';
import { carryOnTyped } from './testing/typist';

const shared = sharing(test, 3);

/** The seconds that the timer on the screen still shows. */
async function secondsLeft(page: Page): Promise<number> {
  const [minutes = '0', seconds = '0'] = (await page.getByRole('timer').innerText()).split(':');
  return Number(minutes) * 60 + Number(seconds);
}

/** Times of every reading in the run's stored history, ms. */
async function storedTimes(page: Page): Promise<number[]> {
  const id = page.url().split('/').at(-1) ?? '';
  return page.evaluate(
    (run) =>
      new Promise<number[]>((resolve) => {
        const source = new EventSource(`/api/runs/${run}/events?after=0`);
        const times: number[] = [];
        // The past comes a page at a time: one that is not full is its end.
        source.onmessage = (message: MessageEvent<string>) => {
          const { events } = JSON.parse(message.data) as { events: { event: { kind: string; at: number; everyMs: number; values: number[] } }[] };
          times.push(...events.flatMap(({ event: e }) => (e.kind === 'samples' ? e.values.map((_, i) => e.at + i * e.everyMs) : [])));
          if (events.length >= 40) return;
          source.close();
          resolve(times);
        };
      }),
    id,
  );
}

shared('a reload, a killed tab and a killed server in the middle of a hold lose no reading and no time', async ({ page, context }) => {
  test.slow(); // real minutes pass
  await signIn(page);
  await startRun(page, 'GS-10', { suit: 'PL-04' });
  await setUp(page, 'none');
  await carryOn(page, /Holding/);
  await carryOn(page, /Inflate/);
  await carryOn(page, /Holding/);
  await worked(page, () => page.getByRole('button', { name: '×1', exact: true }).click());
  await page.waitForTimeout(1500);

  // Reload.
  const before = await secondsLeft(page);
  await page.reload();
  await expect.poll(() => label(page)).toMatch(/Holding/);
  const after = await secondsLeft(page);
  expect(before - after).toBeGreaterThanOrEqual(0);
  expect(before - after).toBeLessThan(20);
  await expect(page.getByText('looking on')).toHaveCount(0);

  // The tab is killed; another takes the run up where it was, without being asked.
  const url = page.url();
  await page.close();
  const again = await context.newPage();
  await again.goto(url);
  await expect.poll(() => label(again)).toMatch(/Holding/);
  await expect(again.getByText('looking on')).toHaveCount(0);

  // The server is killed outright; the start command brings it back.
  const shown = await secondsLeft(again);
  process.kill(Number(readFileSync(`${process.env['GRELLIN_DATA'] ?? ''}/server.pid`, 'utf8')), 'SIGKILL');
  await expect(again.getByText('The server is away')).toBeVisible();
  await expect(again.getByText('The server is away')).toHaveCount(0, { timeout: 60_000 });
  await expect.poll(() => secondsLeft(again)).toBeLessThan(shown);

  const times = await storedTimes(again);
  const steps = times.slice(1).map((t, i) => t - (times[i] ?? 0));
  expect(times.length).toBeGreaterThan(200);
  expect(steps.filter((s) => s !== 500)).toEqual([]); // none missing, none doubled

  await worked(again, () => again.getByRole('button', { name: 'still', exact: true }).click());
  await sealAndRead(again);
  await expect(again.getByRole('heading', { level: 1 })).toHaveText('GS-10 is tight');
});

shared('a second tab looks on, and takes over only when asked', async ({ page, browser }) => {
  await signIn(page);
  await openAsset(page, 'GS-06');
  await startRun(page, 'GS-06', { suit: 'MG-01' });
  await expect(primary(page)).toBeEnabled();
  const other = await (await browser.newContext()).newPage();
  await signIn(other, 'officer');
  await other.goto(page.url());
  await expect(other.getByText('looking on')).toBeVisible();
  await expect(primary(other)).toBeDisabled();
  await takeOver(other);
  await expect(primary(other)).toBeEnabled();
  await expect(page.getByText('looking on')).toBeVisible();
  await other.keyboard.press('x');
  await other.getByLabel('Why is the run abandoned?').fill('only trying');
  await other.keyboard.press('Enter');
  await expect.poll(() => label(other)).toMatch(/To the record/);
});

/** Every typed reading in the run's stored history, as `channel value`. */
async function storedReadings(page: Page): Promise<string[]> {
  const id = page.url().split('/').at(-1) ?? '';
  return page.evaluate(
    (run) =>
      new Promise<string[]>((resolve) => {
        const source = new EventSource(`/api/runs/${run}/events?after=0`);
        source.onmessage = (message: MessageEvent<string>) => {
          source.close();
          const { events } = JSON.parse(message.data) as { events: { event: { kind: string; channel: string; quantity: { value: number } } }[] };
          resolve(events.flatMap(({ event: e }) => (e.kind === 'reading' ? [`${e.channel} ${String(e.quantity.value)}`] : [])));
        };
      }),
    id,
  );
}

shared('the network is gone for twenty seconds of a hold: what is typed is kept, sent once, and the time left is right', async ({ page, context }) => {
  await signIn(page, 'officer');
  const p = await openPractice(page.request, 'ba.facepiece', 'mbar-10', true);
  await page.goto(`/bench/${p.run}`);
  await takeOver(page);
  // The kit alone is proved first: drawn down, and held for a minute with nothing that would have to settle.
  await carryOnTyped(
    page,
    () => '-10',
    (_, next) => next === 'hold',
  );
  const said = await storedReadings(page);
  expect(said).not.toEqual([]);
  const read = async (value: string): Promise<void> => {
    const input = page.locator('gr-reading-form input').first();
    await input.fill(value);
    await input.press('Enter');
    await expect(input).toHaveValue('');
    // Drawn: so it is in this browser's own store, whatever the network does.
    await expect(page.locator('[data-channel="suction"]')).toContainText(value.replace('-', '−'));
    said.push(`suction ${value}`);
  };

  const before = await secondsLeft(page);
  const dropped = Date.now();
  await context.setOffline(true);
  await read('-9.9');
  await expect(page.getByText('The server is away')).toBeVisible();
  await page.waitForTimeout(10_000);
  await read('-9.8');
  await page.waitForTimeout(20_000 - (Date.now() - dropped));
  const passed = (Date.now() - dropped) / 1000;
  const after = await secondsLeft(page);
  expect(Math.abs(before - after - passed)).toBeLessThan(3); // the clock went on by itself
  await context.setOffline(false);
  await expect(page.getByText('The server is away')).toHaveCount(0, { timeout: 30_000 });
  await expect.poll(async () => (await storedReadings(page)).sort()).toEqual([...said].sort()); // none missing, none doubled
  await expect.poll(() => label(page)).toMatch(/Holding/);
});
