import type { FigureTable } from '@grellin/core';
import type { CarriedAlong } from '../opening';
import type { AssetView } from './asset';
import type { InstrumentRow } from './instrument';
import type { PublishedProcedure } from './procedure';

/** What a device takes along: all that it needs to carry out typed tests of some items, as it was known then. */
export interface AlongBundle {
  readonly id: string;
  readonly account: { readonly id: string; readonly name: string; readonly fullName: string; readonly role: 'tester' | 'officer' };
  /** ISO instants by the server’s clock. After `until` nothing more may be begun with it. */
  readonly takenAt: string;
  readonly until: string;
  /** IANA name of the station’s zone. */
  readonly zone: string;
  readonly assets: readonly (AssetView & { readonly carries: readonly CarriedAlong[] })[];
  /** Gauges that are read by eye: what streams stays at the station. */
  readonly instruments: readonly InstrumentRow[];
  /** What the person is authorised for, and until when. */
  readonly procedures: readonly (PublishedProcedure & { readonly authorisedUntil: string })[];
  readonly tables: readonly FigureTable[];
}

/** What is handed to the device, once. */
export interface TakenAlong {
  readonly bundle: AlongBundle;
  /** Whoever hands in what was done away shows it. */
  readonly secret: string;
}

/** What became of a run that was handed in. */
export interface HandedIn {
  /** The number of its record. */
  readonly record: string;
  /** What others have done to its items meanwhile, in words: both records stand. */
  readonly meanwhile: readonly string[];
}

/** Whether a device may go on with what it took along. `disabled` and `ended`: it is wiped. */
export type AlongState = 'inForce' | 'ranOut' | 'ended' | 'disabled';

/** A device that is away, for whoever looks after the station. */
export interface AlongRow {
  readonly id: string;
  readonly by: string;
  readonly takenAt: string;
  readonly until: string;
  readonly tags: readonly string[];
  readonly handedIn: number;
  readonly state: AlongState;
}
