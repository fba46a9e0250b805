import { NEVER_COMES, type EventBody, type Next, type Stage } from '@grellin/core';
import type { BenchView } from './benchView';

/** A question that needs a reason before something is said. */
export interface Asking {
  readonly question: string;
  /** What giving the reason does. */
  readonly action: string;
  readonly body: (reason: string) => EventBody;
  /** What is said after it, once that was taken. */
  readonly then?: (reason: string) => EventBody;
}

/** Where the run stands, as far as a question hangs on it. */
export interface Standing {
  readonly next: Next;
  readonly lastSaid: BenchView['lastSaid'];
  /** The stage that could be tried again now. */
  readonly redo: { readonly stage: Stage; readonly attempt: number } | null;
  /** Whether it may be said now that it never comes: the rules then ask what that means. */
  readonly mayNeverCome: boolean;
}

const ended = (stage: string, attempt: number) => (reason: string) => ({ kind: 'ended', stage, attempt, reason }) as const;

/** Everything that is said with a reason: what it asks, and what it then says. Null where it cannot be asked now. */
export const askings = {
  no: ({ next: n }) =>
    n.kind !== 'answer'
      ? null
      : { question: 'What is not in order?', action: 'No', body: (reason) => ({ kind: 'answered', item: n.item.id, answer: 'no', reason }) },
  notApplicable: ({ next: n }) =>
    n.kind !== 'answer' || !n.item.optional
      ? null
      : {
          question: 'Why does it not apply?',
          action: 'Does not apply',
          body: (reason) => ({ kind: 'answered', item: n.item.id, answer: 'notApplicable', reason }),
        },
  watch: ({ next: n }) =>
    n.kind !== 'answer' || !n.item.watch
      ? null
      : {
          question: $localize`It passes. What is seen, and how large? It is looked at again next time.`,
          action: $localize`Watch it`,
          body: (reason) => ({ kind: 'answered', item: n.item.id, answer: 'watch', reason }),
        },
  // Nobody has to look for where it leaks: it fails all the same.
  leave: ({ next: n }) =>
    n.kind !== 'spot' || !n.stage.seeks
      ? null
      : { question: $localize`Why is it not looked for now?`, action: $localize`Leave it to others`, body: ended(n.stage.id, n.attempt) },
  touched: ({ next: n }) => (n.kind !== 'hold' ? null : { question: 'What touched it?', action: 'Note it', body: (note) => ({ kind: 'disturbed', note }) }),
  again: ({ redo }) =>
    redo && {
      question: `Why is “${redo.stage.title}” done again?`,
      action: 'Do it again',
      body: (reason) => ({ kind: 'began', stage: redo.stage.id, attempt: redo.attempt, reason }),
    },
  breakOff: ({ next: n }) =>
    n.kind !== 'hold' ? null : { question: 'Why is the hold broken off?', action: 'Break it off', body: ended(n.stage.id, n.attempt) },
  // What a step waits for does not come: the stage ends with the reason, and the judge says what that means.
  neverComes: ({ next: n, mayNeverCome }) =>
    mayNeverCome
      ? {
          question: 'It never comes? Say what is seen instead.',
          action: 'It never comes',
          body: () => ({ kind: 'marked', mark: NEVER_COMES }),
          then: (note) => ({ kind: 'amended', note: `It never came: ${note}` }),
        }
      : n.kind !== 'act' && n.kind !== 'reach' && n.kind !== 'start'
        ? null
        : { question: 'It never comes? Say what is seen instead.', action: 'End this stage', body: ended(n.stage.id, n.attempt) },
  // The last statement is withdrawn by one that says why; nothing is erased.
  takeBack: ({ lastSaid: last }) =>
    last && {
      question: `Why is ${last.words} taken back?`,
      action: 'Take it back',
      body: (reason) => ({ kind: 'withdrawn', event: last.event, reason }),
    },
  abandon: ({ next: n }) =>
    n.kind === 'closed' ? null : { question: 'Why is the run abandoned?', action: 'Abandon the run', body: (reason) => ({ kind: 'abandoned', reason }) },
} satisfies Readonly<Record<string, (at: Standing) => Asking | null>>;
export type AskingName = keyof typeof askings;
