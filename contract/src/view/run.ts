import type { ClockKind, Procedure } from '@grellin/core';
import type { InstrumentRow } from './instrument';

export interface RunRow {
  readonly id: string;
  readonly procedure: string;
  readonly title: string;
  readonly ruleSet: string;
  readonly asset: string;
  readonly tag: string;
  readonly assetTitle: string;
  readonly startedAt: string;
  readonly clock: ClockKind;
  readonly blocks: boolean;
  readonly by: string;
}

/** What a run's clock shows, ms since it was opened. */
export interface ClockView {
  readonly clockMs: number;
}

export interface OpenRunRow extends RunRow, ClockView {}

export interface RunView extends RunRow {
  readonly digest: string;
  readonly document: Procedure;
  readonly lease: number;
  readonly closed: boolean;
  readonly record: string | null;
  readonly assets: Readonly<Record<string, { readonly id: string; readonly tag: string; readonly serial: string; readonly title: string }>>;
  readonly instruments: Readonly<Record<string, InstrumentRow>>;
  /** The simulated instrument whose rig stands for the item, where there is one. */
  readonly rig: InstrumentRow | null;
  /** The round that it is done in. */
  readonly round: string | null;
}

/** What whoever opened a run is told, and nobody else. */
export interface OpenedRun extends RunView {
  /** What its first lease was given out with: without it nobody writes to the run. */
  readonly secret: string;
}
