import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { crowded, earliness, flattest, leastEarly, leastSlots, weeksFor, type UnitJob } from '../../src/schedule';

/** Due weeks 3 3 3 3 3 4 4 5 6 6 6 7, each up to two weeks early; the optimum was found by enumerating all 531 441 assignments. */
const twelve: readonly UnitJob[] = [3, 3, 3, 3, 3, 4, 4, 5, 6, 6, 6, 7].map((due) => ({ from: due - 2, due }));

function loads(jobs: readonly UnitJob[], week: readonly number[]): number[] {
  const { first, slots } = weeksFor(jobs, 0);
  return slots.map((_, i) => week.filter((w) => w === first + i).length);
}
const squares = (loads: readonly number[]): number => loads.reduce((sum, l) => sum + l * l, 0);
const early = (jobs: readonly UnitJob[], slots: number): number | null => {
  const week = leastEarly(jobs, weeksFor(jobs, slots));
  return week && earliness(jobs, week);
};

describe('levelling twelve tests over seven weeks', () => {
  // Hall (1935): the five that are due in week 3 can only be done in weeks 1 to 3.
  it('needs two slots a week, for weeks 1 to 3', () => expect(leastSlots(twelve)).toEqual({ slots: 2, from: 1, to: 3, jobs: 5 }));
  it('says which weeks cannot be kept', () => {
    expect(crowded(twelve, weeksFor(twelve, 1))).toEqual({ from: 1, to: 3, jobs: 5, slots: 3 });
    expect(crowded(twelve, { first: 1, slots: [2, 2, 2, 2, 0, 2, 2] })).toEqual({ from: 1, to: 6, jobs: 11, slots: 10 });
    expect(crowded(twelve, weeksFor(twelve, 2))).toBeNull();
  });
  // Jackson (1955), Horn (1974), mirrored.
  it.each([
    [1, null],
    [2, 5],
    [3, 2],
    [4, 1],
    [5, 0],
  ])('with %s slots a week the least earliness is %s', (slots, weeks) => expect(early(twelve, slots)).toBe(weeks));
  it('fills from the last week', () => {
    const two = leastEarly(twelve, weeksFor(twelve, 2)) ?? [];
    expect(loads(twelve, two)).toEqual([1, 2, 2, 2, 2, 2, 1]);
    expect(loads(twelve, leastEarly(twelve, weeksFor(twelve, 3)) ?? [])).toEqual([0, 2, 3, 2, 1, 3, 1]);
    expect(loads(twelve, leastEarly(twelve, weeksFor(twelve, 4)) ?? [])).toEqual([0, 1, 4, 2, 1, 3, 1]);
  });
  // Harvey, Ladner, Lovasz, Tamir (2006).
  it('flattest: least squares 22, and of those the least early, 5', () => {
    const week = flattest(twelve);
    expect(loads(twelve, week)).toEqual([1, 2, 2, 2, 2, 2, 1]);
    expect(squares(loads(twelve, week))).toBe(22);
    expect(earliness(twelve, week)).toBe(5);
    expect(squares(loads(twelve, twelve.map((j) => j.due)))).toBe(40); // prettier-ignore
  });
  it('a week without slots is worked around', () => {
    const week = leastEarly(twelve, { first: 1, slots: [2, 2, 2, 2, 0, 2, 2] });
    expect(week).toBeNull();
    expect(leastEarly(twelve, { first: 1, slots: [2, 3, 3, 2, 0, 2, 2] })).not.toBeNull();
  });
  it('nothing to do, and a window the wrong way round', () => {
    expect(leastSlots([])).toEqual({ from: 0, to: 0, jobs: 0, slots: 0 });
    expect(leastEarly([], weeksFor([], 1))).toEqual([]);
    expect(flattest([])).toEqual([]);
    expect(() => leastSlots([{ from: 3, due: 2 }])).toThrow(RangeError);
  });
});

/** Every assignment within the windows. */
function* every(jobs: readonly UnitJob[], at = 0, week: number[] = []): Generator<number[]> {
  const job = jobs[at];
  if (!job) {
    yield week;
    return;
  }
  for (let w = job.from; w <= job.due; w++) yield* every(jobs, at + 1, [...week, w]);
}

describe('against every assignment there is', () => {
  const small = fc.array(
    fc.tuple(fc.integer({ min: 1, max: 6 }), fc.integer({ min: 0, max: 3 })).map(([due, early]) => ({ from: Math.max(1, due - early), due })),
    { minLength: 1, maxLength: 6 },
  );
  it('least slots, least earliness and the flattest plan are the optimum', () => {
    fc.assert(
      fc.property(small, (jobs) => {
        const all = [...every(jobs)].map((week) => ({ loads: loads(jobs, week), early: earliness(jobs, week) }));
        const peak = Math.min(...all.map((a) => Math.max(...a.loads)));
        expect(leastSlots(jobs).slots).toBe(peak);
        if (peak > 1) expect(early(jobs, peak - 1)).toBeNull();
        if (peak > 1) expect(crowded(jobs, weeksFor(jobs, peak - 1))).not.toBeNull();
        for (const slots of [peak, peak + 1])
          expect(early(jobs, slots)).toBe(Math.min(...all.filter((a) => Math.max(...a.loads) <= slots).map((a) => a.early)));
        const flat = Math.min(...all.map((a) => squares(a.loads)));
        const week = flattest(jobs);
        expect(squares(loads(jobs, week))).toBe(flat);
        expect(earliness(jobs, week)).toBe(Math.min(...all.filter((a) => squares(a.loads) === flat).map((a) => a.early)));
        jobs.forEach((job, i) => {
          expect(week[i]).toBeGreaterThanOrEqual(job.from);
          expect(week[i]).toBeLessThanOrEqual(job.due);
        });
      }),
      { seed: 20261125, numRuns: 300 },
    );
  });
});
