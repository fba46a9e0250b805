import type { DueRule } from '@grellin/core';

export interface DateMove {
  readonly id: string;
  readonly kind: 'deferred' | 'proposed';
  readonly before: string;
  readonly after: string;
  readonly reason: string;
  readonly by: string;
  readonly at: string;
  /** Undone since; it stays to be seen. */
  readonly takenBack: boolean;
}

export interface OutsideRow {
  readonly id: string;
  readonly doneOn: string;
  readonly issuer: string;
  readonly number: string;
  readonly mime: string;
  readonly by: string;
  readonly at: string;
  readonly takenBack: boolean;
}

export interface ObligationRow extends DueRule {
  readonly id: string;
  readonly asset: string;
  readonly procedure: string;
  readonly title: string;
  readonly ruleSet: string;
  readonly ruleSetTitle: string;
  readonly due: string | null;
  readonly lastDone: string | null;
  /** What happened asks for it before the next use. */
  readonly owedNow: boolean;
  readonly moves: readonly DateMove[];
  readonly outside: readonly OutsideRow[];
}
