import type { NewObligation } from '@grellin/contract';
import { isInterval, usualRule, type DueRule, type FilledRule, type Procedure } from '@grellin/core';

/** A span as a person writes it: how many, of what. */
export interface Span {
  readonly count: string;
  readonly of: 'Y' | 'M' | 'W' | 'D';
}

/** What is written of a check that an item shall owe, before it is asked for. */
export interface OweDraft extends Pick<DueRule, 'counting' | 'anchor' | 'stamp' | 'triggers' | 'hard'> {
  readonly procedure: string;
  readonly ruleSet: string;
  /** An empty count: only what happens makes it owed. */
  readonly every: Span;
  readonly early: Span;
  readonly filled: FilledRule | '';
}

/** A draft for a procedure: its first rule set, every year from a day on. */
export function draftFor(procedure: Procedure | undefined, today: string): OweDraft {
  return {
    procedure: procedure?.id ?? '',
    ruleSet: procedure?.ruleSets[0]?.id ?? '',
    every: { count: '1', of: 'Y' },
    ...usualRule,
    anchor: today,
    early: { count: '', of: 'M' },
    filled: '',
  };
}

/** A span as an ISO 8601 duration; null where nothing is written, undefined where what is written is none. @example { count: '30', of: 'M' } // 'P30M' */
function durationOf({ count, of }: Span): string | null | undefined {
  const text = count.trim();
  if (text === '') return null;
  const duration = `P${text}${of}`;
  return /^[1-9]\d{0,3}$/.test(text) && isInterval(duration) ? duration : undefined;
}

/** What still lacks before it can be asked for, in words; null where nothing does. */
export function draftLacks(draft: OweDraft): string | null {
  const every = durationOf(draft.every);
  if (draft.procedure === '' || draft.ruleSet === '') return 'Say which check, and by which rules.';
  if (every === undefined) return 'How often: a whole number, or nothing.';
  if (every === null && draft.triggers.length === 0) return 'It would never be owed: say how often, or what makes it owed.';
  if (draft.anchor === '') return 'Say from which day it is counted.';
  if (draft.counting === 'window' && durationOf(draft.early) === undefined) return 'How early: a whole number, or nothing.';
  return null;
}

/** What is asked of the server. */
export function obligationOf(asset: string, draft: OweDraft): NewObligation {
  const { procedure, ruleSet, counting, anchor, stamp, triggers, filled, hard } = draft;
  return {
    asset,
    procedure,
    ruleSet,
    interval: durationOf(draft.every) ?? null,
    counting,
    anchor,
    early: counting === 'window' ? (durationOf(draft.early) ?? null) : null,
    stamp,
    triggers: [...triggers],
    filled: filled === '' ? null : filled,
    hard,
  };
}

/** The procedures that an item of a class can owe and does not yet; an officer's own published ones among them, the newest edition of each. */
export function proceduresFor(published: readonly { readonly document: Procedure }[], kind: string, owed: readonly string[]): readonly Procedure[] {
  const fit = published.map((p) => p.document).filter((d) => Object.values(d.roles).some((r) => r.classes.includes(kind)) && !owed.includes(d.id));
  return [...new Map(fit.map((d) => [d.id, d])).values()].sort((a, b) => a.title.localeCompare(b.title));
}
