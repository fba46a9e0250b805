import type { AssetRow } from './asset';
import type { KitRow } from './kit';
import type { RunRow } from './run';

/** The first of a list, and whether there are more. */
export interface Some<T> {
  readonly rows: readonly T[];
  readonly more: boolean;
}

export interface TodayView {
  readonly date: string;
  readonly blocked: Some<AssetRow>;
  /** Condemned, and nobody has written down how it was put beyond use. */
  readonly condemned: Some<AssetRow>;
  /** A test of it was begun under pressure and came to no result. */
  readonly heldBack: Some<AssetRow>;
  /** What happened since its last check asks for one before the next use. */
  readonly checkFirst: Some<AssetRow>;
  readonly overdue: Some<AssetRow>;
  /** It owes what it has never passed. */
  readonly neverTested: Some<AssetRow>;
  /** Late, and filled before it was: to be emptied, and not filled again. */
  readonly useUp: Some<AssetRow>;
  readonly due: Some<AssetRow>;
  readonly kits: readonly KitRow[];
  readonly running: readonly RunRow[];
  readonly instruments: readonly {
    readonly id: string;
    readonly tag: string;
    readonly title: string;
    readonly calibrationDue: string;
    readonly days: number;
  }[];
}
