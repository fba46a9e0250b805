/** Median time of a piece of work, ms, after it has been done once for warming up. */
export function timed(times: number, work: () => unknown): number {
  work();
  const took = Array.from({ length: times }, () => {
    const from = performance.now();
    work();
    return performance.now() - from;
  });
  return took.sort((a, b) => a - b)[Math.floor(times / 2)] ?? 0;
}

/**
 * Median times of two pieces of work, ms, done in turn so that a noisy minute strikes both alike.
 * @param times how often each
 */
export async function timedInTurn(times: number, a: (i: number) => Promise<unknown>, b: (i: number) => Promise<unknown>): Promise<readonly [number, number]> {
  const took: [number[], number[]] = [[], []];
  for (let i = -1; i < times; i++)
    for (const [k, work] of [a, b].entries()) {
      const from = performance.now();
      await work(Math.max(0, i));
      if (i >= 0) took[k === 0 ? 0 : 1].push(performance.now() - from); // the first is for warming up
    }
  const median = (list: number[]): number => list.sort((x, y) => x - y)[Math.floor(list.length / 2)] ?? 0;
  return [median(took[0]), median(took[1])];
}

/** What was past its bound. */
export const missed: string[] = [];

/** Prints a ratio beside its bound. */
export function report(what: string, value: number, most: number, detail: string): void {
  const kept = value <= most;
  if (!kept) missed.push(what);
  process.stdout.write(`${kept ? 'kept  ' : 'MISSED'} ${what}: ${value.toFixed(2)} (at most ${most}) ${detail}\n`);
}
