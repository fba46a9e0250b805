import type { AccountRole } from '@grellin/contract';
import type { RunEvent } from '@grellin/core';
import { type Clocks, type Moment } from '../base';
import type { Holder } from './lease';

export interface Appended {
  readonly id: string;
  readonly seq: number;
}

export interface AppendRequest {
  readonly run: string;
  readonly events: readonly RunEvent[];
  /** The person who sends, with the lease that is held; null for an instrument, which needs none. */
  readonly person: Sender | null;
  readonly by: string;
  readonly now: Moment;
  readonly clocks: Clocks;
}

/** A person who sends events under a lease. */
export interface Sender extends Holder {
  readonly role: AccountRole;
  readonly lease: number;
  /** What the lease was given out with. */
  readonly secret: string | undefined;
}
