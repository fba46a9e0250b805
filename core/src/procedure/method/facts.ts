import type { Dimension, Quantity, Unit } from '../../quantity';
import type { Channel, Id, Measure, Words } from '../term';

/** A figure of the rule set that a method needs. */
export interface Figure {
  /** The parameter; undefined where this use of the method does without it. */
  readonly id: Id | undefined;
  /** What it is measured in: like a unit, or like what a channel reads (the first one of several that it is asked of). */
  readonly in: Unit | readonly Channel[];
  /** An instrument on these channels must be able to show it. */
  readonly shown?: true;
}

/** What can be known of a method without a run: everything that checks, plans, words and draws it asks here. */
export interface MethodFacts<M> {
  /** What it can measure, and in what; `read` stands for whatever the channel reads. */
  readonly measures: Readonly<Partial<Record<Measure, Dimension | 'read'>>>;
  /** Its own rule says what is in order: it needs no limit row. */
  readonly needsNoLimit?: true;
  /** It holds for a time in which something can be asked for again and again. */
  readonly timed?: true;
  /** Its channels are read one after the other, by one rule in the hand. */
  readonly oneAtATime?: true;
  /** While its clock runs somebody keeps the pressure up; elsewhere it is hands off. */
  readonly keptUp?: true;
  /** The sun or a wind on the item moves what it measures as much as a leak does. */
  readonly byWeather?: true;
  /** Its result hangs on what a test instrument measures, and not on what somebody says. */
  readonly measured?: true;
  /** It looks for a leak: what passes it was seen to hold. */
  readonly findsLeaks?: (m: M) => boolean;
  /** It is done on an item at rest: nothing is put under pressure for it. */
  readonly atRest?: true;
  /** The channels that it reads. */
  readonly reads: (m: M) => readonly Channel[];
  /** The channels that a limit may name, because they yield a finding; all that it reads where nothing is said. */
  readonly finds?: (m: M) => readonly Channel[];
  readonly figures: (m: M) => readonly Figure[];
  /** What it names besides steps; no name may stand twice in a procedure. */
  readonly parts?: (m: M) => readonly Words[];
  /** The start of a trace that is drawn as a strip, and how long it is held; a trace without a hold ends where something is crossed. */
  readonly trace?: (m: M) => { readonly start: Id; readonly hold?: Id };
  /**
   * How long it usually takes, beside its steps.
   * @param clocked minutes of a parameter of the rule set
   */
  readonly minutes: (m: M, clocked: (id: Id) => number) => number;
}

/** What a pair of hands takes beside the clocks of the rule set, minutes: common practice. */
export const MINUTES = { item: 0.5, spot: 0.75, step: 1.5, reading: 0.5, setOut: 10, attribute: 10 } as const;

/** A method that is done by hand and read once. */
export const byHand = (): number => 2 * MINUTES.step + MINUTES.reading;

/** Figures that an instrument on a channel must be able to show. */
export const shownOn = (channels: readonly Channel[], ...ids: readonly (Id | undefined)[]): readonly Figure[] =>
  ids.map((id) => ({ id, in: channels, shown: true }));

/** What a reason can say: figures and words. */
export type ReasonValues = Readonly<Record<Id, Quantity | Words | undefined>>;
