import type { Id } from '../../procedure';

/** One value of one channel, at a time on the run's clock. */
export interface Reading {
  readonly at: number;
  readonly value: number;
  readonly unit: string;
  /** Typed by a person; otherwise it came from an instrument with a clock of its own. */
  readonly typed: boolean;
  readonly event: Id;
}
