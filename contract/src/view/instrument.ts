import type { CalibrationPoint, GaugeFacts, Quantity, Verdict } from '@grellin/core';

export interface RecalledRow {
  readonly run: string;
  readonly record: string;
  readonly asset: string;
  readonly tag: string;
  readonly procedureTitle: string;
  readonly on: string;
  readonly before: Verdict;
  readonly after: Verdict;
  readonly changes: boolean;
  readonly words: string;
  /** A later test has passed since. */
  readonly settled: boolean;
}

export interface CalibrationRow {
  readonly id: string;
  readonly on: string;
  readonly due: string;
  readonly laboratory: string;
  readonly certificate: string;
  readonly points: readonly CalibrationPoint[];
  readonly outOfTolerance: boolean;
  readonly by: string;
  readonly at: string;
  /** What it found, worst first, per cent of the stated limits of error. */
  readonly worstPercent: number;
  readonly recalled: readonly RecalledRow[];
}

export interface InstrumentView extends InstrumentRow {
  readonly calibrations: readonly CalibrationRow[];
  readonly zeroChecks: readonly { readonly shows: Quantity; readonly note: string; readonly by: string; readonly at: string }[];
  readonly runs: number;
}

export interface InstrumentRow extends GaugeFacts {
  readonly id: string;
  readonly tag: string;
  readonly title: string;
  readonly fittedTo: string | null;
  /** It sends its readings by itself. */
  readonly streams: boolean;
  readonly simulated: boolean;
  /** The simulated rig behind it. */
  readonly rig: string | null;
  /** Instruments of one device share its clock and its rig. */
  readonly device: string | null;
  /** The open run that its device is bound to. */
  readonly inUseBy: string | null;
}
