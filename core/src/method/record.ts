import type { Channel, Grade, Id, ResolvedLimit, Role, Verdict, Words } from '../procedure';
import type { Quantity } from '../quantity';
import type { ReadingList } from './readingList';

/** One value of one channel, at a time on the run's clock. */
export interface Reading {
  readonly at: number;
  readonly value: number;
  readonly unit: string;
  /** Typed by a person; otherwise it came from an instrument with a clock of its own. */
  readonly typed: boolean;
  readonly event: Id;
}

export interface Mark {
  readonly mark: Id;
  readonly at: number;
  readonly event: Id;
}

export interface ItemAnswer {
  readonly answer: 'yes' | 'no' | 'notApplicable';
  readonly reason: Words | null;
  readonly at: number;
  readonly event: Id;
}

/** How a place bubbled: the last grade it was given, and when it was first looked at. */
export interface SpotSeen {
  readonly grade: Grade;
  readonly firstAt: number;
  readonly event: Id;
}

/** What happened in one attempt at a stage: all that a method may look at. */
export interface StageRecord {
  readonly attempt: number;
  readonly beganAt: number;
  readonly endedAt: number | null;
  readonly endReason: Words | null;
  readonly marks: readonly Mark[];
  readonly answers: Readonly<Record<Id, ItemAnswer>>;
  readonly spots: Readonly<Record<Id, SpotSeen>>;
  /** In order of time, within the attempt. */
  readonly readings: Readonly<Record<Channel, ReadingList>>;
  readonly disturbances: readonly { readonly at: number; readonly note: Words; readonly event: Id }[];
  readonly gaps: readonly { readonly at: number; readonly lostMs: number }[];
  /** Standard uncertainty of typed times, in ms. */
  readonly typedTimingMs: number;
}

/** The instrument behind a channel, as the methods need it. */
export interface ChannelInstrument {
  readonly fitted: boolean;
  readonly low: Quantity;
  readonly high: Quantity;
  readonly resolution: Quantity;
  readonly accuracy: Quantity;
  readonly correlation: number;
  /** False when its calibration had run out on the day of the run. */
  readonly inCalibration: boolean;
}

export type ReasonCode =
  | 'loss'
  | 'lossPerMinute'
  | 'end'
  | 'ratio'
  | 'firstDrop'
  | 'recorded'
  | 'answeredAll'
  | 'answeredNo'
  | 'unanswered'
  | 'unfinished'
  | 'stepSkipped'
  | 'waitShort'
  | 'notReached'
  | 'neverReached'
  | 'noReading'
  | 'startOutside'
  | 'holdShort'
  | 'endedHopeless'
  | 'readLate'
  | 'calibrationOut'
  | 'outOfRange'
  | 'clockGap'
  | 'rose'
  | 'tooCoarse'
  | 'closeCall'
  | 'insideGuard'
  | 'noCorrelation'
  | 'overTop'
  | 'disturbed'
  | 'driftEqual'
  | 'change'
  | 'graduations'
  | 'correctedLoss'
  | 'asFlow'
  | 'asHole'
  | 'costs'
  | 'stillSettling'
  | 'driftOnly'
  | 'longerHold'
  | 'startOffScale'
  | 'coarseStep'
  | 'halfLife'
  | 'halfLifeOver'
  | 'halfLifeFit'
  | 'flow'
  | 'bandLeft'
  | 'event'
  | 'eventMissing'
  | 'eventOverdue'
  | 'noted'
  | 'elapsed'
  | 'notCrossed'
  | 'engineSpeed'
  | 'expansion'
  | 'notZeroed'
  | 'outOfTable'
  | 'noExpansion'
  | 'lift'
  | 'liftMissing'
  | 'liftNotFound'
  | 'reseatMissing'
  | 'noisyTrace'
  | 'fastRamp'
  | 'chatter'
  | 'spread'
  | 'bubbles'
  | 'dry'
  | 'outOfOrder'
  | 'stroke'
  | 'strokeDifference'
  | 'condemned'
  | 'rigLeaks'
  | 'notValid';

export interface Reason {
  readonly code: ReasonCode;
  readonly values: Readonly<Record<Id, Quantity | Words>>;
}

export interface Confidence {
  /** Probability that the item keeps the limit, 0 to 1. */
  readonly conforms: number;
  /** Standard uncertainty of the observed value. */
  readonly u: Quantity;
  readonly correlation: number;
}

/** What one stage showed against one limit. */
export interface Finding {
  readonly stage: Id;
  readonly role: Role;
  readonly channel: Channel | null;
  readonly attempt: number;
  /** The edition of the method that found it. */
  readonly engine: Words;
  readonly verdict: Verdict;
  readonly observed: Quantity | null;
  readonly limit: ResolvedLimit | null;
  readonly allowancePercent: number | null;
  readonly confidence: Confidence | null;
  readonly reasons: readonly Reason[];
  readonly evidence: readonly Id[];
}
