import { figureOf, type Channel, type Method, type Plan, type Reason, type Stage } from '../../procedure';
import { decimalIn } from '../../quantity';
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
  if (!instrument.fitted && !instrument.inCalibration) return { code: 'calibrationOut', values: {} };
  return askedUnmet(at.plan, channel, instrument) ?? instrument;
}

/**
 * Why an instrument is not what the rule asks for on a channel: its scale goes too far, or its calibration is too long ago or of an unknown day. Null where it is.
 * @param instrument with `calibratedDaysAgo` in whole days, left out where nobody knows
 * @example ((r) => askedUnmet(r.plan, 'suit', r.instruments['suit']))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function askedUnmet(plan: Plan, channel: Channel, instrument: Pick<ChannelInstrument, 'high' | 'calibratedDaysAgo'>): Reason | null {
  const asks = plan.procedure.channels[channel]?.asks;
  if (asks?.upTo !== undefined) {
    const most = figureOf(plan, asks.upTo);
    if (decimalIn(instrument.high, most.unit).gt(most.value)) return { code: 'scaleTooLong', values: { high: instrument.high, most } };
  }
  if (asks?.calibratedWithin !== undefined) {
    const most = figureOf(plan, asks.calibratedWithin);
    const ago = instrument.calibratedDaysAgo;
    if (ago === undefined) return { code: 'calibratedUnknown', values: { most } };
    if (ago > decimalIn(most, 'd').toNumber()) return { code: 'calibratedLongAgo', values: { ago: { value: ago, unit: 'd' }, most } };
  }
  return null;
}

/**
 * Whether something that was asked for is the reason why there is none.
 * @example isReason({ code: 'noReading', values: {} }) // true
 */
export function isReason(found: object): found is Reason {
  return 'code' in found;
}
