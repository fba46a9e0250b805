import type { PlanTest, PlanView } from '@grellin/contract';
import { addDays, mondayOf, weekOf, workPlan, catalogue } from '@grellin/core';
import { describe, expect, it } from 'vitest';
import { benchlessInWords, beyondInWords, crowdedInWords, daysOf, jobsOf, planGrid, planInWords, roundOf, rulesOf, usualWishes, type Pins } from './planView';

const today = '2026-11-25';
const test = (id: string, due: string, more: Partial<PlanTest> = {}): PlanTest => ({
  id,
  due,
  procedure: 'suit.inflation',
  ruleSet: 'in-h2o-4',
  interval: 'P1Y',
  early: null,
  counting: 'rolling',
  asset: id,
  tag: `GS-${id}`,
  title: 'Suit',
  place: 'Fire store',
  minutes: 30,
  ...more,
});
const view = (tests: readonly PlanTest[]): PlanView => ({
  procedures: Object.fromEntries(catalogue.map(({ id, title, bring = [], warning = null }) => [id, { title, bring, warning }])),
  today,
  tests,
  benches: [
    { id: 'b1', name: 'Bench', setups: [], hoursAWeek: 10 },
    { id: 'b2', name: 'Round', setups: ['tank.ibc'], hoursAWeek: 4 },
  ],
  kept: [],
});
const none: Pins = new Map();

describe('a plan on the screen', () => {
  it.each([
    ['P1Y', 365],
    ['P30M', 900],
    ['P1Y6M', 545],
    ['P14D', 14],
  ])('%s is about %i days', (interval, days) => expect(daysOf(interval)).toBe(days));

  it('lets nothing be earlier than a quarter of its interval, or than its own window', () => {
    const jobs = jobsOf(
      view([test('1', addDays(today, 40)), test('2', addDays(today, 40), { interval: 'P1W' }), test('3', addDays(today, 120), { early: 'P3M' })]),
      usualWishes,
      none,
    );
    expect(jobs.map((j) => j.due - j.from)).toEqual([3, 0, 13]);
  });

  it('has weeks across and benches down, says who is early, late, or put there by hand', () => {
    const v = view([test('1', addDays(today, -3)), test('2', addDays(today, 20)), test('3', addDays(today, 20), { procedure: 'tank.ibc' })]);
    const week = weekOf(today);
    const pins: Pins = new Map([['2', { week: week + 1, bench: 'b1' }]]);
    const plan = workPlan(jobsOf(v, usualWishes, pins), rulesOf(v, usualWishes, 26));
    const grid = planGrid(v, plan, usualWishes, pins, week, 4);
    expect(grid.weeks.map((w) => w.monday)).toEqual([0, 1, 2, 3].map((i) => mondayOf(week + i)));
    const chips = grid.rows.flatMap((r) =>
      r.cells.flatMap((c) => c.chips.map((chip) => [r.name, c.week - week, chip.tag, chip.pinned, chip.late, chip.early])),
    );
    expect(chips).toContainEqual(['Bench', 0, 'GS-1', false, true, 0]);
    expect(chips).toContainEqual(['Bench', 1, 'GS-2', true, false, 2]);
    expect(planInWords(plan, v)).toContain('1 are late already');
  });

  it('says what it means when a hand puts a test behind its due day, and nothing within it', () => {
    const v = view([test('1', '2026-12-03')]);
    const due = weekOf('2026-12-03');
    expect(beyondInWords(v, '1', due)).toBeNull();
    expect(beyondInWords(v, '1', due + 1)).toBe(
      'GS-1 stands a week after the week in which it is due, 2026-12-03: until it is tested it is late, and may not be used.',
    );
    expect(beyondInWords(v, '1', due + 3)).toContain('3 weeks after');
    const pins: Pins = new Map([['1', { week: due + 2, bench: v.benches[0]?.id ?? '' }]]);
    const plan = workPlan(jobsOf(v, usualWishes, pins), rulesOf(v, usualWishes, 26));
    const chips = planGrid(v, plan, usualWishes, pins, due, 4).rows.flatMap((r) => r.cells.flatMap((c) => c.chips));
    expect(chips.map((c) => [c.tag, c.beyond, c.early])).toEqual([['GS-1', 2, 0]]);
  });

  it('shows the proof when a week cannot hold what cannot move', () => {
    const v = view(Array.from({ length: 5 }, (_, i) => test(String(i), today)));
    const plan = workPlan(jobsOf(v, { ...usualWishes, testsAWeek: 2 }, none), rulesOf(v, { ...usualWishes, testsAWeek: 2 }, 26));
    expect(crowdedInWords(plan)).toContain('there are 5 tests that cannot move out, and 2 can be done');
  });

  it('says what no bench can be rigged for, by its check and its tags, and plans the rest', () => {
    const v = view([test('1', today), test('2', today, { procedure: 'brakes.strokes' }), test('3', today, { procedure: 'brakes.strokes' })]);
    const suits = { ...v, benches: v.benches.map((b) => ({ ...b, setups: ['suit.inflation'] })) };
    const plan = workPlan(jobsOf(suits, usualWishes, none), rulesOf(suits, usualWishes, 26));
    expect(benchlessInWords(plan, suits)).toContain('(GS-2, GS-3)');
    expect(plan.placed.map((p) => p.job)).toEqual(['1']);
    expect(benchlessInWords(workPlan(jobsOf(v, usualWishes, none), rulesOf(v, usualWishes, 26)), v)).toBeNull();
  });

  it('makes a round: where to go, and what must come along, each once', () => {
    const v = view([test('1', today), test('2', today, { place: 'Clinic' })]);
    const plan = workPlan(jobsOf(v, usualWishes, none), rulesOf(v, usualWishes, 26));
    const round = roundOf(v, plan, 'b1', weekOf(today));
    expect(round.stops.map((s) => [s.place, s.tests.map((t) => t.tag)])).toEqual([
      ['Clinic', ['GS-2']],
      ['Fire store', ['GS-1']],
    ]);
    expect(round.bring.length).toBeGreaterThan(2);
    expect(new Set(round.bring.map((b) => b.what)).size).toBe(round.bring.length);
    expect([round.hours, round.bench]).toEqual([1, 'Bench']);
  });
});
