import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { dueAfter, usualRule, emptyRun, findLifts, fold, type RunEvent } from '@grellin/core';
import { leastEarly, leastSlots, workPlan, earliness, type PlanJob } from '@grellin/core';
import { reliefRig } from '@grellin/core/rig';
import { missed, report, timed } from '../measure/ratio';
import { load } from '../load/measure';
import { scale } from '../scale/measure';
import { calibration } from './calibration';

/**
 * Ratios, each of two things timed in the same process and the same minute, because machines are shared and noisy; and the calibration of the stated
 * confidence. Nothing here is asserted by a test: a figure past its bound is marked, and the exit code is 1.
 */
const usage = `npm run bench              every ratio and the calibration; with PostgreSQL, the server under load and the register at 1 000, 10 000 and 100 000 assets
npm run bench -- --load    the server under load only
npm run bench -- --quick   without PostgreSQL
npm run bench -- --browser [--minutes N]
                           frames and memory of the bench while five rigs stream, N minutes (1)
npm run bench -- --help     this
`;

/** Ten minutes at 200 Hz: lifts of a valve one after another, with noise. */
function reliefTrace(samples: number): Float64Array {
  let state = reliefRig.act(reliefRig.make('none'), { act: 'lift' });
  let seed = 1;
  const noise = (): number => {
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
    return seed / 2 ** 32 - 0.5;
  };
  let bled = 0;
  return Float64Array.from({ length: samples }, () => {
    state = reliefRig.step(state, 0.005);
    if (reliefRig.happening?.(state).has('shut')) {
      state = reliefRig.act(state, { act: 'bleed' });
      bled = 8000;
    } else if (bled > 0 && --bled === 0) state = reliefRig.act(state, { act: 'lift' });
    return (reliefRig.values(state)['p1'] ?? 0) + 400 * noise();
  });
}

function relief(): void {
  const trace = reliefTrace(120_000);
  const sum = timed(41, () => {
    let total = 0;
    for (let i = 0; i < trace.length; i++) total += trace[i] ?? 0;
    return total;
  });
  const found = findLifts(trace, 200).lifts.length;
  const judged = timed(9, () => findLifts(trace, 200));
  report('lifts found in 120 000 samples ÷ their plain sum', judged / sum, 200, `${judged.toFixed(1)} ms ÷ ${sum.toFixed(3)} ms, ${found} lifts`);
}

function dueDates(): void {
  const n = 100_000;
  const day = (i: number): string =>
    `20${String(10 + (i % 17)).padStart(2, '0')}-${String(1 + (i % 12)).padStart(2, '0')}-${String(1 + (i % 28)).padStart(2, '0')}`;
  const days = Array.from({ length: n }, (_, i) => day(i));
  const numbers = Array.from({ length: n }, (_, i) => (i * 7919) % 104_729);
  const rules = ['P1Y', 'P30M', 'P6M', 'P28D'].map((interval) => ({ ...usualRule, interval, anchor: '2026-01-01' }));
  const sort = timed(9, () => [...numbers].sort((a, b) => a - b));
  const due = timed(3, () => days.map((d, i) => dueAfter(rules[i % 4] ?? { ...usualRule, interval: 'P1Y', anchor: '2026-01-01' }, d, null)));
  report('100 000 due dates ÷ a plain sort of as many numbers', due / sort, 50, `${due.toFixed(0)} ms ÷ ${sort.toFixed(1)} ms`);
}

function folds(): void {
  const opened: RunEvent = { id: 'o', source: 'server', n: 1, at: 0, kind: 'opened', startedAt: '2026-11-25T08:00:00.000Z', procedure: 'd', ruleSet: 'r', assets: {}, instruments: {}, clock: 'live' }; // prettier-ignore
  const events = (n: number): RunEvent[] => [opened, ...Array.from({ length: n }, (_, i): RunEvent => ({ id: `e${i}`, source: 'hand', n: i + 1, at: i * 100, kind: 'reading', channel: 'a', quantity: { value: i, unit: 'Pa' } }))]; // prettier-ignore
  const time = (n: number): number => {
    const list = events(n);
    return timed(9, () => list.reduce(fold, emptyRun));
  };
  const [short, long] = [time(10_000), time(40_000)];
  report('fold of 40 000 events ÷ of 10 000 (4 is linear)', long / short, 6, `${long.toFixed(1)} ms ÷ ${short.toFixed(1)} ms`);
}

/** Twenty thousand tests over two years: the exact weeks are the bound, and making the plan is held against sorting the tests. */
function planning(): void {
  let seed = 3;
  const draw = (n: number): number => (seed = (seed * 48_271) % 2_147_483_647) % n;
  const jobs = Array.from({ length: 20_000 }, (_, i): PlanJob => {
    const due = 5 + draw(100);
    return { id: String(i), from: Math.max(1, due - 1 - draw(4)), due, hours: 0.5 + draw(4) / 2, setup: `s${String(draw(12))}` };
  });
  const { slots } = leastSlots(jobs);
  const weeks = { first: 1, slots: new Array<number>(104).fill(slots) };
  const benches = Array.from({ length: 40 }, (_, i) => ({ id: `B${String(i)}`, setups: [], hoursAWeek: 60 }));
  const rules = { benches, weeks, setupHours: 0.5, weeksForASetup: 0 };
  const plan = workPlan(jobs, rules);
  const least = earliness(jobs, leastEarly(jobs, weeks) ?? []);
  report(
    'weeks early in 20 000 tests ÷ the exact bound',
    plan.early / Math.max(1, least),
    1,
    `${plan.early} ÷ ${least}, at ${slots} a week, the least that is possible`,
  );
  const sort = timed(9, () => [...jobs].sort((a, b) => a.due - b.due));
  const made = timed(3, () => workPlan(jobs, rules));
  report('a plan of 20 000 tests ÷ sorting them', made / sort, 400, `${made.toFixed(0)} ms ÷ ${sort.toFixed(1)} ms`);
}

if (process.argv.includes('--help')) process.stdout.write(usage);
else {
  const owner = process.env['OWNER_URL'];
  if (!process.argv.includes('--load')) {
    relief();
    dueDates();
    folds();
    planning();
    calibration();
  }
  if (owner !== undefined) await load(owner, dirname(fileURLToPath(import.meta.url)));
  if (owner !== undefined && !process.argv.includes('--load')) await scale(owner);
  process.exitCode = missed.length > 0 ? 1 : 0;
}
