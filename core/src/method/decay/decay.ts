import { findingOf, type Confidence, type Finding } from '../verdict/finding';
import { figureOf, keeps, strict, type Channel, type DecayMethod, type Plan, type ResolvedLimit, type Verdict, type Reason } from '../../procedure';
import { decimal, decimalIn, roundHalfUp, significant, type Decimal, type Quantity } from '../../quantity';
import { CAN_ERR } from '../../uncertainty';
import { isReason, usableInstrument, type Attempted } from '../evidence/attempted';
import { advice, whatWouldTell } from './advice';
import { allowance, arithmetic, figures, limitIn, measures, pressureUnit, uLoss, type Figures, type Shown } from './figures';
import { correctedFigures, driftTooLarge, inOtherTerms, stillSettling } from './gas';
import { endReading, holdReadings, holdTimes, judgedChannels, startUnmet, type HoldReadings, type HoldTimes } from './hold';
import { decide, type Decision } from '../verdict/decide';
import { expectedEnd } from './expectedEnd';
import { readingAt, readingsBetween, readingsOn, repeatabilityOf, valueIn } from '../evidence/readings';
import type { Reading } from '../evidence/reading';
import type { StageRecord, ChannelInstrument } from '../evidence/record';
import { markAt, START } from '../evidence/steps';
import type { Task } from '../evidence/task';
import { condemned } from '../verdict/value';

/** The edition of this method. It changes when the same readings could be judged otherwise. */
export const DECAY_EDITION = 'decay/3';

type At = Attempted<DecayMethod>;

export const decayHold = ({ plan, stage, method, record }: At): HoldTimes | null => holdTimes(plan, stage, method, record);

/**
 * @example decayTask(exampleOf('suit.inflation', 'inflate').at).kind // 'end'
 */
export function decayTask(at: At): Task {
  const { plan, stage, method, record } = at;
  const times = holdTimes(plan, stage, method, record);
  if (!times)
    return {
      kind: 'start',
      low: figureOf(plan, method.start.low),
      high: figureOf(plan, method.start.high),
      on: judgedChannels(plan, stage, method),
      unmet: (when) => startUnmet(at, when),
    };
  const read = method.channels.every((c) => endReading(record, c, times.until) !== undefined);
  return read ? { kind: 'end' } : { kind: 'hold', since: times.clockAt, until: times.until };
}

/** A fit may call a hold hopeless at this chance, and only when half of it is over: before that it may be settling still. */
const HOPELESS = 0.001;

/** A broken-off hold is a fail only when it could no longer have passed, whatever the gauge's error; anything else was no test. */
function brokenOff(c: ChannelHold, decision: Decision): { verdict: Verdict; reasons: readonly Reason[] } {
  const lost = decision.verdict === 'fail' && decision.conforms <= 0.05;
  if (lost) return { verdict: 'fail', reasons: [{ code: 'endedHopeless', values: {} }] };
  const { startAt, until } = c.hold.times;
  const half = c.hold.end.at - startAt >= (until - startAt) / 2;
  const expected = half ? expectedEnd(c.plan, c.stage, c.method, c.record, c.channel, c.instrument) : null;
  return expected && expected.chance < HOPELESS
    ? {
        verdict: 'fail',
        reasons: [{ code: 'endedHopeless', values: { expected: { value: Number(expected.prediction.value.toPrecision(6)), unit: expected.unit } } }],
      }
    : { verdict: 'void', reasons: [{ code: 'holdShort', values: {} }] };
}

/** The window of a step that is a leak when it is not reached, in an attempt that was ended before it was. */
function neverReached({ plan, stage, record }: At): { readonly channel: Channel; readonly reason: Reason } | null {
  const open = stage.steps.find((s) => markAt(record, s.id) === undefined);
  if (record.endedAt === null || open?.kind !== 'reach' || !open.orFails) return null;
  const low = figureOf(plan, open.low);
  const best = readingsOn(record, open.channel)
    .map((r) => decimalIn(r, low.unit).toNumber())
    .reduce((most, value) => Math.max(most, value), Number.NEGATIVE_INFINITY);
  if (!Number.isFinite(best)) return null; // nobody looked: that is no test
  return { channel: open.channel, reason: { code: 'neverReached', values: { best: { value: best, unit: low.unit }, low } } };
}

/** A late reading can only have lost more, so a pass stands; a fail is tried again at the rate that was seen. */
function readLate(limit: ResolvedLimit, f: Figures, shown: Shown, hold: HoldReadings, verdict: Verdict): { verdict: Verdict; reasons: readonly Reason[] } {
  const late: Reason = { code: 'readLate', values: { late: { value: (hold.end.at - hold.times.until) / 1000, unit: 's' } } };
  if (verdict !== 'fail' || limit.of === 'lossPerMinute') return { verdict, reasons: [late] };
  // Multiplied before it is divided: a third of a minute has no last digit, and what was exactly the limit stays exactly the limit.
  const { clockAt, until } = hold.times;
  const inTime = f.loss.times(until - clockAt).div(hold.end.at - clockAt);
  return { verdict: keeps(inTime, limit.op === '<' || limit.op === '>' ? '<' : '<=', shown.permitted) ? 'undecided' : 'fail', reasons: [late] };
}

function warnings(plan: Plan, method: DecayMethod, record: StageRecord, hold: HoldReadings, channel: Channel): Reason[] {
  const found: Reason[] = [];
  const inHold = (at: number): boolean => at >= hold.times.startAt && at <= hold.end.at;
  for (const d of record.disturbances) if (inHold(d.at)) found.push({ code: 'disturbed', values: { note: d.note } });
  if (method.top !== undefined) {
    const top = figureOf(plan, method.top);
    const highest = readingsOn(record, channel).find((r) => decimalIn(r, top.unit).gt(top.value));
    if (highest) found.push({ code: 'overTop', values: { value: { value: highest.value, unit: highest.unit }, top } });
  }
  return found;
}

function outOfRange(instrument: ChannelInstrument, ...readings: Reading[]): Reading | undefined {
  return readings.find((r) => decimalIn(r, instrument.low.unit).lt(instrument.low.value) || decimalIn(r, instrument.high.unit).gt(instrument.high.value));
}

/** One channel's hold, with all that a limit is judged by. */
interface ChannelHold extends At {
  readonly channel: Channel;
  readonly instrument: ChannelInstrument;
  readonly hold: HoldReadings;
}

type Judged = Pick<Finding, 'verdict' | 'reasons'> & Partial<Finding>;

/** An eye rests on a needle for so long before it says where it stands. Common practice. */
const LOOKED_AT_MS = 5000;

/** Where a needle stood when it was read: what streams, about its mean over the look. One that trembles on a mark is at neither of its neighbours. */
function lookedAt({ plan, record, channel }: ChannelHold, read: Reading): Reading {
  if (read.typed || !strict(plan)) return read;
  const values = readingsBetween(record, channel, read.at - LOOKED_AT_MS, read.at).filter((r) => !r.typed).map((r) => valueIn(r, read.unit)); // prettier-ignore
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
  return { ...read, value: Number(mean.toPrecision(12)) };
}

/** The figures that a limit is judged by: those of the hold, of the first drop before it, or with measured drift taken off. */
function figuresFor(c: ChannelHold, limit: ResolvedLimit): Figures | Reason {
  const { plan, method, record, channel, instrument, hold } = c;
  const scale = pressureUnit(plan, method, limit);
  // Where readings were seen to scatter in the hold, that scatter is in both of its ends.
  const scatter = strict(plan) ? repeatabilityOf(readingsBetween(record, channel, hold.times.startAt, hold.end.at), scale) : 0;
  if (limit.of === 'firstDrop') {
    const before = method.firstDropAfter === undefined ? undefined : readingAt(record, channel, markAt(record, method.firstDropAfter) ?? 0);
    return before ? figures(scale, hold, before, hold.start, instrument, record, scatter) : { code: 'noReading', values: { channel } };
  }
  if (limit.of === 'graduations') return figures(scale, hold, lookedAt(c, hold.start), lookedAt(c, hold.end), instrument, record, scatter);
  const plain = figures(scale, hold, hold.start, hold.end, instrument, record, scatter);
  if (!limit.corrected) return plain;
  return correctedFigures(c, c.instruments, hold, plain) ?? { code: 'noReading', values: { channel: method.gas?.temperature ?? 'temperature' } };
}

/** What a hold that did not go as it should means for the verdict. */
function asHeld(c: ChannelHold, limit: ResolvedLimit, f: Figures, shown: Shown, decision: Decision): { verdict: Verdict; reasons: readonly Reason[] } {
  const { hold, record } = c;
  const { verdict } = decision;
  if (limit.of === 'firstDrop' || !(hold.early || hold.late)) return { verdict, reasons: [] };
  if (hold.late) return readLate(limit, f, shown, hold, verdict);
  return record.endedAt === null ? { verdict: 'undecided', reasons: [{ code: 'unfinished', values: {} }] } : brokenOff(c, decision);
}

/** The share of the permitted loss that was used, of the figures as the rule rounds them: what passes has not used more than all of it. */
function usedAsRounded(limit: ResolvedLimit, f: Figures, observed: Decimal, compared: Decimal): Decimal | undefined {
  if (limit.of !== 'end') return compared.gt(0) ? observed.div(compared) : undefined;
  const start = limit.round ? roundHalfUp(decimalIn({ value: f.start.toNumber(), unit: f.unit }, limit.round.unit), limit.round.decimals) : f.start;
  const permitted = start.minus(compared);
  return permitted.gt(0) ? start.minus(observed).div(permitted) : undefined;
}

/** What a hold shows against one limit. */
function judgeLimit(c: ChannelHold, limit: ResolvedLimit): Judged {
  const { plan, method, record, channel, instrument, hold } = c;
  const f = figuresFor(c, limit);
  if ('code' in f) return { verdict: 'void', reasons: [f], limit };
  const against = limitIn(limit, f);
  const shown = measures[limit.of]?.(f, against);
  if (!shown) return { verdict: 'void', reasons: [{ code: 'notValid', values: {} }], limit };
  const unit = limit.round?.unit ?? shown.unit;
  const observed = limit.round
    ? roundHalfUp(decimalIn({ value: shown.observed.toNumber(), unit: shown.unit }, limit.round.unit), limit.round.decimals)
    : significant(shown.observed);
  const compared = limit.round ? decimalIn(limit.resolved, limit.round.unit) : against;
  const decision = decide(
    { observed, limit: compared, op: limit.op, u: shown.u, bestMargin: shown.bestMargin, fitted: instrument.fitted },
    plan.ruleSet.decision,
  );
  const held = asHeld(c, limit, f, shown, decision);
  let verdict = held.verdict;
  const reasons: Reason[] = [
    arithmetic(limit, f, shown),
    ...decision.reasons.map((r) => (r.code === 'tooCoarse' ? { ...r, values: { u: { value: shown.u, unit } } } : r)),
    ...whatWouldTell(decision, f, shown, observed.minus(compared).abs().toNumber()),
    ...held.reasons,
  ];
  if (limit.of !== 'firstDrop') {
    if (f.loss.toNumber() < -CAN_ERR * uLoss(f)) {
      reasons.push({ code: 'rose', values: { rise: { value: f.loss.neg().toNumber(), unit: f.unit } } });
      if (verdict === 'pass') verdict = 'undecided';
    }
    const drift = driftTooLarge(c, c.instruments, hold, f, shown);
    if (drift && !limit.corrected && verdict !== 'void') {
      reasons.push(drift);
      verdict = 'undecided';
    }
    reasons.push(...inOtherTerms(c, hold, f, shown), ...stillSettling(c, channel, hold, f, shown), ...advice(instrument, f, shown));
  }
  if (!instrument.fitted && instrument.correlation === 0) reasons.push({ code: 'noCorrelation', values: {} });
  reasons.push(...warnings(plan, method, record, hold, channel), ...condemned(limit, verdict));
  const confidence: Confidence = { conforms: decision.conforms, u: { value: shown.u, unit: shown.unit }, correlation: instrument.correlation };
  return {
    verdict,
    reasons,
    observed: { value: observed.toNumber(), unit },
    limit,
    allowancePercent: allowance(limit, f, shown, strict(plan) && limit.round ? usedAsRounded(limit, f, observed, compared) : undefined),
    confidence,
    evidence: [hold.start.event, hold.end.event],
  };
}

/**
 * Judges a decay: a pressure is held and what it lost is set against each limit of the stage.
 *
 * The loss is the start reading less the first reading at or after the end of the hold; a minute that was not waited out is no result. The
 * first drop (last reading before a step, less the start reading) is kept apart from it. A rise beyond the uncertainty is never tight.
 *
 * Source: EN 13184 (pressure change method) for the principle; decision and uncertainty: JCGM 106, JCGM 100; all from memory.
 * @returns one finding for each limit and channel it is put on, and one that only records each channel without a limit
 * @example with 4.00 inH2O at the start, 3.35 after 4 min and `end ≥ 3.2`: pass, 81 % of the allowance
 */
export function judgeDecay(at: At): readonly Finding[] {
  const { plan, stage, method, record } = at;
  const finding = (verdict: Verdict, channel: Channel | null, reasons: readonly Reason[], evidence: readonly string[] = []): Finding =>
    findingOf(at, DECAY_EDITION, channel, verdict, reasons, evidence);

  const startAt = markAt(record, START);
  if (startAt !== undefined) {
    const unmet = startUnmet(at, startAt);
    if (unmet) return [finding('void', null, [unmet])];
  }

  const never = neverReached(at);
  if (never) return [finding('fail', never.channel, [never.reason])];

  return method.channels.flatMap((channel): Finding[] => {
    const hold = holdReadings(plan, stage, method, record, channel);
    if ('code' in hold) return [finding(hold.code === 'unfinished' ? 'undecided' : 'void', channel, [hold])];
    const instrument = usableInstrument(at, channel);
    if (isReason(instrument)) return [finding('void', channel, [instrument])];
    const wild = outOfRange(instrument, hold.start, hold.end);
    if (wild) return [finding('void', channel, [{ code: 'outOfRange', values: { value: { value: wild.value, unit: wild.unit } } }])];

    const evidence = [hold.start.event, hold.end.event];
    const limits = plan.limits.filter((l) => l.stage === stage.id && (l.channel ?? channel) === channel);
    if (limits.length === 0) {
      const q = (r: Reading): Quantity => ({ value: r.value, unit: r.unit });
      const loss = { value: decimal(hold.start.value).minus(decimalIn(hold.end, hold.start.unit)).toNumber(), unit: hold.start.unit };
      return [finding('pass', channel, [{ code: 'recorded', values: { start: q(hold.start), end: q(hold.end), loss } }], evidence)];
    }
    return limits.map((limit): Finding => {
      const judged = judgeLimit({ ...at, channel, instrument, hold }, limit);
      return { ...finding(judged.verdict, channel, judged.reasons), ...judged };
    });
  });
}
