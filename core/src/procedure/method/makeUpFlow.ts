import type { Quantity } from '../../quantity';
import type { Channel, Id, Words } from '../term';
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
  /** Parameter: how much the item gives way with the pressure, at most. A needle that sinks under the flow hides so much of the leak. */
  readonly compliance?: Id;
}

export interface MakeUpFlowReasons {
  flow: { readonly observed: Quantity; readonly limit: Quantity; readonly pressure: Quantity; readonly over: Quantity };
  bandLeft: Window;
  /** The needle sank, or rose, while the flow stood. `worth` is what that was worth as a flow; words where nothing bounds it. */
  creeps: { readonly rate: Quantity; readonly worth: Quantity | Words };
}

export const makeUpFlowFacts: MethodFacts<MakeUpFlowMethod> = {
  findsLeaks: () => true,
  measures: { flow: 'flow' },
  timed: true,
  measured: true,
  reads: (m) => [m.pressure, m.flow],
  finds: (m) => [m.flow],
  figures: (m) => [{ id: m.hold, in: 's' }, { id: m.compliance, in: 'mL/cm[H2O]' }, ...shownOn([m.pressure], m.band.low, m.band.high)],
  minutes: byHand,
};
