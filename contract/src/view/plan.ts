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

export interface PlanView {
  readonly today: string;
  readonly tests: readonly PlanTest[];
  readonly benches: readonly { readonly id: string; readonly name: string; readonly setups: readonly string[]; readonly hoursAWeek: number }[];
  readonly kept: readonly { readonly obligation: string; readonly week: number; readonly bench: string; readonly fixed: boolean }[];
}
