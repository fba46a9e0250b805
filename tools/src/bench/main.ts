import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import { dueAfter, usualRule, emptyRun, findLifts, fold, judgeStage, makePlan, procedureById, ReadingList, type ChannelInstrument, type Plan, type RunEvent, type StageRecord } from '@grellin/core'; // prettier-ignore
import { leastEarly, leastSlots, workPlan, earliness, type PlanJob } from '@grellin/core';
import { reliefRig } from '@grellin/core/rig';
import { missed, report, timed } from '../measure/ratio';
import { load } from '../load/measure';
import { scale } from '../scale/measure';

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

const RUNS = 10_000;

/** A run around its limit: a true loss from a flat prior, read on a gauge whose errors are drawn as its figures say. */
function simulated(plan: Plan, gauge: ChannelInstrument, random: () => number): { readonly claimed: number; readonly conforms: boolean } {
  const stage = plan.stages.find((s) => s.id === 'hold');
  if (!stage) throw new Error('the plan has no hold');
  const spread = gauge.accuracy.value * 3;
  const start = 265 + 10 * random();
  const loss = 10 + (random() - 0.5) * 2 * spread;
  const rect = (): number => (2 * random() - 1) * gauge.accuracy.value;
  const common = rect() * Math.sqrt(gauge.correlation);
  const own = Math.sqrt(1 - gauge.correlation);
  const step = gauge.resolution.value;
  const read = (truth: number): number => Number((Math.round((truth + common + rect() * own) / step) * step).toFixed(6));
  const reading = (s: number, value: number) => ({ at: s * 1000, value, unit: 'bar', typed: false, event: `r${s}` });
  const line = ReadingList.of([reading(0.5, 270), reading(100, read(start)), reading(160, read(start - loss))]);
  const record: StageRecord = {
    attempt: 1,
    beganAt: 0,
    endedAt: 200_000,
    endReason: null,
    marks: [['pressurise', 1], ['shut', 2], ['settle', 60], ['start', 100]].map(([mark, s]) => ({ mark: String(mark), at: Number(s) * 1000, event: String(mark) })), // prettier-ignore
    answers: {},
    spots: {},
    readings: { line },
    sinceOpened: { line },
    disturbances: [],
    gaps: [],
    typedTimingMs: 0,
  };
  const finding = judgeStage(plan, stage, record, { line: gauge }).find((f) => f.confidence !== null);
  return { claimed: finding?.confidence?.conforms ?? Number.NaN, conforms: loss <= 10 };
}

/** Coverage of the stated confidence: of all runs that claim about so much, as many must truly conform. */
function calibration(): void {
  const procedure = procedureById('ba.high-pressure');
  const made = procedure && makePlan(procedure, 'd', 'bar-10', { set: { filling: { value: 300, unit: 'bar' } } });
  if (!made?.ok) throw new Error('no plan to calibrate with');
  const bar = (value: number) => ({ value, unit: 'bar' });
  for (const correlation of [0, 0.9]) {
    const gauge: ChannelInstrument = { fitted: true, low: bar(0), high: bar(400), resolution: bar(0.5), accuracy: bar(4), correlation, inCalibration: true };
    let seed = 20_261_125;
    const random = (): number => {
      seed = (seed + 0x6d2b79f5) | 0;
      let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
      t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
      return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
    };
    const bins = Array.from({ length: 10 }, () => ({ n: 0, claimed: 0, kept: 0 }));
    for (let i = 0; i < RUNS; i++) {
      const { claimed, conforms } = simulated(made.plan, gauge, random);
      const bin = bins[Math.min(9, Math.floor(claimed * 10))];
      if (!bin) continue;
      bin.n++;
      bin.claimed += claimed;
      if (conforms) bin.kept++;
    }
    for (const b of bins.filter((x) => x.n > 0))
      process.stdout.write(`       claims ${((100 * b.claimed) / b.n).toFixed(1)} %: ${((100 * b.kept) / b.n).toFixed(1)} % of ${b.n} conform\n`);
    const total = bins.reduce((a, b) => ({ n: a.n + b.n, claimed: a.claimed + b.claimed, kept: a.kept + b.kept }), { n: 0, claimed: 0, kept: 0 });
    // How far claim and truth lie apart, over all bins by their weight, less what chance alone would give so many runs.
    const apart = bins.reduce((a, b) => a + Math.abs(b.claimed - b.kept), 0) / total.n;
    report(
      `coverage off by, in %, correlation ${correlation}, ${RUNS} runs`,
      100 * apart,
      2,
      `claimed ${((100 * total.claimed) / total.n).toFixed(2)} %, found ${((100 * total.kept) / total.n).toFixed(2)} %`,
    );
  }
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
