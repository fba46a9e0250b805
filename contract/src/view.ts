import type {
  Attributes,
  CalibrationPoint,
  ClockKind,
  Finding,
  Grade,
  OccasionKind,
  Outlook,
  Procedure,
  Quantity,
  Readiness,
  RunEvent,
  UseTrigger,
  Verdict,
} from '@grellin/core';
import type { AccountRole } from './api';

/** What the API answers with. The server builds these; the browser only reads them. */

export interface Me {
  readonly id: string;
  readonly name: string;
  readonly fullName: string;
  readonly role: AccountRole;
}

export type { Readiness } from '@grellin/core';

export interface LastResult {
  readonly record: string;
  readonly verdict: Verdict;
  readonly word: string;
  readonly allowancePercent: number | null;
  readonly on: string;
}

export interface AssetRow {
  readonly id: string;
  readonly tag: string;
  readonly serial: string;
  readonly class: string;
  readonly title: string;
  readonly place: string;
  readonly practice: boolean;
  readonly attributes: Attributes;
  /** A day, or a month where the day is not known. */
  readonly madeOn: string | null;
  /** ISO 8601 duration. */
  readonly life: string | null;
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

/** One page of the register. */
export interface RegisterPage {
  readonly rows: readonly AssetRow[];
  /** Where the next page begins; null after the last one. */
  readonly next: string | null;
  /** How many there are, told with the first page and up to a bound. */
  readonly count: number | null;
  readonly more: boolean;
}

export interface DateMove {
  readonly id: string;
  readonly kind: 'deferred' | 'proposed';
  readonly before: string;
  readonly after: string;
  readonly reason: string;
  readonly by: string;
  readonly at: string;
  /** Undone since; it stays to be seen. */
  readonly takenBack: boolean;
}

export interface OutsideRow {
  readonly id: string;
  readonly doneOn: string;
  readonly issuer: string;
  readonly number: string;
  readonly mime: string;
  readonly by: string;
  readonly at: string;
  readonly takenBack: boolean;
}

export interface ObligationRow {
  readonly id: string;
  readonly asset: string;
  readonly procedure: string;
  readonly title: string;
  readonly ruleSet: string;
  readonly ruleSetTitle: string;
  readonly interval: string | null;
  readonly counting: 'rolling' | 'anchored' | 'window';
  readonly anchor: string;
  readonly early: string | null;
  readonly stamp: 'day' | 'month';
  readonly triggers: readonly UseTrigger[];
  readonly filled: 'untilEmptied' | 'months' | 'blocked' | null;
  readonly hard: boolean;
  readonly due: string | null;
  readonly lastDone: string | null;
  /** What happened asks for it before the next use. */
  readonly owedNow: boolean;
  readonly moves: readonly DateMove[];
  readonly outside: readonly OutsideRow[];
}

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
}

export interface KitRow {
  readonly id: string;
  readonly name: string;
  readonly needs: readonly { readonly class: string; readonly minimum: number; readonly ready: number; readonly held: number }[];
  /** Every need is met now. */
  readonly ready: boolean;
  /** What is lacking, in words; null where nothing is. */
  readonly short: string | null;
  /** Items that a check before use would make ready. */
  readonly checkFirst: readonly AssetRow[];
  readonly assets: readonly string[];
}

export interface SavedViewRow {
  readonly id: string;
  readonly name: string;
  readonly query: Readonly<Record<string, string>>;
  readonly columns: readonly string[];
}

export interface PersonRow {
  readonly id: string;
  readonly name: string;
  readonly fullName: string;
  readonly role: AccountRole;
  readonly authorisations: readonly {
    readonly id: string;
    readonly procedure: string;
    readonly title: string;
    readonly until: string;
    readonly stamp: string;
    readonly runsOut: boolean;
  }[];
}

export interface RecalledRow {
  readonly run: string;
  readonly record: string;
  readonly asset: string;
  readonly tag: string;
  readonly procedureTitle: string;
  readonly on: string;
  readonly before: Verdict;
  readonly after: Verdict;
  readonly changes: boolean;
  readonly words: string;
  /** A later test has passed since. */
  readonly settled: boolean;
}

export interface CalibrationRow {
  readonly id: string;
  readonly on: string;
  readonly due: string;
  readonly laboratory: string;
  readonly certificate: string;
  readonly points: readonly CalibrationPoint[];
  readonly outOfTolerance: boolean;
  readonly by: string;
  readonly at: string;
  /** What it found, worst first, per cent of the stated limits of error. */
  readonly worstPercent: number;
  readonly recalled: readonly RecalledRow[];
}

export interface InstrumentView extends InstrumentRow {
  readonly calibrations: readonly CalibrationRow[];
  readonly zeroChecks: readonly { readonly shows: Quantity; readonly note: string; readonly by: string; readonly at: string }[];
  readonly runs: number;
}

export interface InstrumentRow {
  readonly id: string;
  readonly tag: string;
  readonly title: string;
  readonly fittedTo: string | null;
  readonly low: Quantity;
  readonly high: Quantity;
  readonly resolution: Quantity;
  readonly accuracy: Quantity;
  readonly correlation: number;
  readonly calibrationDue: string | null;
  /** It sends its readings by itself. */
  readonly streams: boolean;
  readonly simulated: boolean;
  /** The simulated rig behind it. */
  readonly rig: string | null;
  /** Instruments of one device share its clock and its rig. */
  readonly device: string | null;
  /** The open run that its device is bound to. */
  readonly inUseBy: string | null;
}

export interface RunRow {
  readonly id: string;
  readonly procedure: string;
  readonly title: string;
  readonly ruleSet: string;
  readonly asset: string;
  readonly tag: string;
  readonly assetTitle: string;
  readonly startedAt: string;
  readonly clock: ClockKind;
  readonly blocks: boolean;
  readonly by: string;
}

export interface RunView extends RunRow {
  readonly digest: string;
  readonly document: Procedure;
  readonly lease: number;
  readonly closed: boolean;
  readonly record: string | null;
  readonly assets: Readonly<Record<string, { readonly id: string; readonly tag: string; readonly serial: string; readonly title: string }>>;
  readonly instruments: Readonly<Record<string, InstrumentRow>>;
  /** The simulated instrument whose rig stands for the item, where there is one. */
  readonly rig: InstrumentRow | null;
}

export interface PositionedEvent {
  readonly seq: number;
  readonly lease: number;
  /** It came under an old lease: kept and shown, never folded in. */
  readonly late: boolean;
  readonly event: RunEvent;
}

export interface RecordRow {
  readonly number: string;
  readonly run: string;
  readonly procedure: string;
  readonly procedureTitle: string;
  readonly ruleSetTitle: string;
  readonly asset: string;
  readonly tag: string;
  readonly assetTitle: string;
  readonly verdict: Verdict;
  readonly word: string;
  readonly blocks: boolean;
  readonly allowancePercent: number | null;
  readonly simulated: boolean;
  readonly practice: boolean;
  readonly sealedAt: string;
  readonly by: string;
  readonly nextDue: string | null;
}

export interface LeakRow {
  readonly id: string;
  readonly asset: string;
  readonly run: string;
  readonly number: number;
  readonly outline: string | null;
  readonly x: number | null;
  readonly y: number | null;
  readonly place: string;
  readonly grade: Grade;
  readonly foundAt: string;
  readonly by: string;
  readonly closedBy: string | null;
  readonly closedAt: string | null;
}

export interface RecordView extends RecordRow {
  readonly serial: string;
  readonly head: string;
  readonly findings: readonly Finding[];
  readonly earlier: readonly Finding[];
  readonly attempts: number;
  readonly disposition: string;
  readonly notes: readonly { readonly note: string; readonly at: string; readonly by: string }[];
  readonly instruments: readonly {
    readonly channel: string;
    readonly tag: string;
    readonly title: string;
    readonly calibrationDue: string | null;
    readonly fitted: boolean;
  }[];
  /** Pressures of the deciding hold, for the small strip: minutes from its start, and the value in the limit's unit. */
  readonly strip: readonly (readonly [number, number])[];
}

/** The first of a list, and whether there are more. */
export interface Some<T> {
  readonly rows: readonly T[];
  readonly more: boolean;
}

export interface TodayView {
  readonly date: string;
  readonly blocked: Some<AssetRow>;
  readonly overdue: Some<AssetRow>;
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

/** What becomes, or would become, of one row of a file. */
export interface RowFate {
  /** As a spreadsheet counts: the first line is the columns. */
  readonly row: number;
  readonly tag: string;
  readonly fate: 'new' | 'changed' | 'same' | 'bad';
  readonly flaws: readonly { readonly column: string; readonly message: string }[];
}

export interface ImportReport {
  readonly rows: number;
  readonly new: number;
  readonly changed: number;
  readonly same: number;
  readonly bad: number;
  readonly fates: readonly RowFate[];
  /** False for a dry run: nothing was written. */
  readonly written: boolean;
  readonly change: string | null;
}

/** A test that has to be put into a week. */
export interface PlanTest {
  readonly id: string;
  readonly due: string;
  readonly procedure: string;
  readonly ruleSet: string;
  readonly interval: string | null;
  readonly early: string | null;
  readonly counting: 'rolling' | 'anchored' | 'window';
  readonly asset: string;
  readonly tag: string;
  readonly title: string;
  readonly place: string;
  readonly minutes: number;
}

export interface PlanView {
  readonly today: string;
  readonly tests: readonly PlanTest[];
  readonly benches: readonly { readonly id: string; readonly name: string; readonly setups: readonly string[]; readonly hoursAWeek: number }[];
  readonly kept: readonly { readonly obligation: string; readonly week: number; readonly bench: string; readonly fixed: boolean }[];
}
