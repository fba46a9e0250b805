import type { Verdict } from '@grellin/core';

/** A run of a round, as its sheet has it. */
export interface RoundRun {
  readonly run: string;
  readonly asset: string;
  readonly tag: string;
  readonly serial: string;
  readonly title: string;
  readonly startedAt: string;
  readonly by: string;
  readonly record: string | null;
  readonly verdict: Verdict | null;
  /** The verdict in the trade's word, and the headline of its findings. */
  readonly word: string;
  readonly summary: string;
  readonly sealedAt: string | null;
  readonly nextDue: string | null;
  /** The record whose proof of the rig it stands on; null where it proved the rig itself, or has none to prove. */
  readonly provedIn: string | null;
  /** The record that found the rig at fault after this item was tested on it; null where none did. */
  readonly doubted: string | null;
}

export interface RoundRow {
  readonly id: string;
  readonly procedure: string;
  readonly title: string;
  readonly ruleSet: string;
  readonly ruleSetTitle: string;
  readonly openedAt: string;
  readonly by: string;
  readonly closedAt: string | null;
  readonly counts: { readonly pass: number; readonly fail: number; readonly other: number; readonly open: number };
}

export interface RoundView extends RoundRow {
  readonly runs: readonly RoundRun[];
  /** Tags of its gauges, by what they read. */
  readonly instruments: readonly { readonly channel: string; readonly tag: string }[];
  /** It has stages that prove the rig, once for all items that ask the same of it. */
  readonly proves: boolean;
}
