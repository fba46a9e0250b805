import type { Quantity } from '../../quantity';
import type { Channel, Id, Words } from '../term';
import { byHand, shownOn, type MethodFacts } from './facts';

/** The reading at the working pressure: a rule set that leaves it out names it. */
export const WORKING_READ: Id = 'working-read';

/** A cylinder is stretched by water and let back: what stays is the permanent expansion. */
export interface ExpansionMethod {
  readonly kind: 'expansion';
  readonly rig: 'jacket' | 'direct';
  readonly pressure: Channel;
  /** Water out of the jacket, or into the cylinder. */
  readonly water: Channel;
  /** A balance under the overflow: what it weighs is a volume by the density of water at its temperature. Where both are fitted both are judged. */
  readonly scale?: Channel;
  /** Parameters: the working pressure on the way up, where the expansion is read too. It is told and not judged. */
  readonly working?: { readonly low: Id; readonly high: Id };
  /** Parameters: the test pressure, and the raised one of a repeat after the equipment failed. */
  readonly test: { readonly low: Id; readonly high: Id; readonly repeatLow?: Id; readonly repeatHigh?: Id };
  readonly hold: Id;
  /** Direct: the mass of water at no pressure. */
  readonly mass?: Id;
  /** The water’s temperature: for what it gives way by itself, and for what a balance weighs. */
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
    /** What it was at the working pressure. */
    readonly working?: Quantity;
    /** What the balance weighed at the test pressure. */
    readonly weighed?: Quantity;
  };
  notZeroed: { readonly value: Quantity };
  outOfTable: { readonly value: Quantity };
  /** What is weighed is no water at that temperature. */
  notWater: { readonly value: Quantity };
  noExpansion: { readonly value: Quantity };
  /** Less than nothing stayed, by more than the scale can err: the rig has lost water or has settled. */
  shrank: { readonly value: Quantity };
}

export const expansionFacts: MethodFacts<ExpansionMethod> = {
  measures: { percent: 'number', elastic: 'volume', total: 'volume', permanent: 'volume', deviation: 'number' },
  timed: true,
  measured: true,
  keptUp: true,
  reads: (m) => [m.pressure, m.water, ...[m.scale, m.temperature].filter((c) => c !== undefined)],
  finds: (m) => [m.water],
  figures: (m) => [
    { id: m.hold, in: 's' },
    ...shownOn([m.pressure], m.test.low, m.test.high),
    ...(m.working ? shownOn([m.pressure], m.working.low, m.working.high) : []),
    { id: m.test.repeatLow, in: [m.pressure] },
    { id: m.test.repeatHigh, in: [m.pressure] },
    { id: m.mass, in: 'kg' },
    { id: m.certificate, in: [m.water] },
  ],
  minutes: byHand,
};
