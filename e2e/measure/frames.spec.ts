import { expect } from '@playwright/test';
import { atBench, openPractice, type Practice } from '../testing/practice';
import { carryOnUntil } from '../testing/practisedHand';
import { test } from '../testing/signedIn';

/**
 * How smooth the bench stays while four rigs stream ten lines a second and a relief bench two hundred, and whether its memory stays flat. Run by
 * `npm run bench -- --browser --minutes 20`; it prints, and fails only where a page stands still altogether.
 */
const minutes = Number(process.env['MINUTES'] ?? '1');
/** Suits send two lines a second: five times real time makes ten of them. */
const TEN_HZ = 5;

test('frames and memory while five rigs stream', async ({ page, api }) => {
  test.setTimeout((minutes + 10) * 60_000);
  const free = async (p: Practice, speed: number): Promise<void> => {
    const { instruments } = (await (await api.get(`/api/runs/${p.run}`)).json()) as { instruments: Record<string, { id: string; streams: boolean }> };
    const streaming = Object.values(instruments).find((i) => i.streams);
    await api.post(`/api/instruments/${streaming?.id ?? ''}/rig`, { data: { act: 'free', speed } });
  };
  const suits: Practice[] = [];
  for (let i = 0; i < 4; i++) {
    const p = await openPractice(api, 'suit.inflation', 'mbar-16.5');
    await free(p, TEN_HZ);
    suits.push(p);
  }
  const relief = await openPractice(api, 'valve.relief', 'asme');
  await atBench(page, relief, 'none');
  await carryOnUntil(page, relief, (at) => at.step === 'shut-1');
  await free(relief, 1);
  await page.waitForTimeout(3000);

  const session = await page.context().newCDPSession(page);
  const heap = async (): Promise<number> => {
    // Twice: what only a weak map held is free after the second.
    for (let i = 0; i < 2; i++) await session.send('HeapProfiler.collectGarbage');
    const { usedSize } = await session.send('Runtime.getHeapUsage');
    return usedSize / 1e6;
  };
  const frames = (ms: number): Promise<{ readonly count: number; readonly longest: number }> =>
    page.evaluate(
      (span) =>
        new Promise<{ count: number; longest: number }>((done) => {
          const begun = performance.now();
          let count = 0;
          let last = begun;
          let longest = 0;
          const tick = (now: number): void => {
            count += 1;
            longest = Math.max(longest, now - last);
            last = now;
            if (now - begun < span) requestAnimationFrame(tick);
            else done({ count, longest });
          };
          requestAnimationFrame(tick);
        }),
      ms,
    );
  const begun = await heap();
  const rates: number[] = [];
  for (let minute = 0; minute < minutes; minute++) {
    const { count, longest } = await frames(60_000);
    rates.push(count / 60);
    process.stdout.write(
      `       minute ${String(minute + 1)}: ${(count / 60).toFixed(1)} frames a second, longest ${longest.toFixed(0)} ms, heap ${(await heap()).toFixed(1)} MB\n`,
    );
  }
  const ended = await heap();
  const points = 200 * 60 * minutes;
  process.stdout.write(
    `frames a second: least ${Math.min(...rates).toFixed(1)}, wanted 50; heap ${begun.toFixed(1)} MB to ${ended.toFixed(1)} MB, ${(((ended - begun) * 1e6) / points).toFixed(0)} bytes for each sample of the trace that was added\n`,
  );
  expect(Math.min(...rates)).toBeGreaterThan(1);
});
