import type { Channel, Id, Method, Plan, Stage, Verdict, Words } from '../procedure';
import type { ChannelInstrument, Finding, Reason, StageRecord } from './record';

export type Instruments = Readonly<Record<Channel, ChannelInstrument | undefined>>;

/** One attempt at a stage, with everything that a method may look at. */
export interface Attempted<M extends Method = Method> {
  readonly plan: Plan;
  readonly stage: Stage;
  readonly method: M;
  readonly record: StageRecord;
  readonly instruments: Instruments;
}

/** A finding with nothing measured in it yet. */
export function findingOf(
  at: Attempted,
  engine: Words,
  channel: Channel | null,
  verdict: Verdict,
  reasons: readonly Reason[],
  evidence: readonly Id[] = [],
): Finding {
  return {
    stage: at.stage.id,
    role: at.stage.role,
    channel,
    attempt: at.record.attempt,
    engine,
    verdict,
    observed: null,
    limit: null,
    allowancePercent: null,
    confidence: null,
    reasons,
    evidence,
  };
}

/** Why there is nothing to judge: still under way, or ended without it. */
export function lacking(record: StageRecord, reason: Reason): { readonly verdict: Verdict; readonly reason: Reason } {
  return record.endedAt === null ? { verdict: 'undecided', reason: { code: 'unfinished', values: {} } } : { verdict: 'void', reason };
}

/** The instrument behind a channel, or why it may not be believed in this run. */
export function usableInstrument(at: Attempted, channel: Channel): ChannelInstrument | Reason {
  const instrument = at.instruments[channel];
  if (!instrument) return { code: 'noReading', values: { channel } };
  return instrument.fitted || instrument.inCalibration ? instrument : { code: 'calibrationOut', values: {} };
}

/** Whether something that was asked for is the reason why there is none. */
export function isReason(found: object): found is Reason {
  return 'code' in found;
}
