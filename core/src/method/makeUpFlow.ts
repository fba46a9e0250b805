import { findingOf, lacking, type Finding } from './verdict/finding';
import { figureOf, keeps, strict, type MakeUpFlowMethod, type Reason } from '../procedure';
import { convert, decimal, decimalIn, significant, type Quantity } from '../quantity';
import { CAN_ERR } from '../uncertainty';
import { isReason, usableInstrument, type Attempted } from './evidence/attempted';
import { readingsBetween, readingsOn, repeatabilityOf, span, uReading, valueIn } from './evidence/readings';
import type { ChannelInstrument } from './evidence/record';
import { markAt, milliseconds, START, stepsUnmet, windowUnmet } from './evidence/steps';
import type { Task } from './evidence/task';
import { judgeValue, limitsOn } from './verdict/value';

/** The edition of this method. */
export const MAKE_UP_FLOW_EDITION = 'makeUpFlow/1';

type At = Attempted<MakeUpFlowMethod>;

function startUnmet(at: At, when: number): Reason | null {
  const { plan, method, record } = at;
  return stepsUnmet(at, when) ?? windowUnmet('startOutside', record, method.pressure, figureOf(plan, method.band.low), figureOf(plan, method.band.high), when);
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

/** What a needle that moves under a standing flow means, in the unit of the flow. */
interface Creep {
  /** The part of the leak that the item itself makes up for by giving way. */
  readonly hides: number;
  /** What the flow is too much by, at most, where the needle rises. */
  readonly spare: number;
  /** Standard uncertainty of that part. */
  readonly u: number;
  /** The needle sank, and nothing says how much that hides. */
  readonly unbounded: boolean;
  readonly said: readonly Reason[];
}

const still: Creep = { hides: 0, spare: 0, u: 0, unbounded: false, said: [] };

/** A needle moves where it went further than this many times what its readings can err by. */
const MOVES = CAN_ERR;

/**
 * How fast the needle moved while the flow stood, times how much the item gives way: a part of the leak that no flow meter sees. The rate is that of the line
 * through the readings; a needle that seems to stand can have moved by a step of its gauge.
 */
function creepOf(at: At, gauge: ChannelInstrument, since: number, until: number, unit: string): Creep {
  const { plan, method, record } = at;
  const readings = readingsBetween(record, method.pressure, since, until);
  const before = readingsOn(record, method.pressure).lastUpTo(since);
  const used = [...(before && readings.length < 2 ? [before] : []), ...readings];
  const [first, last] = [used[0], used.at(-1)];
  if (!first || !last || last.at <= first.at) return still;
  const minutes = (last.at - first.at) / 60_000;
  const step = Math.max(span(gauge.resolution, 'Pa') / Math.sqrt(12), repeatabilityOf(readings, 'Pa'));
  // Under suction a needle sinks towards nothing: how far it stands from there is what counts.
  const side = first.value < 0 ? -1 : 1;
  const rate = side * slope(used.map((r) => [(r.at - first.at) / 60_000, valueIn(r, 'Pa')]));
  // Where the trace shows more than two values, the line through all of them is better known than its ends.
  const values = new Set(used.map((r) => r.value)).size;
  const uRate = (step * (values > 2 ? Math.sqrt(12 / used.length) : Math.SQRT2)) / minutes;
  const moves = Math.abs(rate) > MOVES * uRate;
  const shown = (worth: Quantity | string): readonly Reason[] =>
    moves ? [{ code: 'creeps', values: { rate: convert({ value: Number(rate.toPrecision(4)), unit: 'Pa' }, first.unit), worth } }] : [];
  if (method.compliance === undefined) return { ...still, unbounded: moves && rate < 0, said: shown('nobody knows how much') };
  // m³/Pa × Pa/min: m³/min.
  const gives = decimalIn(figureOf(plan, method.compliance), 'm3/Pa').toNumber();
  const flowOf = (perMinute: number): number => convert({ value: (gives * perMinute) / 60, unit: 'm3/s' }, unit).value;
  const worth = Math.abs(flowOf(rate));
  return {
    hides: rate < 0 ? worth : 0,
    spare: rate > 0 ? worth : 0,
    u: flowOf(uRate),
    unbounded: false,
    said: shown({ value: Number(worth.toPrecision(4)), unit }),
  };
}

/** The slope of the line through points, by least squares. */
function slope(points: readonly (readonly [number, number])[]): number {
  const n = points.length;
  const [x, y] = [points.reduce((s, p) => s + p[0], 0) / n, points.reduce((s, p) => s + p[1], 0) / n];
  const across = points.reduce((s, p) => s + (p[0] - x) ** 2, 0);
  return across === 0 ? 0 : points.reduce((s, p) => s + (p[0] - x) * (p[1] - y), 0) / across;
}

/**
 * Judges a make-up flow: while the flow stands, the pressure keeps its band for the whole of the hold, so the flow is the leak at that pressure. It needs
 * no volume. A needle that creeps inside its band hides a part of it: rate × compliance is counted with the leak.
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
  const creep = strict(plan) ? creepOf(at, gauge, since, end.at, unit) : still;
  const spread = values.length > 1 ? Math.sqrt(values.reduce((a, v) => a + (v - mean) ** 2, 0) / (values.length - 1) / values.length) : 0;
  return limitsOn(plan, stage.id, method.flow).map((limit) => {
    const observed = significant(decimal(Number((mean + creep.hides).toPrecision(12))));
    const finding = judgeValue(at, MAKE_UP_FLOW_EDITION, method.flow, limit, {
      observed,
      unit,
      u: Math.hypot(uReading(instrument, unit), spread, creep.u),
      best: 0,
      fitted: instrument.fitted,
      correlation: instrument.correlation,
      reasons: [
        {
          code: 'flow',
          values: {
            observed: convert({ value: Number(mean.toPrecision(12)), unit }, limit.resolved.unit),
            limit: limit.resolved,
            pressure: { value: end.value, unit: end.unit },
            over: figureOf(plan, method.hold),
          },
        },
        ...creep.said,
      ],
      evidence: [...new Set([...during.map((r) => r.event), end.event])],
    });
    if (creep.unbounded && finding.verdict === 'pass') return { ...finding, verdict: 'undecided' };
    // A needle that rises has more flow than it needs: the leak is less than the flow, by as much as the item gives way.
    const less = decimalIn({ value: Math.max(0, mean - creep.spare), unit }, limit.resolved.unit);
    return creep.spare > 0 && finding.verdict === 'fail' && keeps(less, limit.op, decimal(limit.resolved.value))
      ? { ...finding, verdict: 'undecided' }
      : finding;
  });
}
