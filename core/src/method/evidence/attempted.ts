import type { Channel, Method, Plan, Reason, Stage } from '../../procedure';
import type { ChannelInstrument, StageRecord } from './record';

export type Instruments = Readonly<Record<Channel, ChannelInstrument | undefined>>;

/** One attempt at a stage, with everything that a method may look at. */
export interface Attempted<M extends Method = Method> {
  readonly plan: Plan;
  readonly stage: Stage;
  readonly method: M;
  readonly record: StageRecord;
  readonly instruments: Instruments;
}

/**
 * The instrument behind a channel, or why it may not be believed in this run.
 * @example usableInstrument(exampleOf('suit.inflation', 'inflate').at, 'nothing') // { code: 'noReading', values: { channel: 'nothing' } }
 */
export function usableInstrument(at: Attempted, channel: Channel): ChannelInstrument | Reason {
  const instrument = at.instruments[channel];
  if (!instrument) return { code: 'noReading', values: { channel } };
  return instrument.fitted || instrument.inCalibration ? instrument : { code: 'calibrationOut', values: {} };
}

/**
 * Whether something that was asked for is the reason why there is none.
 * @example isReason({ code: 'noReading', values: {} }) // true
 */
export function isReason(found: object): found is Reason {
  return 'code' in found;
}
