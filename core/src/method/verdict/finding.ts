import type { Channel, Id, Reason, ResolvedLimit, Role, Verdict, Words } from '../../procedure';
import type { Quantity } from '../../quantity';
import type { Attempted } from '../evidence/attempted';
import type { StageRecord } from '../evidence/record';

export interface Confidence {
  /** Probability that the item keeps the limit, 0 to 1. */
  readonly conforms: number;
  /** Standard uncertainty of the observed value. */
  readonly u: Quantity;
  readonly correlation: number;
}

/** What one stage showed against one limit. */
export interface Finding {
  readonly stage: Id;
  readonly role: Role;
  readonly channel: Channel | null;
  readonly attempt: number;
  /** The edition of the method that found it. */
  readonly engine: Words;
  readonly verdict: Verdict;
  readonly observed: Quantity | null;
  readonly limit: ResolvedLimit | null;
  readonly allowancePercent: number | null;
  readonly confidence: Confidence | null;
  readonly reasons: readonly Reason[];
  readonly evidence: readonly Id[];
}

/**
 * A finding with nothing measured in it yet.
 * @example findingOf(exampleOf('suit.inflation', 'inflate').at, 'decay', 'suit', 'void', []).measured // undefined
 */
export function findingOf(
  at: Attempted,
  engine: Words,
  channel: Channel | null,
  verdict: Verdict,
  reasons: readonly Reason[],
  evidence: readonly Id[] = [],
): Finding {
  return {
    stage: at.stage.id,
    role: at.stage.role,
    channel,
    attempt: at.record.attempt,
    engine,
    verdict,
    observed: null,
    limit: null,
    allowancePercent: null,
    confidence: null,
    reasons,
    evidence,
  };
}

/**
 * Why there is nothing to judge: still under way, or ended without it.
 * @example lacking({ ...exampleOf('suit.inflation', 'inflate').record, endedAt: null }, { code: 'notReached', values: {} }).verdict // 'undecided'
 */
export function lacking(record: StageRecord, reason: Reason): { readonly verdict: Verdict; readonly reason: Reason } {
  return record.endedAt === null ? { verdict: 'undecided', reason: { code: 'unfinished', values: {} } } : { verdict: 'void', reason };
}
