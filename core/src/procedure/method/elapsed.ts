import type { Quantity } from '../../quantity';
import type { Channel, Id } from '../term';
import { byHand, shownOn, type MethodFacts } from './facts';

/** How long a pressure takes from one figure to another. */
export interface ElapsedMethod {
  readonly kind: 'elapsed';
  readonly channel: Channel;
  /** Where two gauges are watched, the clock starts and stops when both have come there. */
  readonly second?: Channel;
  readonly from: Id;
  readonly to: Id;
  /** Engine speed, noted beside the time. */
  readonly speed?: Channel;
}

export interface ElapsedReasons {
  elapsed: { readonly from: Quantity; readonly to: Quantity; readonly observed: Quantity; readonly limit: Quantity };
  notCrossed: { readonly from: Quantity; readonly to: Quantity };
  engineSpeed: { readonly speed: Quantity };
}

export const elapsedFacts: MethodFacts<ElapsedMethod> = {
  measures: { time: 'time' },
  reads: (m) => [m.channel, m.second, m.speed].filter((c) => c !== undefined),
  finds: (m) => [m.channel],
  figures: (m) => shownOn(m.second === undefined ? [m.channel] : [m.channel, m.second], m.from, m.to),
  minutes: byHand,
};
