import type { Quantity } from '../../quantity';
import type { Channel, Id, Words } from '../term';
import { byHand, shownOn, type MethodFacts } from './facts';
import type { GasFacts } from './gas';

/** A pressure is left to itself until half of it is gone. */
export interface HalfLifeMethod {
  readonly kind: 'halfLife';
  readonly channel: Channel;
  /** Parameters: the window that the start is read in. */
  readonly start: { readonly low: Id; readonly high: Id };
  readonly gas?: GasFacts;
}

export interface HalfLifeReasons {
  halfLife: { readonly start: Quantity; readonly half: Quantity; readonly observed: Quantity; readonly limit: Quantity };
  halfLifeOver: { readonly start: Quantity; readonly half: Quantity; readonly observed: Quantity; readonly limit: Quantity };
  /** `high` is words where the fit sets no end to it. */
  halfLifeFit: { readonly value: Quantity; readonly low: Quantity; readonly high: Quantity | Words };
}

export const halfLifeFacts: MethodFacts<HalfLifeMethod> = {
  findsLeaks: () => true,
  measures: { time: 'time' },
  timed: true,
  byWeather: true,
  reads: (m) => [m.channel],
  figures: (m) => shownOn([m.channel], m.start.low, m.start.high),
  trace: (m) => ({ start: m.start.low }),
  minutes: byHand,
};
