import type { Attributes, Channel, Digest, Grade, Id, Lists, Role, RunProof, Tables, Verdict, Words } from '../procedure';
import type { Quantity, Unit } from '../quantity';
import type { GaugeFacts } from '../register';

/** What was known about an asset when the run opened. */
export interface AssetCopy {
  readonly id: Id;
  readonly attributes: Attributes;
  /** Items that go along with it, and the last day on which each may be used: their own dates decide, and no tick. */
  readonly carries?: readonly { readonly id: Id; readonly until: Words }[];
}

/** What was known about an instrument when the run opened. */
export interface InstrumentCopy extends GaugeFacts {
  readonly id: Id;
  /** Fitted to the item (a dash gauge): exempt from calibration dates. */
  readonly fitted: boolean;
}

export type ClockKind = 'live' | 'simulated';
export type Answer = 'yes' | 'no' | 'notApplicable' | 'watch';

/** What a picture is of. */
export type Pictured = 'look' | 'leak' | 'plate' | 'gauge' | 'other';

/** More than a certificate shows of one run. */
export const MOST_PICTURES = 24;

export interface EventHead {
  readonly id: Id;
  readonly source: Id;
  /** Counts within its source, from 1. */
  readonly n: number;
  /** Milliseconds on the run's clock. */
  readonly at: number;
}

export interface Opened {
  readonly kind: 'opened';
  /** ISO 8601 instant at which the run's clock stood at zero. */
  readonly startedAt: Words;
  /** Offset from UTC of the station's clocks then, `+13:00`. */
  readonly offset?: Words;
  readonly procedure: Digest;
  readonly ruleSet: Id;
  readonly assets: Readonly<Record<Role, AssetCopy>>;
  readonly instruments: Readonly<Record<Channel, InstrumentCopy>>;
  /** What was told of the day, thing by thing, by list. */
  readonly lists?: Lists;
  /** The kept tables that it goes by, as they stood when it was opened, by the procedure's name for each. */
  readonly tables?: Tables;
  /** What an earlier run of its round proved of the rig. */
  readonly proof?: RunProof;
  readonly clock: ClockKind;
  /** The run that this one is a retest of. */
  readonly retestOf?: Id;
  /** It was opened on a device that was away from the server, with what that had taken along: its times are the device's. */
  readonly away?: { readonly along: Id; readonly takenAt: Words };
}

/** What the server found when a run had come to its end: it seals the chain, so that a verdict turned over is a broken chain. */
export interface Recorded {
  readonly kind: 'recorded';
  /** The record's number. */
  readonly record: Id;
  readonly verdict: Verdict;
  readonly blocks: boolean;
  /** Whether it holds back what it tested, and whether it condemns it. Seals from before these were told say nothing of them. */
  readonly holds?: boolean;
  readonly condemns?: boolean;
  /** Whether it settles anything: a simulated run of an item that is not for practice does not. */
  readonly counts: boolean;
  /** The register's id of the item in the procedure's first role, and its tag then. */
  readonly item: Id;
  readonly tag: Id;
  /** SHA-256 of the canonical JSON of the findings, the deciding and the earlier ones. */
  readonly findings: Digest;
  /** Edition of the procedure, and of every method that found something, in order of their names. */
  readonly edition: Words;
  readonly methods: readonly Words[];
}

export type EventBody =
  | Opened
  | { readonly kind: 'began'; readonly stage: Id; readonly attempt: number; readonly reason?: Words }
  | { readonly kind: 'ended'; readonly stage: Id; readonly attempt: number; readonly reason?: Words }
  | { readonly kind: 'reading'; readonly channel: Channel; readonly quantity: Quantity }
  | { readonly kind: 'samples'; readonly channel: Channel; readonly unit: Unit; readonly everyMs: number; readonly values: readonly number[] }
  | { readonly kind: 'marked'; readonly mark: Id }
  | { readonly kind: 'disturbed'; readonly note: Words }
  | { readonly kind: 'answered'; readonly item: Id; readonly answer: Answer; readonly reason?: Words }
  | { readonly kind: 'spotted'; readonly spot: Id; readonly grade: Grade }
  /** A picture was taken: the SHA-256 of its bytes, which are kept beside the run, so that the chain holds them too. It says nothing that is judged. */
  | { readonly kind: 'pictured'; readonly picture: Digest; readonly shows: Pictured; readonly item?: Id; readonly note?: Words }
  | { readonly kind: 'synced'; readonly offsetMs: number; readonly halfTripMs: number }
  | { readonly kind: 'gap'; readonly wallMs: number; readonly tickMs: number }
  | { readonly kind: 'withdrawn'; readonly event: Id; readonly reason: Words }
  | { readonly kind: 'amended'; readonly note: Words }
  | { readonly kind: 'sealed' }
  | { readonly kind: 'abandoned'; readonly reason: Words }
  | Recorded;

export type RunEvent = EventHead & EventBody;
export type EventKind = RunEvent['kind'];
export type EventOf<K extends EventKind> = Extract<RunEvent, { kind: K }>;

/**
 * The last moment that some events tell of, ms on the run's clock: samples go on after the moment at which they begin.
 * @example lastMoment([{ kind: 'samples', at: 1000, everyMs: 500, values: [1, 2, 3] }, { kind: 'sealed', at: 1500 }]) // 2000
 */
export function lastMoment(events: readonly RunEvent[]): number {
  return events.reduce((last, e) => Math.max(last, e.kind === 'samples' ? e.at + (e.values.length - 1) * e.everyMs : e.at), 0);
}
