import { crowded, earliness, flattest, leastEarly, weeksFor, type Crowded, type UnitJob, type Weeks } from './levelling';

/** A test that has to be put into a week and on a bench. */
export interface PlanJob extends UnitJob {
  readonly id: string;
  /** Hours at the bench. */
  readonly hours: number;
  /** What has to be rigged up for it: tests that share one share its set-up. */
  readonly setup: string;
  /** Where a person put it; nothing moves it from there. */
  readonly fixed?: { readonly week: number; readonly bench: string };
}

export interface PlanBench {
  readonly id: string;
  /** The set-ups that can be rigged on it; empty for any. */
  readonly setups: readonly string[];
  readonly hoursAWeek: number;
}

export interface PlanRules {
  readonly benches: readonly PlanBench[];
  /** Tests that can be done in each week. */
  readonly weeks: Weeks;
  /** Hours that rigging a bench up takes, each week anew. */
  readonly setupHours: number;
  /** How many weeks early a test may become to spare one set-up; 0 where being early costs more than rigging. */
  readonly weeksForASetup: number;
}

export interface Placed {
  readonly job: string;
  readonly week: number;
  readonly bench: string;
}

export interface WorkPlan {
  readonly placed: readonly Placed[];
  /** Tests that no bench can be rigged for, by id: they stand in no week, and the others do. */
  readonly benchless: readonly string[];
  /** Weeks that hold more tests than can be done, and none of them can move: the proof that something is over. */
  readonly crowded: Crowded | null;
  /** Benches that are over their hours in a week although all was tried. */
  readonly over: readonly { readonly week: number; readonly bench: string; readonly hours: number; readonly most: number }[];
  /** Weeks that all tests together are early. */
  readonly early: number;
  /** Nothing could be earlier by less: the weeks stand as the exact method put them. */
  readonly exact: boolean;
  readonly setups: number;
}

interface Cell {
  hours: number;
  readonly setups: Map<string, number>;
}

/** What stands on every bench in every week. */
class Board {
  private readonly cells = new Map<string, Cell>();
  private readonly loads = new Map<number, number>();
  constructor(private readonly rules: PlanRules) {}

  private cell(week: number, bench: string): Cell {
    const key = `${String(week)} ${bench}`;
    const found = this.cells.get(key) ?? { hours: 0, setups: new Map<string, number>() };
    this.cells.set(key, found);
    return found;
  }

  load(week: number): number {
    return this.loads.get(week) ?? 0;
  }

  /** Hours that a job would add: its own, and those of a set-up that is not there yet. */
  cost(job: PlanJob, week: number, bench: string): number {
    return job.hours + (this.cell(week, bench).setups.has(job.setup) ? 0 : this.rules.setupHours);
  }

  fits(job: PlanJob, week: number, bench: PlanBench): boolean {
    return this.cell(week, bench.id).hours + this.cost(job, week, bench.id) <= bench.hoursAWeek + 1e-9;
  }

  rigged(setup: string, week: number, bench: string): number {
    return this.cell(week, bench).setups.get(setup) ?? 0;
  }

  hours(week: number, bench: string): number {
    return this.cell(week, bench).hours;
  }

  put(job: PlanJob, week: number, bench: string): void {
    const cell = this.cell(week, bench);
    cell.hours += this.cost(job, week, bench);
    cell.setups.set(job.setup, (cell.setups.get(job.setup) ?? 0) + 1);
    this.loads.set(week, this.load(week) + 1);
  }

  take(job: PlanJob, week: number, bench: string): void {
    const cell = this.cell(week, bench);
    const left = (cell.setups.get(job.setup) ?? 1) - 1;
    if (left === 0) cell.setups.delete(job.setup);
    else cell.setups.set(job.setup, left);
    cell.hours -= job.hours + (left === 0 ? this.rules.setupHours : 0);
    this.loads.set(week, this.load(week) - 1);
  }

  over(): WorkPlan['over'] {
    return [...this.cells].flatMap(([key, cell]) => {
      const [week, ...name] = key.split(' ');
      const bench = this.rules.benches.find((b) => b.id === name.join(' '));
      return bench && cell.hours > bench.hoursAWeek + 1e-9 ? [{ week: Number(week), bench: bench.id, hours: cell.hours, most: bench.hoursAWeek }] : [];
    });
  }

  setups(): number {
    return [...this.cells.values()].reduce((n, c) => n + c.setups.size, 0);
  }
}

const slotsIn = (weeks: Weeks, week: number): number => weeks.slots[week - weeks.first] ?? 0;

/** The bench for a job in a week: one where its set-up stands already, else the one with most room; null where none has room. */
function benchFor(board: Board, rules: PlanRules, job: PlanJob, week: number): PlanBench | null {
  const able = rules.benches.filter((b) => (b.setups.length === 0 || b.setups.includes(job.setup)) && board.fits(job, week, b));
  return able.reduce<PlanBench | null>((best, b) => {
    if (!best) return b;
    const [rb, rbest] = [board.rigged(job.setup, week, b.id) > 0, board.rigged(job.setup, week, best.id) > 0];
    if (rb !== rbest) return rb ? b : best;
    return b.hoursAWeek - board.hours(week, b.id) > best.hoursAWeek - board.hours(week, best.id) ? b : best;
  }, null);
}

/** The nearest week before one, no earlier than `from`, that is free; null where none is. */
function nearestBefore(week: number, from: number, free: (week: number) => boolean): number | null {
  for (let w = week - 1; w >= from; w--) if (free(w)) return w;
  return null;
}

/** Where nothing has room: the able bench that is least over. */
function leastOver(board: Board, rules: PlanRules, job: PlanJob, week: number): PlanBench | undefined {
  return rules.benches
    .filter((b) => b.setups.length === 0 || b.setups.includes(job.setup))
    .sort((a, b) => board.hours(week, a.id) - a.hoursAWeek - (board.hours(week, b.id) - b.hoursAWeek))[0];
}

/**
 * Puts tests into weeks and on benches so that nothing is late and as little as possible is early. The weeks are exact as long as a test is one slot
 * (`leastEarly`); the hours of the benches and the sharing of set-ups are a heuristic, which moves a test to an earlier week of its own window, never out of it.
 * Source: physics as in `levelling.ts`; first fit, largest first, for the benches: common practice (the exact problem is bin packing).
 * @param asked those with `fixed` stay where they are
 * @param onProgress told, from 0 to 1, how much is done
 * @throws RangeError for a window that is upside down
 * @example workPlan([{ id: 'GS-01', from: 1, due: 3, hours: 1, setup: 'suit' }], { benches: [{ id: 'bay', setups: [], hoursAWeek: 8 }], weeks: { first: 1, slots: [2, 2, 2] }, setupHours: 0.5, weeksForASetup: 0 }).placed // [{ job: 'GS-01', week: 3, bench: 'bay' }]
 */
export function workPlan(asked: readonly PlanJob[], rules: PlanRules, onProgress: (share: number) => void = () => undefined): WorkPlan {
  // What no bench can be rigged for is told, and takes nothing from the plan of the rest; where a person put it it stays.
  const able = (j: PlanJob): boolean => j.fixed !== undefined || rules.benches.some((b) => b.setups.length === 0 || b.setups.includes(j.setup));
  const jobs = asked.filter(able);
  const free = jobs.filter((j) => j.fixed === undefined);
  const fixed = jobs.filter((j) => j.fixed !== undefined);
  const taken = new Map<number, number>();
  for (const j of fixed) if (j.fixed) taken.set(j.fixed.week, (taken.get(j.fixed.week) ?? 0) + 1);
  const weeks: Weeks = { first: rules.weeks.first, slots: rules.weeks.slots.map((s, i) => Math.max(0, s - (taken.get(rules.weeks.first + i) ?? 0))) };
  const exactWeeks = leastEarly(free, weeks);
  const proof = exactWeeks ? null : crowded(free, weeks);
  const week = exactWeeks ?? flattest(free);
  onProgress(0.3);

  const board = new Board(rules);
  const at = new Map<string, Placed>();
  const put = (job: PlanJob, w: number, bench: string): void => {
    board.put(job, w, bench);
    at.set(job.id, { job: job.id, week: w, bench });
  };
  for (const job of fixed) if (job.fixed) put(job, job.fixed.week, job.fixed.bench);

  // From the last week to the first: what finds no room moves to the nearest earlier week of its window that can do one test more.
  const byWeek = new Map<number, PlanJob[]>();
  free.forEach((job, i) => {
    const w = week[i] ?? job.due;
    byWeek.set(w, [...(byWeek.get(w) ?? []), job]);
  });
  const span = weeksFor(free, 0);
  const last = Math.max(span.first + span.slots.length - 1, ...byWeek.keys());
  let moved = false;
  for (let w = last, done = 0; w >= span.first; w--, done++) {
    const here = (byWeek.get(w) ?? []).sort((a, b) => a.setup.localeCompare(b.setup) || b.hours - a.hours);
    for (const job of here) {
      const bench = benchFor(board, rules, job, w);
      if (bench) {
        put(job, w, bench.id);
        continue;
      }
      const earlier = nearestBefore(w, job.from, (v) => slotsIn(rules.weeks, v) - board.load(v) - (byWeek.get(v)?.length ?? 0) > 0);
      if (earlier !== null) {
        byWeek.set(earlier, [...(byWeek.get(earlier) ?? []), job]);
        moved = true;
        continue;
      }
      const worst = leastOver(board, rules, job, w);
      if (worst) put(job, w, worst.id);
    }
    if (done % 16 === 0) onProgress(0.3 + (0.5 * done) / Math.max(1, last - span.first + 1));
  }

  // A set-up for one test alone is spared where the same stands in an earlier week of its window.
  for (const job of free) {
    const now = at.get(job.id);
    if (!now || board.rigged(job.setup, now.week, now.bench) !== 1) continue;
    for (let w = now.week - 1; w >= Math.max(job.from, now.week - rules.weeksForASetup); w--) {
      if (board.load(w) >= slotsIn(rules.weeks, w)) continue;
      const bench = rules.benches.find((b) => board.rigged(job.setup, w, b.id) > 0 && board.fits(job, w, b));
      if (!bench) continue;
      board.take(job, now.week, now.bench);
      put(job, w, bench.id);
      moved = true;
      break;
    }
  }
  onProgress(1);
  const placed = jobs.map((j) => at.get(j.id)).filter((p) => p !== undefined);
  return {
    placed,
    benchless: asked.filter((j) => !able(j)).map((j) => j.id),
    crowded: proof,
    over: board.over(),
    early: earliness(
      jobs,
      placed.map((p) => p.week),
    ),
    exact: exactWeeks !== null && !moved && fixed.length === 0,
    setups: board.setups(),
  };
}
