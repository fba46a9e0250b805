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

/**
 * How an item of a round stands: nobody has begun it; its run is open; it passed or failed here; its test came to nothing, or its rig was found at fault, and it is
 * tested again; it has passed by the same rules outside the round since that began.
 */
export type RoundStand = 'left' | 'open' | 'passed' | 'failed' | 'again' | 'elsewhere';

/** What a round is to test, and who has it. */
export interface RoundItemRow {
  readonly asset: string;
  readonly tag: string;
  readonly serial: string;
  readonly title: string;
  readonly place: string;
  readonly stands: RoundStand;
  readonly takenBy: { readonly id: string; readonly name: string } | null;
  readonly takenAt: string | null;
  /** Its newest run in the round, and the record that it stands by. */
  readonly run: string | null;
  readonly record: string | null;
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
  readonly counts: { readonly pass: number; readonly fail: number; readonly other: number; readonly open: number; readonly left: number };
}

export interface RoundView extends RoundRow {
  readonly runs: readonly RoundRun[];
  readonly items: readonly RoundItemRow[];
  /** Tags of its gauges, by what they read. */
  readonly instruments: readonly { readonly channel: string; readonly tag: string }[];
  /** It has stages that prove the rig, once for all items that ask the same of it. */
  readonly proves: boolean;
}

/** The day's work in rounds: what is owed today by the same rules is one round. */
export interface DayWork {
  readonly rounds: readonly RoundRow[];
  /** What is begun from its own page, and why. */
  readonly alone: readonly { readonly asset: string; readonly tag: string; readonly title: string; readonly why: string }[];
}

/** Items that owe the same test by the same rules. */
export interface RoundGroup {
  readonly procedure: string;
  readonly title: string;
  readonly ruleSet: string;
  readonly ruleSetTitle: string;
  readonly assets: readonly string[];
  /** Whether they may be tested in a round. */
  readonly inRounds: boolean;
}
