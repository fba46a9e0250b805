import type { DueRule } from '@grellin/core';

/** A test that has to be put into a week. */
export interface PlanTest extends Pick<DueRule, 'interval' | 'early' | 'counting'> {
  readonly id: string;
  readonly due: string;
  readonly procedure: string;
  readonly ruleSet: string;
  readonly asset: string;
  readonly tag: string;
  readonly title: string;
  readonly place: string;
  readonly minutes: number;
}

/** What is told of a procedure to whoever plans it. */
export interface PlannedProcedure {
  readonly title: string;
  /** What must be at hand. */
  readonly bring: readonly string[];
  readonly warning: string | null;
}

export interface PlanView {
  /** The procedures of these tests, by id, as they are published now. */
  readonly procedures: Readonly<Record<string, PlannedProcedure>>;
  readonly today: string;
  readonly tests: readonly PlanTest[];
  readonly benches: readonly { readonly id: string; readonly name: string; readonly setups: readonly string[]; readonly hoursAWeek: number }[];
  readonly kept: readonly { readonly obligation: string; readonly week: number; readonly bench: string; readonly fixed: boolean }[];
}
