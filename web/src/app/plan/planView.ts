import type { PlanTest, PlanView } from '@grellin/contract';
import { daysBetween, mondayOf, weekOf, weeksToTest, type PlanBench, type PlanJob, type PlanRules, type WorkPlan } from '@grellin/core';

/** What a person sets before the weeks are filled. */
export interface PlanWishes {
  /** How many days before it is due a test may be done, at most; never more than a quarter of its interval. */
  readonly earlyDays: number;
  readonly testsAWeek: number;
  readonly setupMinutes: number;
  readonly weeksForASetup: number;
}

export const usualWishes: PlanWishes = { earlyDays: 21, testsAWeek: 12, setupMinutes: 20, weeksForASetup: 0 };

/** A test that a person has put somewhere. */
export type Pins = ReadonlyMap<string, { readonly week: number; readonly bench: string }>;

const unitDays: Readonly<Record<string, number>> = { Y: 365, M: 30, W: 7, D: 1 };

/** Days of an ISO duration, near enough to bound a window. */
export function daysOf(interval: string): number {
  return [...interval.matchAll(/(\d+)([YMWD])/g)].reduce((sum, m) => sum + Number(m[1]) * (unitDays[m[2] ?? ''] ?? 0), 0);
}

function earlyFor(t: PlanTest, wishes: PlanWishes): number {
  if (t.early !== null) return daysOf(t.early);
  const most = t.interval === null ? wishes.earlyDays : Math.floor(daysOf(t.interval) / 4);
  return Math.max(0, Math.min(wishes.earlyDays, most));
}

/** The tests as the planner takes them. */
export function jobsOf(view: PlanView, wishes: PlanWishes, pins: Pins): readonly PlanJob[] {
  return view.tests.map((t) => {
    const fixed = pins.get(t.id);
    return { id: t.id, ...weeksToTest(t.due, view.today, earlyFor(t, wishes)), hours: t.minutes / 60, setup: t.procedure, ...(fixed ? { fixed } : {}) };
  });
}

export function rulesOf(view: PlanView, wishes: PlanWishes, weeks: number): PlanRules {
  const first = weekOf(view.today);
  const benches: readonly PlanBench[] = view.benches.map(({ id, setups, hoursAWeek }) => ({ id, setups, hoursAWeek }));
  return {
    benches,
    weeks: { first, slots: new Array<number>(weeks + 1).fill(wishes.testsAWeek) },
    setupHours: wishes.setupMinutes / 60,
    weeksForASetup: wishes.weeksForASetup,
  };
}

export interface PlanChip {
  readonly id: string;
  readonly tag: string;
  readonly title: string;
  readonly due: string;
  readonly pinned: boolean;
  readonly late: boolean;
  /** Weeks before the one it is due in. */
  readonly early: number;
  /** Weeks after the one in which it is due. */
  readonly beyond: number;
}

export interface PlanCell {
  readonly bench: string;
  readonly week: number;
  readonly chips: readonly PlanChip[];
  readonly hours: number;
  readonly over: boolean;
}

export interface PlanGrid {
  readonly weeks: readonly { readonly week: number; readonly monday: string; readonly label: string; readonly tests: number; readonly full: boolean }[];
  readonly rows: readonly { readonly bench: string; readonly name: string; readonly hours: number; readonly cells: readonly PlanCell[] }[];
}

const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
const dayLabel = (monday: string): string => `${String(Number(monday.slice(8)))} ${months[Number(monday.slice(5, 7)) - 1] ?? ''}`;

/** What is said when a hand puts a test where it comes too late; null where it does not. */
export function beyondInWords(view: PlanView, test: string, week: number): string | null {
  const t = view.tests.find(({ id }) => id === test);
  const late = t ? week - weekOf(t.due) : 0;
  if (!t || late <= 0) return null;
  const weeks = late === 1 ? 'a week' : `${String(late)} weeks`;
  return `${t.tag} stands ${weeks} after the week in which it is due, ${t.due}: until it is tested it is late, and may not be used.`;
}

/** Weeks across, benches down. Pure. */
export function planGrid(view: PlanView, plan: WorkPlan, wishes: PlanWishes, pins: Pins, from: number, count: number): PlanGrid {
  const tests = new Map(view.tests.map((t) => [t.id, t]));
  const over = new Map(plan.over.map((o) => [`${String(o.week)} ${o.bench}`, o.hours]));
  const cells = new Map<string, PlanChip[]>();
  const load = new Map<number, number>();
  const hours = new Map<string, number>();
  for (const p of plan.placed) {
    const t = tests.get(p.job);
    if (!t) continue;
    const key = `${String(p.week)} ${p.bench}`;
    load.set(p.week, (load.get(p.week) ?? 0) + 1);
    hours.set(key, (hours.get(key) ?? 0) + t.minutes / 60);
    const chip = { id: t.id, tag: t.tag, title: titleOf(view, t.procedure), due: t.due, pinned: pins.has(t.id), late: t.due < view.today, early: Math.max(0, weekOf(t.due) - p.week), beyond: Math.max(0, p.week - weekOf(t.due)) };
    cells.set(key, [...(cells.get(key) ?? []), chip]);
  } // prettier-ignore
  const weeks = Array.from({ length: count }, (_, i) => from + i).map((week) => {
    const tests = load.get(week) ?? 0;
    return { week, monday: mondayOf(week), label: dayLabel(mondayOf(week)), tests, full: tests >= wishes.testsAWeek };
  });
  return {
    weeks,
    rows: view.benches.map((b) => ({
      bench: b.id,
      name: b.name,
      hours: b.hoursAWeek,
      cells: weeks.map(({ week }) => {
        const key = `${String(week)} ${b.id}`;
        return { bench: b.id, week, chips: cells.get(key) ?? [], hours: Math.round((over.get(key) ?? hours.get(key) ?? 0) * 10) / 10, over: over.has(key) };
      }),
    })),
  };
}

const titleOf = (view: PlanView, procedure: string): string => view.procedures[procedure]?.title ?? procedure;

export interface RoundView {
  readonly bench: string;
  readonly monday: string;
  readonly stops: readonly {
    readonly place: string;
    readonly tests: readonly { readonly tag: string; readonly title: string; readonly procedure: string; readonly due: string }[];
  }[];
  /** What must come along, each once, with what asks for it. */
  readonly bring: readonly { readonly what: string; readonly for: string }[];
  readonly cautions: readonly string[];
  readonly hours: number;
}

/** A day's round: where to go, what to test there, and what must come along. */
export function roundOf(view: PlanView, plan: WorkPlan, bench: string, week: number): RoundView {
  const tests = new Map(view.tests.map((t) => [t.id, t]));
  const mine = plan.placed.flatMap((p) => (p.bench === bench && p.week === week ? [tests.get(p.job)] : [])).filter((t) => t !== undefined);
  const procedures = [...new Set(mine.map((t) => t.procedure))].flatMap((id) => view.procedures[id] ?? []);
  const bring = new Map<string, Set<string>>();
  for (const p of procedures) for (const what of p.bring) bring.set(what, (bring.get(what) ?? new Set()).add(p.title));
  const places = [...new Set(mine.map((t) => t.place))].sort();
  return {
    bench: view.benches.find((b) => b.id === bench)?.name ?? '',
    monday: mondayOf(week),
    stops: places.map((place) => ({
      place,
      tests: mine
        .filter((t) => t.place === place)
        .sort((a, b) => a.due.localeCompare(b.due))
        .map((t) => ({ tag: t.tag, title: t.title, procedure: titleOf(view, t.procedure), due: t.due })),
    })),
    bring: [...bring].map(([what, of]) => ({ what, for: [...of].join(', ') })),
    cautions: procedures.map((p) => p.warning).filter((w) => w !== null),
    hours: Math.round((mine.reduce((sum, t) => sum + t.minutes, 0) / 60) * 10) / 10,
  };
}

/** How well a plan stands, in words. */
export function planInWords(plan: WorkPlan, view: PlanView): string {
  const late = view.tests.filter((t) => daysBetween(view.today, t.due) < 0).length;
  const parts = [
    `${String(plan.placed.length)} tests, ${String(plan.setups)} set-ups`,
    plan.early === 0
      ? 'none early'
      : `${String(plan.early)} weeks early in all${plan.exact ? ', and no less is possible' : ' (heuristic: hours, set-ups and what you placed moved some)'}`,
    late === 0 ? 'nothing is late' : `${String(late)} are late already`,
  ];
  return parts.join('; ');
}

/** What no bench can be rigged for, in words; null where each has one. */
export function benchlessInWords(plan: WorkPlan, view: PlanView): string | null {
  const without = view.tests.filter((t) => plan.benchless.includes(t.id));
  if (without.length === 0) return null;
  const procedures = [...new Set(without.map((t) => t.procedure))];
  const each = procedures.map((p) => `${titleOf(view, p)} (${without.flatMap((t) => (t.procedure === p ? [t.tag] : [])).join(', ')})`);
  return $localize`No bench can be rigged for these, so they stand in no week: ${each.join('; ')}:tests:`;
}

/** Why there is no plan within the week's tests, as a proof that can be read. */
export function crowdedInWords(plan: WorkPlan): string | null {
  const c = plan.crowded;
  if (!c) return null;
  return `Between the weeks of ${mondayOf(c.from)} and ${mondayOf(c.to)} there are ${String(c.jobs)} tests that cannot move out, and ${String(c.slots)} can be done. Allow more tests a week, or let them be done earlier.`;
}
