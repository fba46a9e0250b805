import type { Quantity } from '../../quantity';
import type { Channel, Id, Words } from '../term';
import { byHand, shownOn, type MethodFacts } from './facts';

/** A cylinder is stretched by water and let back: what stays is the permanent expansion. */
export interface ExpansionMethod {
  readonly kind: 'expansion';
  readonly rig: 'jacket' | 'direct';
  readonly pressure: Channel;
  /** Water out of the jacket, or into the cylinder. */
  readonly water: Channel;
  /** Parameters: the test pressure, and the raised one of a repeat after the equipment failed. */
  readonly test: { readonly low: Id; readonly high: Id; readonly repeatLow?: Id; readonly repeatHigh?: Id };
  readonly hold: Id;
  /** Direct: the mass of water at no pressure, and the channel of its temperature. */
  readonly mass?: Id;
  readonly temperature?: Channel;
  /** A calibrated cylinder: the expansion that its certificate names. */
  readonly certificate?: Id;
}

export interface ExpansionReasons {
  expansion: {
    readonly total: Quantity;
    readonly permanent: Quantity;
    readonly elastic: Quantity;
    readonly percent: Quantity;
    readonly limit: Quantity;
    readonly of: Words;
    /** What was forced in, and what the water itself gave of it. */
    readonly read?: Quantity;
    readonly compression?: Quantity;
  };
  notZeroed: { readonly value: Quantity };
  outOfTable: { readonly value: Quantity };
  noExpansion: { readonly value: Quantity };
  /** Less than nothing stayed, by more than the scale can err: the rig has lost water or has settled. */
  shrank: { readonly value: Quantity };
}

export const expansionFacts: MethodFacts<ExpansionMethod> = {
  measures: { percent: 'number', elastic: 'volume', total: 'volume', permanent: 'volume', deviation: 'number' },
  timed: true,
  measured: true,
  keptUp: true,
  reads: (m) => [m.pressure, m.water, ...(m.temperature === undefined ? [] : [m.temperature])],
  finds: (m) => [m.water],
  figures: (m) => [
    { id: m.hold, in: 's' },
    ...shownOn([m.pressure], m.test.low, m.test.high),
    { id: m.test.repeatLow, in: [m.pressure] },
    { id: m.test.repeatHigh, in: [m.pressure] },
    { id: m.mass, in: 'kg' },
    { id: m.certificate, in: [m.water] },
  ],
  minutes: byHand,
};
