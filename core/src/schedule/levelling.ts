import TinyQueue from 'tinyqueue';

/**
 * Workload levelling: unit jobs into weeks, none late, exact. What is early costs something (a rolling interval loses the days for ever), and what is
 * crowded costs something else; the two optima are separate functions, and both are exact for jobs that take one slot.
 */

/** A test to be placed: the first and the last week (any whole numbers that count on) that it may be done in. */
export interface UnitJob {
  readonly from: number;
  readonly due: number;
}

/** Weeks that hold more jobs than they have slots, none of which can move out: the proof that no plan exists. */
export interface Crowded {
  readonly from: number;
  readonly to: number;
  readonly jobs: number;
  readonly slots: number;
}

/** Slots of each week from `first` on; a week outside has none. */
export interface Weeks {
  readonly first: number;
  readonly slots: readonly number[];
}

/** What stands at a place of a list that is known to have it. */
function at<T>(list: readonly T[], i: number): T {
  const found = list[i];
  if (found === undefined) throw new RangeError(`there is nothing at ${String(i)}`);
  return found;
}

/**
 * The weeks that a set of jobs reaches over, each with the same number of slots.
 * @example weeksFor([{ from: 1, due: 2 }, { from: 2, due: 4 }], 3) // { first: 1, slots: [3, 3, 3, 3] }
 */
export function weeksFor(jobs: readonly UnitJob[], slots: number): Weeks {
  let first = Infinity;
  let last = -Infinity;
  for (const { from, due } of jobs) {
    if (from > due) throw new RangeError(`a job may not be due (week ${String(due)}) before it may be done (week ${String(from)})`);
    first = Math.min(first, from);
    last = Math.max(last, due);
  }
  return jobs.length === 0 ? { first: 0, slots: [] } : { first, slots: new Array<number>(last - first + 1).fill(slots) };
}

/** How many jobs have their whole window in the weeks a..b, for every b of one a after another; O(jobs + weeks squared). */
function* enclosed(jobs: readonly UnitJob[], weeks: Weeks): Generator<{ from: number; to: number; jobs: number; slots: number }> {
  const W = weeks.slots.length;
  // Jobs by first week, then by due week.
  const starting = Array.from({ length: W }, () => new Map<number, number>());
  for (const job of jobs) {
    const row = at(starting, Math.max(0, job.from - weeks.first));
    row.set(job.due - weeks.first, (row.get(job.due - weeks.first) ?? 0) + 1);
  }
  const dueIn = new Array<number>(W).fill(0);
  for (let a = W - 1; a >= 0; a--) {
    for (const [due, n] of at(starting, a)) dueIn[due] = at(dueIn, due) + n;
    let inside = 0;
    let slots = 0;
    for (let b = a; b < W; b++) {
      inside += at(dueIn, b);
      slots += at(weeks.slots, b);
      yield { from: weeks.first + a, to: weeks.first + b, jobs: inside, slots };
    }
  }
}

/** The shorter span says more about what is crowded; of two alike, the fuller one. */
function tighter(a: Crowded, b: Crowded): boolean {
  const length = a.to - a.from - (b.to - b.from);
  return length < 0 || (length === 0 && a.jobs > b.jobs);
}

/**
 * The weeks that cannot be kept, or null where a plan exists. Source: Hall, On Representatives of Subsets (1935), on intervals.
 * @param weeks must cover every job's window
 * @example crowded([{ from: 1, due: 1 }, { from: 1, due: 1 }], { first: 1, slots: [1] }) // { from: 1, to: 1, jobs: 2, slots: 1 }
 */
export function crowded(jobs: readonly UnitJob[], weeks: Weeks): Crowded | null {
  let found: Crowded | null = null;
  for (const span of enclosed(jobs, weeks)) if (span.jobs > span.slots && (!found || tighter(span, found))) found = span;
  return found;
}

/**
 * The fewest slots a week with which nothing is late, and the weeks that demand them. Source: Hall (1935).
 * @example leastSlots([{ from: 1, due: 2 }, { from: 1, due: 2 }, { from: 1, due: 2 }]) // { slots: 2, from: 1, to: 2, jobs: 3 }
 */
export function leastSlots(jobs: readonly UnitJob[]): Crowded {
  let worst: Crowded = { from: 0, to: 0, jobs: 0, slots: 0 };
  // With one slot a week, the slots of a span are its length.
  for (const span of enclosed(jobs, weeksFor(jobs, 1))) {
    const slots = Math.ceil(span.jobs / span.slots);
    if (slots > worst.slots || (slots === worst.slots && tighter(span, worst))) worst = { ...span, slots };
  }
  return worst;
}

/**
 * Each job's week so that nothing is late and as little as possible is early, or null where no plan exists (`crowded` says why). From the last week to
 * the first, each takes those that may be done last. Source: Jackson (1955) and Horn (1974) mirrored; the slots used form a matroid basis, so that the
 * greedy choice is least early for any windows.
 * @returns weeks, in the order of the jobs
 * @example leastEarly([{ from: 1, due: 2 }, { from: 1, due: 2 }], { first: 1, slots: [1, 1] }) // [2, 1]
 */
export function leastEarly(jobs: readonly UnitJob[], weeks: Weeks): number[] | null {
  const byDue = jobs.map((_, i) => i).sort((a, b) => at(jobs, b).due - at(jobs, a).due);
  const waiting = new TinyQueue<number>([], (a, b) => at(jobs, b).from - at(jobs, a).from);
  const week = new Array<number>(jobs.length).fill(NaN);
  let arrived = 0;
  for (let w = weeks.first + weeks.slots.length - 1; w >= weeks.first; w--) {
    for (; arrived < byDue.length && at(jobs, at(byDue, arrived)).due >= w; arrived++) waiting.push(at(byDue, arrived));
    for (let slot = at(weeks.slots, w - weeks.first); slot > 0; slot--) {
      const job = waiting.pop();
      if (job === undefined) break;
      if (at(jobs, job).from > w) return null;
      week[job] = w;
    }
  }
  return waiting.length > 0 || arrived < byDue.length ? null : week;
}

/**
 * Weeks that all jobs together are early.
 * @example earliness([{ from: 1, due: 2 }, { from: 2, due: 4 }], [1, 4]) // 1
 */
export function earliness(jobs: readonly UnitJob[], week: readonly number[]): number {
  return jobs.reduce((sum, job, i) => sum + job.due - at(week, i), 0);
}

/**
 * The flattest plan (least sum of squared loads, which is least for every even-handed cost, the peak among them), and of those the least early. Jobs are
 * shifted along paths of permitted moves from a week to one that has at least two fewer, or one fewer and comes later. Source: Harvey, Ladner, Lovász and
 * Tamir, Semi-matchings for bipartite graphs, J. Algorithms 59 (2006); the loads form an M-convex set (Murota), so that no better move is no better plan.
 * @returns weeks, in the order of the jobs
 * @example flattest([{ from: 1, due: 2 }, { from: 1, due: 2 }]).sort() // [1, 2]: one in each week, in either order
 */
export function flattest(jobs: readonly UnitJob[]): number[] {
  const { first, slots } = weeksFor(jobs, 0);
  const held: Set<number>[] = slots.map(() => new Set());
  const load = (w: number): number => at(held, w).size;
  const week = jobs.map(({ from, due }, i) => {
    let best = due - first;
    for (let w = best; w >= from - first; w--) if (load(w) < load(best)) best = w;
    at(held, best).add(i);
    return best;
  });
  const better = (u: number, v: number): boolean => load(u) - load(v) > 1 || (load(u) - load(v) === 1 && v > u);

  /** Shifts one job along the shortest path out of a week to a better one; false where there is none. */
  function relieve(u: number): boolean {
    // How each week was come by: the moves from `u` to it, the last one first.
    interface Move {
      readonly job: number;
      readonly from: number;
      readonly to: number;
      readonly before: Move | null;
    }
    const came = new Map<number, Move | null>([[u, null]]);
    for (const [w, before] of came) {
      for (const job of at(held, w)) {
        const { from, due } = at(jobs, job);
        for (let v = due - first; v >= from - first; v--) {
          if (came.has(v)) continue;
          const move: Move = { job, from: w, to: v, before };
          came.set(v, move);
          if (!better(u, v)) continue;
          for (let m: Move | null = move; m; m = m.before) {
            at(held, m.from).delete(m.job);
            at(held, m.to).add(m.job);
            week[m.job] = m.to;
          }
          return true;
        }
      }
    }
    return false;
  }

  for (let again = true; again;) {
    again = false;
    for (let u = 0; u < held.length; u++) while (relieve(u)) again = true;
  }
  return week.map((w) => w + first);
}
