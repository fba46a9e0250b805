import type { Attributes, ItemFacts, Lists, OccasionKind, Outlook, Readiness, Verdict } from '@grellin/core';
import type { InstrumentRow } from './instrument';
import type { ObligationRow } from './obligation';
import type { Page } from './page';
import type { LeakRow, RecordRow } from './record';

export interface LastResult {
  readonly record: string;
  readonly verdict: Verdict;
  readonly word: string;
  readonly allowancePercent: number | null;
  readonly on: string;
}

export interface AssetRow extends ItemFacts {
  readonly id: string;
  readonly attributes: Attributes;
  readonly lifeEnds: string | null;
  readonly archived: boolean;
  /** Counts its changes: whoever changes it says which one was seen. */
  readonly revision: number;
  readonly readiness: Readiness;
  /** Why it is blocked, or what is due, in words. */
  readonly why: string;
  readonly due: string | null;
  readonly last: LastResult | null;
}

/** A page of the register. */
export type RegisterPage = Page<AssetRow>;

/** One series of an item's tests: what each used of its allowance, and what that foretells. */
export interface SeriesView {
  readonly procedure: string;
  readonly title: string;
  readonly points: readonly { readonly record: string; readonly on: string; readonly percent: number; readonly verdict: Verdict }[];
  /** The pressures of each deciding hold: minutes from its start, and the loss from the start reading, per cent of what is permitted. */
  readonly strips: readonly { readonly record: string; readonly on: string; readonly points: readonly (readonly [number, number])[] }[];
  readonly outlook: Outlook | null;
}

export interface OccasionRow {
  readonly kind: OccasionKind;
  readonly at: string;
  readonly note: string;
  readonly by: string;
}

/** All that is known of one asset. */
export interface AssetView extends AssetRow {
  readonly obligations: readonly ObligationRow[];
  readonly instruments: readonly InstrumentRow[];
  readonly records: readonly RecordRow[];
  readonly leaks: readonly LeakRow[];
  readonly series: readonly SeriesView[];
  readonly occasions: readonly OccasionRow[];
  readonly kits: readonly { readonly id: string; readonly name: string }[];
  /** What was told of the day when it was tested last, by procedure: what a form begins with. */
  readonly told: Readonly<Record<string, Lists>>;
  /** Who has it on a device that is away, and until when: a test of it may be under way that the server does not know of. */
  readonly along: readonly { readonly by: string; readonly until: string }[];
}

/** A change of the register that can be taken back. */
export interface ChangeRow {
  readonly id: string;
  readonly what: string;
  readonly by: string;
  readonly at: string;
  /** How many rows it touched. */
  readonly rows: number;
}

export interface SavedViewRow {
  readonly id: string;
  readonly name: string;
  readonly query: Readonly<Record<string, string>>;
  readonly columns: readonly string[];
}
