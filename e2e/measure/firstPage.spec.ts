import { expect, type Page } from '@playwright/test';
import { openPractice } from '../testing/practice';
import { carryOnUntil, setUp, takeOver } from '../testing/practisedHand';
import { test } from '../testing/signedIn';

/** A phone of the middle kind on a slow network: a processor four times slower, 1.6 Mbit/s, 150 ms there and back. */
const SLOWER = 4;
const BYTES_A_SECOND = 1_600_000 / 8;
const ROUND_TRIP_MS = 150;
const TIMES = 3;

test.use({ viewport: { width: 390, height: 844 }, hasTouch: true });

async function asAPhone(page: Page): Promise<void> {
  const session = await page.context().newCDPSession(page);
  await session.send('Network.enable');
  await session.send('Network.setCacheDisabled', { cacheDisabled: true });
  await session.send('Network.emulateNetworkConditions', {
    offline: false,
    latency: ROUND_TRIP_MS,
    downloadThroughput: BYTES_A_SECOND,
    uploadThroughput: BYTES_A_SECOND,
  });
  await session.send('Emulation.setCPUThrottlingRate', { rate: SLOWER });
}

/** When the largest thing of the page stood there, ms from its beginning. */
const largestPaint = (page: Page): Promise<number> =>
  page.evaluate(
    () =>
      new Promise<number>((done) => {
        let last = 0;
        new PerformanceObserver((list) => {
          for (const e of list.getEntries()) last = e.startTime;
        }).observe({ type: 'largest-contentful-paint', buffered: true });
        setTimeout(() => done(last), 3000);
      }),
  );

const middle = (all: readonly number[]): number => [...all].sort((a, b) => a - b)[Math.floor(all.length / 2)] ?? 0;

for (const [path, wanted] of [
  ['/sign-in', 'Sign in'],
  ['/today', /\d+ due/],
] as const)
  test(`the largest paint of ${path} on a phone`, async ({ browser, storageState, baseURL }) => {
    const times: number[] = [];
    for (let i = 0; i < TIMES; i++) {
      const context = await browser.newContext({
        viewport: { width: 390, height: 844 },
        serviceWorkers: 'block',
        ...(baseURL === undefined ? {} : { baseURL }),
        ...(path === '/today' && storageState !== undefined ? { storageState } : {}),
      });
      const page = await context.newPage();
      await asAPhone(page);
      await page.goto(path);
      await expect(page.getByText(wanted).first()).toBeVisible({ timeout: 60_000 });
      times.push(await largestPaint(page));
      await context.close();
    }
    process.stdout.write(
      `largest paint of ${path} on a phone: ${(middle(times) / 1000).toFixed(2)} s of ${String(TIMES)} (${times.map((t) => (t / 1000).toFixed(2)).join(', ')}), wanted 2.5\n`,
    );
    expect(middle(times)).toBeGreaterThan(0);
  });

test('what a frame of the bench takes of the main thread, with one rig', async ({ page, api }) => {
  const p = await openPractice(api, 'suit.inflation', 'mbar-16.5');
  await page.goto(`/bench/${p.run}`);
  await takeOver(page);
  await setUp(page, 'none');
  await carryOnUntil(page, p, (at) => at.next === 'wait');
  const { instruments } = (await (await api.get(`/api/runs/${p.run}`)).json()) as { instruments: Record<string, { id: string; streams: boolean }> };
  const streaming = Object.values(instruments).find((i) => i.streams);
  await api.post(`/api/instruments/${streaming?.id ?? ''}/rig`, { data: { act: 'free', speed: 1 } });
  const session = await page.context().newCDPSession(page);
  await session.send('Emulation.setCPUThrottlingRate', { rate: SLOWER });
  await session.send('Performance.enable');
  const busy = async (): Promise<number> => ((await session.send('Performance.getMetrics')).metrics.find((m) => m.name === 'TaskDuration')?.value ?? 0) * 1000;
  const before = await busy();
  const frames = await page.evaluate(
    () =>
      new Promise<number>((done) => {
        const begun = performance.now();
        let count = 0;
        const tick = (now: number): void => {
          count += 1;
          if (now - begun < 10_000) requestAnimationFrame(tick);
          else done(count);
        };
        requestAnimationFrame(tick);
      }),
  );
  const each = ((await busy()) - before) / frames;
  process.stdout.write(`main thread for a frame of the bench on a phone, one rig: ${each.toFixed(1)} ms over ${String(frames)} frames, wanted at most 8\n`);
  expect(frames).toBeGreaterThan(10);
});
