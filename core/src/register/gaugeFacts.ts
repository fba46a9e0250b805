import type { Quantity } from '../quantity';

/**
 * What an instrument can tell apart, and to when that is vouched for. Its row, what a run keeps of it, what the methods ask of it, the API and the forms all
 * carry these and no others.
 */
export interface GaugeFacts {
  readonly low: Quantity;
  readonly high: Quantity;
  readonly resolution: Quantity;
  /** Limits of error ± over the scale. */
  readonly accuracy: Quantity;
  /** Correlation of the errors of two nearby readings, 0 to 1; 0 without evidence. */
  readonly correlation: number;
  /** ISO date of the last day in calibration; null when there is none to run out. */
  readonly calibrationDue: string | null;
  /** ISO date of the day it was calibrated; null where nobody knows, and left out by what was written before it was asked. */
  readonly calibratedOn?: string | null;
}

/** The figures of a gauge that are written with their unit, all of one kind, as a form asks for them. */
export const gaugeFigures = {
  low: 'Range from',
  high: 'Range to',
  resolution: 'Smallest step',
  accuracy: 'Limit of error, ±',
} as const satisfies Partial<Record<keyof GaugeFacts, string>>;
export type GaugeFigure = keyof typeof gaugeFigures;

/**
 * The facts of a gauge, and nothing else of what carries them.
 * @example Object.keys(gaugeFacts(exampleOf('suit.inflation', 'inflate').opened.instruments['suit'])) // ['low', 'high', 'resolution', 'accuracy', 'correlation', 'calibrationDue']
 * @example gaugeFacts({ ...exampleOf('suit.inflation', 'inflate').opened.instruments['suit'], calibratedOn: '2026-11-02' }).calibratedOn // '2026-11-02'
 */
export function gaugeFacts({ low, high, resolution, accuracy, correlation, calibrationDue, calibratedOn }: GaugeFacts): GaugeFacts {
  return { low, high, resolution, accuracy, correlation, calibrationDue, ...(calibratedOn == null ? {} : { calibratedOn }) };
}
