import type { Channel, Grade, Id, Words } from '../../procedure';
import type { GaugeFacts } from '../../register';
import type { ReadingList } from './readingList';

export interface Mark {
  readonly mark: Id;
  readonly at: number;
  readonly event: Id;
}

export interface ItemAnswer {
  readonly answer: 'yes' | 'no' | 'notApplicable' | 'watch';
  readonly reason: Words | null;
  readonly at: number;
  readonly event: Id;
  /** Whether it was ever answered with no in this attempt. */
  readonly refused: boolean;
}

/** How a place bubbled: the last grade it was given, the worst, and when it was first looked at. */
export interface SpotSeen {
  readonly grade: Grade;
  readonly worst: Grade;
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
  /** When each thing was last marked in this run before the attempt began, by its id. */
  readonly earlier: Readonly<Record<Id, number>>;
  /** The same from the beginning of the run. */
  readonly sinceOpened: Readonly<Record<Channel, ReadingList>>;
  readonly disturbances: readonly { readonly at: number; readonly note: Words; readonly event: Id }[];
  readonly gaps: readonly { readonly at: number; readonly lostMs: number }[];
  /** Standard uncertainty of typed times, in ms. */
  readonly typedTimingMs: number;
}

/** The instrument behind a channel, as the methods need it. */
export interface ChannelInstrument extends Omit<GaugeFacts, 'calibrationDue' | 'calibratedOn'> {
  readonly fitted: boolean;
  /** False when its calibration had run out on the day of the run. */
  readonly inCalibration: boolean;
  /** Days from its calibration to the run; left out where nobody knows. */
  readonly calibratedDaysAgo?: number;
}
