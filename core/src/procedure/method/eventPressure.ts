import type { Quantity } from '../../quantity';
import type { Channel, Id, Words } from '../term';
import { byHand, type MethodFacts } from './facts';

/** What the gauges stood at when something happened. */
export interface EventPressureMethod {
  readonly kind: 'eventPressure';
  readonly channels: readonly Channel[];
  readonly mark: Id;
  /** What to watch for. */
  readonly text: Words;
  /** The extreme of the readings up to the mark counts, and not the one at it: what it rose to before it suddenly dropped. */
  readonly take?: 'highest' | 'lowest';
  /** Parameter: by how much it has to come back from there, to have turned; a twentieth of the furthest where nothing is said. */
  readonly by?: Id;
  /** Parameters: by then it has stood for so long within so much. What stops moving is no moment of its own that somebody could be too early for. */
  readonly stands?: { readonly s: Id; readonly within: Id };
  /** Marks of other stages: where they were read as well, this one is read above or below them, or one of the two is wrong. */
  readonly above?: Id;
  readonly below?: Id;
}

export interface EventPressureReasons {
  event: { readonly observed: Quantity; readonly limit: Quantity; readonly op: Words; readonly event: Words };
  /** What is to be caught before it turns has not turned. */
  notTurned: { readonly event: Words; readonly value: Quantity };
  /** Two pressures that cannot stand to one another so. */
  notApart: { readonly event: Words; readonly value: Quantity; readonly other: Quantity; readonly wanted: Words };
  /** What is to stand still still moves, or nobody has read it for long enough. */
  notStill: { readonly event: Words; readonly moved: Quantity; readonly within: Quantity; readonly over: Quantity };
  stillUnread: { readonly event: Words; readonly over: Quantity };
  eventMissing: { readonly event: Words };
  eventOverdue: { readonly event: Words; readonly value: Quantity; readonly limit: Quantity; readonly op: Words };
  noted: { readonly observed: Quantity; readonly event: Words };
}

export const eventPressureFacts: MethodFacts<EventPressureMethod> = {
  measures: { pressure: 'read', count: 'number', flow: 'flow' },
  reads: (m) => m.channels,
  figures: (m) => [
    ...(m.by === undefined ? [] : [{ id: m.by, in: m.channels }]),
    ...(m.stands === undefined
      ? []
      : [
          { id: m.stands.s, in: 's' },
          { id: m.stands.within, in: m.channels },
        ]),
  ],
  minutes: byHand,
};
