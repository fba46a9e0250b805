import type { Curve, Finding, Grade, Procedure, Readiness, ReasonGiven, ToldList, Verdict } from '@grellin/core';
import type { Page } from './page';

export interface RecordRow {
  readonly number: string;
  readonly run: string;
  readonly procedure: string;
  readonly procedureTitle: string;
  readonly ruleSet: string;
  readonly ruleSetTitle: string;
  readonly asset: string;
  readonly tag: string;
  readonly assetTitle: string;
  readonly verdict: Verdict;
  readonly word: string;
  readonly blocks: boolean;
  /** It came to no result after it was begun in its test stage: the item is held back. */
  readonly holds: boolean;
  readonly condemns: boolean;
  readonly allowancePercent: number | null;
  readonly simulated: boolean;
  readonly practice: boolean;
  readonly sealedAt: string;
  readonly by: string;
  readonly nextDue: string | null;
}

/** A page of the log, newest first. */
export type LogPage = Page<RecordRow>;

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

/** A picture of a record, with who took it. */
export interface RecordPicture {
  /** Its bytes are at `/api/pictures/` under this. */
  readonly sha256: string;
  /** What it is of, in words. */
  readonly title: string;
  readonly note: string | null;
  readonly at: string;
  readonly by: string;
}

export interface RecordView extends RecordRow {
  /** The procedure as it was when the run was opened. */
  readonly document: Procedure;
  readonly serial: string;
  readonly head: string;
  readonly findings: readonly Finding[];
  readonly earlier: readonly Finding[];
  readonly attempts: number;
  readonly disposition: string;
  /** How the item stands today, which other tests decide as well. */
  readonly standing: { readonly readiness: Readiness; readonly why: string; readonly on: string };
  /** Who lifted what it holds back, and why. */
  readonly lifted: { readonly reason: string; readonly by: string; readonly at: string } | null;
  /** What people said in words of their own, in its order: why something was done again, broken off or taken back, and notes, those after the seal too. */
  readonly reasons: readonly (ReasonGiven & { readonly at: string; readonly by: string })[];
  /** What was seen, in pictures; those that were taken back are not among them. */
  readonly pictures: readonly RecordPicture[];
  /** What was told of that day, thing by thing (tanks, vaporisers), and what a hold asked to be read at its times. */
  readonly told: readonly ToldList[];
  readonly instruments: readonly {
    readonly channel: string;
    readonly tag: string;
    readonly title: string;
    readonly calibrationDue: string | null;
    readonly fitted: boolean;
  }[];
  /** What the gauges went through in the stages of the test. */
  readonly curves: readonly Curve[];
}
