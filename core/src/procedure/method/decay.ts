import type { Quantity } from '../../quantity';
import type { Channel, Id, Measure, Words } from '../term';
import { shownOn, type MethodFacts } from './facts';
import type { GasFacts } from './gas';
import type { Bare } from './reasons';

/** A pressure is held for a while, and what it lost is judged. */
export interface DecayMethod {
  readonly kind: 'decay';
  readonly channels: readonly Channel[];
  /** Parameter: how long the hold lasts. */
  readonly hold: Id;
  /** Parameters: the window that each channel must stand in when the start is read. */
  readonly start: { readonly low: Id; readonly high: Id };
  /** Parameter: a reading above this is over the top, and is warned about. */
  readonly top?: Id;
  /** A step after which a first drop is taken (start reading against the last one before it) and kept apart from the loss. */
  readonly firstDropAfter?: Id;
  /** A vessel whose gas can warm or cool during the hold. */
  readonly gas?: GasFacts;
}

/** The arithmetic of a hold, in the unit of the limit. */
export interface HoldArithmetic {
  readonly start: Quantity;
  readonly end: Quantity;
  readonly loss: Quantity;
  readonly observed: Quantity;
  readonly allowed: Quantity;
  readonly limit: Quantity;
  readonly over: Quantity;
  /** Decimals that the instrument is read to. */
  readonly decimals: Words;
}

const measures = {
  loss: 'pressure',
  lossPerMinute: 'pressure',
  end: 'pressure',
  ratio: 'number',
  change: 'pressure',
  firstDrop: 'pressure',
  graduations: 'number',
} as const satisfies Partial<Record<Measure, string>>;

export type DecayMeasure = keyof typeof measures;

/** Each measure of a hold has a reason of its own name. */
export type DecayReasons = { readonly [M in DecayMeasure]: HoldArithmetic } & {
  recorded: { readonly start: Quantity; readonly end: Quantity; readonly loss: Quantity };
  readLate: { readonly late: Quantity };
  outOfRange: { readonly value: Quantity };
  overTop: { readonly value: Quantity; readonly top: Quantity };
  disturbed: { readonly note: Words };
  noCorrelation: Bare;
  correctedLoss: { readonly loss: Quantity };
  /** `bound` is `lower` where the walls give way. */
  asFlow: { readonly flow: Quantity; readonly state: Words; readonly bound: Words };
  asHole: { readonly diameter: Quantity };
  costs: { readonly perDay: Quantity; readonly half?: Quantity; readonly air?: Quantity };
  stillSettling: { readonly wait: Quantity; readonly drop: Quantity };
  driftOnly: { readonly drift: Quantity; readonly corrected: Quantity };
  /** `accuracy` is words where no gauge of this step could tell. */
  longerHold: { readonly hold: Quantity; readonly accuracy: Quantity | Words };
  startOffScale: { readonly share: Quantity };
  coarseStep: { readonly step: Quantity; readonly permitted: Quantity };
};

export const decayFacts: MethodFacts<DecayMethod> = {
  findsLeaks: () => true,
  measures,
  timed: true,
  measured: true,
  reads: (m) => [...m.channels, ...(m.gas?.temperature ? [m.gas.temperature] : []), ...(m.gas?.barometer ? [m.gas.barometer] : [])],
  finds: (m) => m.channels,
  figures: (m) => [{ id: m.hold, in: 's' }, ...shownOn(m.channels, m.start.low, m.start.high), { id: m.top, in: m.channels }],
  trace: (m) => ({ start: m.start.low, hold: m.hold }),
  minutes: (m, clocked) => clocked(m.hold),
};
