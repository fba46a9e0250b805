import type { Quantity } from '../../quantity';
import type { Channel, Id } from '../term';
import { byHand, shownOn, type MethodFacts } from './facts';
import type { Window } from './reasons';

/** A flow is set so that the pressure stands still; the flow is the leak. */
export interface MakeUpFlowMethod {
  readonly kind: 'makeUpFlow';
  readonly pressure: Channel;
  readonly flow: Channel;
  /** Parameters: the band that the pressure must keep all the while. */
  readonly band: { readonly low: Id; readonly high: Id };
  /** Parameter: how long it must keep it. */
  readonly hold: Id;
}

export interface MakeUpFlowReasons {
  flow: { readonly observed: Quantity; readonly limit: Quantity; readonly pressure: Quantity; readonly over: Quantity };
  bandLeft: Window;
}

export const makeUpFlowFacts: MethodFacts<MakeUpFlowMethod> = {
  measures: { flow: 'flow' },
  timed: true,
  measured: true,
  reads: (m) => [m.pressure, m.flow],
  finds: (m) => [m.flow],
  figures: (m) => [{ id: m.hold, in: 's' }, ...shownOn([m.pressure], m.band.low, m.band.high)],
  minutes: byHand,
};
