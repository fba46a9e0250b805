import { findingOf, type Finding } from './finding';
import { ONE_SIDED_95 } from '../../uncertainty';
import { strict, type Channel, type Comparison, type Id, type Plan, type ResolvedLimit, type Words, type Reason } from '../../procedure';
import { convert, decimalIn, roundHalfUp, significant, type Decimal } from '../../quantity';
import { type Attempted } from '../evidence/attempted';
import { decide } from './decide';

/** A value that a method has found, ready to be set against a limit. */
export interface Shown {
  readonly observed: Decimal;
  readonly unit: string;
  /** Standard uncertainty, in `unit`. */
  readonly u: number;
  /** What a flawless item would read; null where the instrument is not asked whether it could prove a pass. */
  readonly best: number | null;
  readonly fitted: boolean;
  readonly correlation: number;
  readonly reasons: readonly Reason[];
  readonly evidence: readonly Id[];
}

const upper = (op: Comparison): boolean => op === '<' || op === '<=';

/** The other limit of a band: on the same measure and channel, of the other direction. */
function otherEnd(plan: Plan, limit: ResolvedLimit): ResolvedLimit | undefined {
  return plan.limits.find((l) => l.stage === limit.stage && l.of === limit.of && l.channel === limit.channel && upper(l.op) !== upper(limit.op));
}

/** A least pressure without a most: how full something is uses up no allowance. */
const isFloor = (plan: Plan, limit: ResolvedLimit): boolean => limit.of === 'pressure' && !upper(limit.op) && !otherEnd(plan, limit);

/**
 * Allowance used, in %: value ÷ limit for a maximum, limit ÷ value for a minimum, deviation ÷ half-width for a band.
 * @returns null where the limit leaves no allowance to speak of
 * @example ((r) => allowanceOf(r.plan, r.plan.limits.at(-1), decimal(1), r.plan.limits.at(-1).resolved.unit))(exampleOf('suit.inflation', 'inflate')) // 320
 */
export function allowanceOf(plan: Plan, limit: ResolvedLimit, observed: Decimal, unit: string): number | null {
  const end = decimalIn(limit.resolved, unit);
  const other = otherEnd(plan, limit);
  const share = ((): Decimal | null => {
    if (other) {
      const far = decimalIn(other.resolved, unit);
      const half = end.minus(far).abs().div(2);
      return half.eq(0) ? null : observed.minus(end.plus(far).div(2)).abs().div(half);
    }
    if (upper(limit.op)) return end.lte(0) ? null : observed.div(end);
    return observed.lte(0) || end.lte(0) ? null : end.div(observed);
  })();
  return share && Math.max(0, roundHalfUp(share.times(100), 0).toNumber());
}

/**
 * Sets a value against a limit under the rule set's decision rule. Rounding comes first where the rule rounds; figures are compared as decimals in the
 * limit's unit.
 * @example ((r) => judgeValue(r.at, 'decay', 'suit', r.plan.limits.at(-1), { observed: decimal(0.1), unit: 'mbar', u: 0.01, best: null, fitted: false, correlation: 0, reasons: [], evidence: [] }).verdict)(exampleOf('suit.inflation', 'inflate')) // 'fail'
 */
export function judgeValue(at: Attempted, engine: Words, channel: Channel | null, limit: ResolvedLimit, shown: Shown): Finding {
  const { plan } = at;
  const unit = limit.round?.unit ?? limit.resolved.unit;
  const span = (v: number): number => (unit === shown.unit ? v : convert({ value: v, unit: shown.unit }, unit).value);
  const raw = decimalIn({ value: significant(shown.observed).toNumber(), unit: shown.unit }, unit);
  const observed = limit.round ? roundHalfUp(raw, limit.round.decimals) : significant(raw);
  const compared = decimalIn(limit.resolved, unit);
  const other = otherEnd(plan, limit);
  const halfBand = other && compared.minus(decimalIn(other.resolved, unit)).abs().div(2).toNumber();
  const margin = shown.best === null ? Number.POSITIVE_INFINITY : Math.abs(compared.toNumber() - span(shown.best));
  const decision = decide(
    { observed, limit: compared, op: limit.op, u: span(shown.u), bestMargin: halfBand ?? margin, fitted: shown.fitted },
    plan.ruleSet.decision,
  );
  // What decides nothing by itself need not be able to: a coarse dial is as good as it has to be.
  const informs = limit.sends !== undefined && decision.reasons.some((r) => r.code === 'tooCoarse');
  const verdict = informs ? 'pass' : decision.verdict;
  const reasons = decision.reasons.map((r): Reason =>
    r.code === 'tooCoarse' ? { ...r, values: { u: { value: span(shown.u), unit }, finest: { value: (halfBand ?? margin) / ONE_SIDED_95, unit } } } : r,
  );
  return {
    ...findingOf(at, engine, channel, verdict, [...shown.reasons, ...reasons, ...condemned(limit, verdict)], shown.evidence),
    observed: { value: observed.toNumber(), unit },
    limit,
    allowancePercent: strict(plan) && isFloor(plan, limit) ? null : allowanceOf(plan, limit, observed, unit),
    confidence: { conforms: decision.conforms, u: { value: span(shown.u), unit }, correlation: shown.correlation },
  };
}

/**
 * Beyond a limit that condemns, the item never returns.
 * @example condemned({ ...exampleOf('suit.inflation', 'inflate').plan.limits[0], condemns: true }, 'fail').map((r) => r.code) // ['condemned']
 */
export function condemned(limit: ResolvedLimit, verdict: Finding['verdict']): readonly Reason[] {
  return limit.condemns && verdict === 'fail' ? [{ code: 'condemned', values: {} }] : [];
}

/**
 * The limits of a stage that are put on a channel, or on no channel in particular.
 * @example limitsOn(exampleOf('suit.inflation', 'inflate').plan, 'inflate', 'suit').map((l) => l.of) // ['end']
 */
export function limitsOn(plan: Plan, stage: Id, channel: Channel | null): readonly ResolvedLimit[] {
  return plan.limits.filter((l) => l.stage === stage && (l.channel === undefined || l.channel === channel));
}
