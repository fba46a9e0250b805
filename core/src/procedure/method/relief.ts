import type { Quantity } from '../../quantity';
import type { Channel, Id, Words } from '../term';
import { MINUTES, shownOn, type MethodFacts } from './facts';

/** A valve is lifted again and again; where it opens and where it shuts is found in the trace. */
export interface ReliefMethod {
  readonly kind: 'relief';
  readonly channel: Channel;
  readonly repeats: number;
  /** Parameter: the marked set pressure. */
  readonly set: Id;
}

export interface ReliefReasons {
  /** `reseat` and `blowdown` are words where the valve was not seen to shut. */
  lift: {
    readonly lift: Words;
    readonly crack: Quantity;
    readonly reseat: Quantity | Words;
    readonly blowdown: Quantity | Words;
    readonly limit: Quantity;
    readonly op: Words;
  };
  liftMissing: { readonly lift: Words };
  liftNotFound: { readonly lift: Words };
  /** It cannot shut above where it opened. */
  reseatAbove: { readonly lift: Words; readonly crack: Quantity; readonly reseat: Quantity };
  reseatMissing: { readonly lift: Words };
  noisyTrace: { readonly noise: Quantity };
  fastRamp: { readonly lift: Words };
  chatter: { readonly times: Words };
  spread: { readonly observed: Quantity; readonly limit: Quantity; readonly lifts: Words };
}

export const reliefFacts: MethodFacts<ReliefMethod> = {
  measures: { pressure: 'pressure', blowdown: 'number', spread: 'pressure' },
  measured: true,
  reads: (m) => [m.channel],
  figures: (m) => shownOn([m.channel], m.set),
  minutes: (m) => m.repeats * MINUTES.step,
};
