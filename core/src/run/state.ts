import type { Chunk, ItemAnswer, Mark, SpotSeen } from '../method';
import type { Channel, Id, Words } from '../procedure';
import type { EventOf, RunEvent } from './event';
import type { Trail } from './trail';

/** One try at a stage. */
export interface Attempt {
  readonly stage: Id;
  readonly attempt: number;
  readonly beganAt: number;
  readonly endedAt: number | null;
  /** Ended by another stage's beginning and not by itself. */
  readonly broken: boolean;
  readonly beginReason: Words | null;
  readonly endReason: Words | null;
  readonly marks: readonly Mark[];
  readonly answers: Readonly<Record<Id, ItemAnswer>>;
  readonly spots: Readonly<Record<Id, SpotSeen>>;
}

export interface SourceCount {
  readonly n: number;
  readonly at: number;
}

/** Everything known about a run, computed from its events. */
export interface RunState {
  readonly opened: EventOf<'opened'> | null;
  /** By stage, in order. */
  readonly attempts: Readonly<Record<Id, readonly Attempt[]>>;
  /** The stage in whose attempt statements land. */
  readonly current: Id | null;
  readonly chunks: Readonly<Record<Channel, Trail<Chunk>>>;
  readonly disturbances: readonly EventOf<'disturbed'>[];
  readonly gaps: readonly EventOf<'gap'>[];
  /** Half the longest round trip of the clock's comparisons so far, ms. */
  readonly halfTripMs: number;
  readonly notes: readonly EventOf<'amended'>[];
  readonly pictures: readonly EventOf<'pictured'>[];
  readonly sealed: boolean;
  readonly abandoned: Words | null;
  readonly withdrawn: ReadonlySet<Id>;
  readonly sources: Readonly<Record<Id, SourceCount>>;
  /** The newest time any source has named, ms. */
  readonly at: number;
  /** What was said of the run, newest first. Samples are not kept twice: they stand in their chunks. */
  readonly history: Trail<RunEvent> | null;
}

export const emptyRun: RunState = {
  opened: null,
  attempts: {},
  current: null,
  chunks: {},
  disturbances: [],
  gaps: [],
  halfTripMs: 0,
  notes: [],
  pictures: [],
  sealed: false,
  abandoned: null,
  withdrawn: new Set(),
  sources: {},
  at: 0,
  history: null,
};

/**
 * The attempt that statements land in, if one is open.
 * @example openAttempt(exampleOf('suit.inflation', 'inflate').state) // null
 */
export function openAttempt(state: RunState): Attempt | null {
  const last = state.current !== null && Object.hasOwn(state.attempts, state.current) ? state.attempts[state.current]?.at(-1) : undefined;
  return last && last.endedAt === null ? last : null;
}
