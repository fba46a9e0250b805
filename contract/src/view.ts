import type { Attributes, ClockKind, Finding, Grade, Procedure, Quantity, Readiness, RunEvent, Verdict } from '@grellin/core';
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
  readonly readiness: Readiness;
  /** Why it is blocked, or what is due, in words. */
  readonly why: string;
  readonly due: string | null;
  readonly last: LastResult | null;
}

export interface ObligationRow {
  readonly id: string;
  readonly asset: string;
  readonly procedure: string;
  readonly ruleSet: string;
  readonly interval: string;
  readonly counting: 'rolling' | 'anchored';
  readonly due: string;
  readonly lastDone: string | null;
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

export interface TodayView {
  readonly date: string;
  readonly blocked: readonly AssetRow[];
  readonly overdue: readonly AssetRow[];
  readonly due: readonly AssetRow[];
  readonly running: readonly RunRow[];
  readonly instruments: readonly { readonly tag: string; readonly title: string; readonly calibrationDue: string; readonly days: number }[];
  readonly ready: number;
  readonly total: number;
}
