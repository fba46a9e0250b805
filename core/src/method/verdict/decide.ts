import { keeps, type Comparison, type DecisionRule, type Verdict, type Reason } from '../../procedure';
import type { Decimal } from '../../quantity';
import { conformance, guarded, tooCoarse } from '../../uncertainty';

/** Everything a decision looks at, in the unit of the limit. */
export interface Measured {
  readonly observed: Decimal;
  readonly limit: Decimal;
  readonly op: Comparison;
  /** Standard uncertainty of the observed value. */
  readonly u: number;
  /** How far on the good side of the limit a flawless item would read. */
  readonly bestMargin: number;
  /** Fitted gauges are not asked whether they could prove a pass. */
  readonly fitted: boolean;
}

export interface Decision {
  readonly verdict: Verdict;
  readonly conforms: number;
  readonly reasons: readonly Reason[];
}

/** Below this probability a simple pass is flagged as a close call. */
const CLOSE = 0.95;

/**
 * How far a figure is on the good side of its limit; negative beyond it.
 * @example marginOf(decimal(1.2), '<=', decimal(3)) // 1.8
 */
export function marginOf(observed: Decimal, op: Comparison, limit: Decimal): number {
  const over = observed.minus(limit).toNumber();
  return op === '<' || op === '<=' ? -over : over;
}

/**
 * The decision rules. *Simple*: the figure against the limit; the confidence stands beside it and never turns it round. Only a test instrument
 * that could not show a pass even for a flawless item makes a simple pass `undecided`. *Guarded*: `undecided` inside the guard band.
 * @example decide({ observed: decimal(1.2), limit: decimal(3), op: '<=', u: 0.1, bestMargin: 3, fitted: false }, { kind: 'simple' }).verdict // 'pass'
 */
export function decide(m: Measured, rule: DecisionRule): Decision {
  const margin = marginOf(m.observed, m.op, m.limit);
  const conforms = conformance(margin, m.u);
  if (rule.kind === 'guarded') {
    const verdict = guarded(margin, m.u, rule.confidence);
    return { verdict, conforms, reasons: verdict === 'undecided' ? [{ code: 'insideGuard', values: {} }] : [] };
  }
  if (!keeps(m.observed, m.op, m.limit)) return { verdict: 'fail', conforms, reasons: [] };
  if (!m.fitted && tooCoarse(m.bestMargin, m.u)) return { verdict: 'undecided', conforms, reasons: [{ code: 'tooCoarse', values: {} }] };
  return { verdict: 'pass', conforms, reasons: conforms < CLOSE ? [{ code: 'closeCall', values: {} }] : [] };
}
