import { describe, expect, it } from 'vitest';
import { crowded, earliness, leastEarly, leastSlots, workPlan, type PlanBench, type PlanJob, type PlanRules } from '../../src';

const job = (id: string, from: number, due: number, more: Partial<PlanJob> = {}): PlanJob => ({ id, from, due, hours: 1, setup: 'suit', ...more });
const bench = (id: string, hoursAWeek: number, setups: readonly string[] = []): PlanBench => ({ id, hoursAWeek, setups });
const rules = (slots: readonly number[], benches: readonly PlanBench[], weeksForASetup = 0): PlanRules => ({
  benches,
  weeks: { first: 1, slots },
  setupHours: 0.5,
  weeksForASetup,
});

/** The worked case of twelve tests over seven weeks, two weeks early at most: least two a week, and five weeks early in all. */
const twelve = [3, 3, 3, 3, 3, 4, 4, 5, 6, 6, 6, 7].map((due, i) => job(String(i + 1), due - 2, due));

describe('a plan of work', () => {
  it('keeps the exact optimum of the weeks where benches have room: twelve tests, two a week, five weeks early', () => {
    const plan = workPlan(twelve, rules([2, 2, 2, 2, 2, 2, 2], [bench('A', 40)]));
    expect([plan.early, plan.exact, plan.crowded, plan.over]).toEqual([5, true, null, []]);
    expect([1, 2, 3, 4, 5, 6, 7].map((w) => plan.placed.filter((p) => p.week === w).length)).toEqual([1, 2, 2, 2, 2, 2, 1]);
  });

  it.each([
    [3, 2],
    [4, 1],
    [5, 0],
  ])('at %i a week it is %i weeks early, and no less can be had', (slots, early) => {
    expect(workPlan(twelve, rules(new Array<number>(7).fill(slots), [bench('A', 40)])).early).toBe(early);
  });

  it('shows the proof when no plan exists, and still leaves nothing late', () => {
    const plan = workPlan(twelve, rules([1, 1, 1, 1, 1, 1, 1], [bench('A', 40)]));
    expect(plan.crowded).toMatchObject({ slots: expect.any(Number) as number });
    expect(plan.exact).toBe(false);
    for (const p of plan.placed) {
      const of = twelve.find((j) => j.id === p.job);
      expect(p.week).toBeGreaterThanOrEqual(of?.from ?? 99);
      expect(p.week).toBeLessThanOrEqual(of?.due ?? 0);
    }
  });

  it('moves what a bench has no hours for to an earlier week of its window', () => {
    const jobs = [job('a', 1, 3, { hours: 3 }), job('b', 1, 3, { hours: 3 })];
    const plan = workPlan(jobs, rules([9, 9, 9], [bench('A', 4)]));
    expect(plan.placed.map((p) => p.week).sort()).toEqual([2, 3]);
    expect([plan.over, plan.exact]).toEqual([[], false]);
  });

  it('moves nothing into a week that can do no more: it goes on to the nearest that can', () => {
    const jobs = [job('a', 1, 3), job('b', 1, 3), job('c', 2, 2, { setup: 'brakes' })];
    const plan = workPlan(jobs, rules([1, 1, 2], [bench('A', 1.5, ['suit']), bench('B', 1.5, ['brakes'])]));
    expect(plan.placed.map((p) => `${p.job}${String(p.week)}`).sort()).toEqual(['a3', 'b1', 'c2']);
    expect(plan.over).toEqual([]);
  });

  it('lets a bench be over its hours rather than a week do more tests than it can, and says so', () => {
    const jobs = [job('a', 2, 3), job('b', 2, 3), job('c', 2, 2, { setup: 'brakes' })];
    const plan = workPlan(jobs, rules([1, 1, 2], [bench('A', 1.5, ['suit']), bench('B', 1.5, ['brakes'])]));
    expect([1, 2, 3].map((w) => plan.placed.filter((p) => p.week === w).length)).toEqual([0, 1, 2]);
    expect(plan.over).toMatchObject([{ week: 3, bench: 'A' }]);
  });

  it('takes the bench with the most room', () => {
    const place = (benches: readonly PlanBench[]): string | undefined => workPlan([job('a', 1, 1)], rules([9], benches)).placed[0]?.bench;
    expect(place([bench('A', 10), bench('B', 20)])).toBe('B');
    expect(place([bench('A', 20), bench('B', 10)])).toBe('A');
    // Room is what is left, not what there is: the second set-up goes beside the first no longer.
    const two = workPlan([job('a', 1, 1, { hours: 15, setup: 'brakes' }), job('b', 1, 1)], rules([9], [bench('A', 10), bench('B', 20)]));
    expect(two.placed.map((p) => p.bench)).toEqual(['B', 'A']);
  });

  it('says which bench is over its hours when nothing can move', () => {
    const plan = workPlan([job('a', 3, 3, { hours: 3 }), job('b', 3, 3, { hours: 3 })], rules([9, 9, 9], [bench('A', 4)]));
    expect(plan.over).toEqual([{ week: 3, bench: 'A', hours: 6.5, most: 4 }]);
  });

  it('puts tests of one set-up on one bench, and spares a set-up for one test alone', () => {
    const jobs = [job('a', 2, 2), job('b', 2, 2, { setup: 'brakes' }), job('c', 2, 2), job('d', 2, 3), job('e', 2, 2, { setup: 'brakes' })];
    const plan = workPlan(jobs, rules([9, 9, 9], [bench('A', 20), bench('B', 20)], 1));
    expect(plan.setups).toBe(2);
    expect(workPlan(jobs, rules([9, 9, 9], [bench('A', 20), bench('B', 20)])).setups).toBe(3);
    expect(new Set(plan.placed.filter((p) => p.job !== 'b' && p.job !== 'e').map((p) => `${p.week} ${p.bench}`)).size).toBe(1);
  });

  it('leaves alone what a person has put somewhere, and plans the rest around it', () => {
    const jobs = [job('a', 1, 2, { fixed: { week: 2, bench: 'B' } }), job('b', 1, 2), job('c', 1, 2)];
    const plan = workPlan(jobs, rules([1, 2], [bench('A', 20), bench('B', 20)]));
    expect(plan.placed.find((p) => p.job === 'a')).toEqual({ job: 'a', week: 2, bench: 'B' });
    expect(plan.placed.filter((p) => p.week === 2)).toHaveLength(2);
    expect(plan.crowded).toBeNull();
  });

  it('rigs a bench only for what it can be rigged for', () => {
    const plan = workPlan([job('a', 1, 1), job('b', 1, 1, { setup: 'brakes' })], rules([9], [bench('A', 9, ['suit']), bench('B', 9, ['brakes'])]));
    expect(plan.placed.map((p) => p.bench)).toEqual(['A', 'B']);
  });

  it('tells what no bench can be rigged for, and plans the rest', () => {
    const all = [job('a', 1, 1, { setup: 'tank' }), job('b', 1, 1, { setup: 'suit' }), job('c', 1, 1, { setup: 'tank', fixed: { week: 1, bench: 'A' } })];
    const plan = workPlan(all, rules([9], [bench('A', 9, ['suit'])]));
    expect(plan.benchless).toEqual(['a']);
    expect(plan.placed.map((p) => p.job)).toEqual(['b', 'c']);
    expect(workPlan(all.slice(0, 2), rules([9], [])).benchless).toEqual(['a', 'b']);
    expect(workPlan(all, rules([9], [bench('A', 9, [])])).benchless).toEqual([]);
  });

  it('tells how far it has come, from nothing to all', () => {
    const told: number[] = [];
    workPlan(twelve, rules([2, 2, 2, 2, 2, 2, 2], [bench('A', 40)]), (share) => told.push(share));
    expect(told.at(-1)).toBe(1);
    expect([...told].sort((a, b) => a - b)).toEqual(told);
  });

  it('meets the lower bound on twenty thousand tests: no fewer a week are possible, none is late, and none is earlier than it must be', () => {
    let seed = 3;
    const draw = (n: number): number => (seed = (seed * 48_271) % 2_147_483_647) % n;
    const jobs = Array.from({ length: 20_000 }, (_, i) => {
      const due = 5 + draw(100);
      return job(String(i), Math.max(1, due - 1 - draw(4)), due, { hours: 0.5 + draw(4) / 2, setup: `s${String(draw(12))}` });
    });
    const { slots } = leastSlots(jobs);
    const weeks = { first: 1, slots: new Array<number>(104).fill(slots) };
    expect(crowded(jobs, { first: 1, slots: weeks.slots.map((s) => s - 1) })).not.toBeNull();
    const benches = Array.from({ length: 40 }, (_, i) => bench(`B${String(i)}`, 60));
    const plan = workPlan(jobs, { benches, weeks, setupHours: 0.5, weeksForASetup: 0 });
    const exact = leastEarly(jobs, weeks) ?? [];
    expect(plan.placed).toHaveLength(20_000);
    expect(plan.crowded).toBeNull();
    plan.placed.forEach((p, i) => {
      if (p.week < (jobs[i]?.from ?? 99) || p.week > (jobs[i]?.due ?? 0)) throw new Error(`test ${p.job} is out of its window`);
    });
    // The exact weeks are the bound; the heuristic for hours and set-ups may only add to it, and here adds little.
    const least = earliness(jobs, exact);
    expect(plan.early).toBe(least);
    expect(plan.exact).toBe(true);
    expect(plan.over).toEqual([]);
  }, 60_000);
});
