import { findingOf, lacking, type Finding } from './verdict/finding';
import { figureOf, type MakeUpFlowMethod, type Reason } from '../procedure';
import { convert, decimal, decimalIn, significant } from '../quantity';
import { isReason, usableInstrument, type Attempted } from './evidence/attempted';
import { readingsBetween, readingsOn, uReading, valueIn } from './evidence/readings';
import { markAt, milliseconds, START, stepsUnmet, windowUnmet } from './evidence/steps';
import type { Task } from './evidence/task';
import { judgeValue, limitsOn } from './verdict/value';

/** The edition of this method. */
export const MAKE_UP_FLOW_EDITION = 'makeUpFlow/1';

type At = Attempted<MakeUpFlowMethod>;

function startUnmet(at: At, when: number): Reason | null {
  const { plan, stage, method, record } = at;
  return (
    stepsUnmet(plan, stage, record) ??
    windowUnmet('startOutside', record, method.pressure, figureOf(plan, method.band.low), figureOf(plan, method.band.high), when)
  );
}

/**
 * @example makeUpFlowTask(exampleOf('valve.vent', 'leak-plus').at).kind // 'end'
 */
export function makeUpFlowTask(at: At): Task {
  const { plan, method, record } = at;
  const since = markAt(record, START);
  if (since === undefined)
    return {
      kind: 'start',
      low: figureOf(plan, method.band.low),
      high: figureOf(plan, method.band.high),
      on: [method.pressure],
      unmet: (when) => startUnmet(at, when),
    };
  const until = since + milliseconds(figureOf(plan, method.hold));
  const read = [method.pressure, method.flow].every((c) => readingsOn(record, c).firstFrom(until) !== undefined);
  return read ? { kind: 'end' } : { kind: 'hold', since, until };
}

/**
 * Judges a make-up flow: while the flow stands, the pressure keeps its band for the whole of the hold, so the flow is the leak at that pressure. It needs
 * no volume, and no compliance hides anything.
 * Source: ISO 80601-2-13 for the human limit; the method is common practice. From memory.
 * @example 120 mL/min holds 30 cmH2O for 10 s, limit ≤ 150 mL/min: pass, 80 %
 */
export function judgeMakeUpFlow(at: At): readonly Finding[] {
  const { plan, stage, method, record } = at;
  const found = (verdict: Finding['verdict'], reason: Reason): readonly Finding[] => [findingOf(at, MAKE_UP_FLOW_EDITION, method.flow, verdict, [reason])];
  const since = markAt(record, START);
  if (since === undefined) {
    const { verdict, reason } = lacking(record, { code: 'holdShort', values: {} });
    return found(verdict, reason);
  }
  const gauge = usableInstrument(at, method.pressure);
  const instrument = usableInstrument(at, method.flow);
  if (isReason(gauge)) return found('void', gauge);
  if (isReason(instrument)) return found('void', instrument);
  const unmet = startUnmet(at, since);
  if (unmet) return found('void', unmet);
  const until = since + milliseconds(figureOf(plan, method.hold));
  const end = readingsOn(record, method.pressure).firstFrom(until);
  const lastFlow = readingsOn(record, method.flow).firstFrom(until);
  if (!end || !lastFlow) {
    const { verdict, reason } = lacking(record, { code: 'holdShort', values: {} });
    return found(verdict, reason);
  }
  const gap = end.typed ? record.gaps.find((g) => g.at > since && g.at <= end.at) : undefined;
  if (gap) return found('void', { code: 'clockGap', values: { lost: { value: gap.lostMs / 1000, unit: 's' } } });
  const low = figureOf(plan, method.band.low);
  const high = figureOf(plan, method.band.high);
  const left = readingsBetween(record, method.pressure, since, end.at).find(
    (r) => decimalIn(r, low.unit).lt(low.value) || decimalIn(r, high.unit).gt(high.value),
  );
  if (left) return found('void', { code: 'bandLeft', values: { value: { value: left.value, unit: left.unit }, low, high } });
  const unit = lastFlow.unit;
  // The reading that ended the hold is one of them, so there is always one.
  const during = readingsBetween(record, method.flow, since, lastFlow.at);
  const values = during.map((r) => valueIn(r, unit));
  const mean = values.reduce((a, b) => a + b, 0) / values.length;
  const spread = values.length > 1 ? Math.sqrt(values.reduce((a, v) => a + (v - mean) ** 2, 0) / (values.length - 1) / values.length) : 0;
  return limitsOn(plan, stage.id, method.flow).map((limit) => {
    const observed = significant(decimal(Number(mean.toPrecision(12))));
    return judgeValue(at, MAKE_UP_FLOW_EDITION, method.flow, limit, {
      observed,
      unit,
      u: Math.hypot(uReading(instrument, unit), spread),
      best: 0,
      fitted: instrument.fitted,
      correlation: instrument.correlation,
      reasons: [
        {
          code: 'flow',
          values: {
            observed: convert({ value: observed.toNumber(), unit }, limit.resolved.unit),
            limit: limit.resolved,
            pressure: { value: end.value, unit: end.unit },
            over: figureOf(plan, method.hold),
          },
        },
      ],
      evidence: [...new Set([...during.map((r) => r.event), end.event])],
    });
  });
}
