import { driftEqualToLoss } from '../physics';
import { figureOf, type Channel, type DecayMethod, type Plan, type ResolvedLimit, type Stage, type Verdict } from '../procedure';
import { decimal, decimalIn, roundHalfUp, significant, type Decimal, type Quantity } from '../quantity';
import { ONE_SIDED_95 } from '../uncertainty';
import { allowance, arithmetic, figures, limitIn, measures, pressureUnit, uLoss, type Figures, type Shown } from './decayFigures';
import { decide, keeps, type Decision } from './decide';
import { holdReadings, startUnmet, type HoldReadings } from './decayHold';
import type { ChannelInstrument, Confidence, Finding, Reading, Reason, StageRecord } from './record';
import { markAt, readingAt } from './steps';

/** The edition of this method. It changes when the same readings could be judged otherwise. */
export const DECAY_EDITION = 'decay/1';

type Instruments = Readonly<Record<Channel, ChannelInstrument | undefined>>;

/** A broken-off hold is a fail only when it could no longer have passed, whatever the gauge's error; anything else was no test. */
function brokenOff(decision: Decision): { verdict: Verdict; reasons: readonly Reason[] } {
  const hopeless = decision.verdict === 'fail' && decision.conforms <= 0.05;
  return hopeless ? { verdict: 'fail', reasons: [{ code: 'endedHopeless', values: {} }] } : { verdict: 'void', reasons: [{ code: 'holdShort', values: {} }] };
}

/** A late reading can only have lost more, so a pass stands; a fail is tried again at the rate that was seen. */
function readLate(limit: ResolvedLimit, f: Figures, shown: Shown, hold: HoldReadings, verdict: Verdict): { verdict: Verdict; reasons: readonly Reason[] } {
  const late: Reason = { code: 'readLate', values: { late: { value: (hold.end.at - hold.times.until) / 1000, unit: 's' } } };
  if (verdict !== 'fail' || limit.of === 'lossPerMinute') return { verdict, reasons: [late] };
  const wanted = decimal(hold.times.until - hold.times.clockAt).div(60_000);
  const inTime = f.loss.times(wanted).div(f.minutes);
  return { verdict: keeps(inTime, limit.op === '<' || limit.op === '>' ? '<' : '<=', shown.permitted) ? 'undecided' : 'fail', reasons: [late] };
}

function warnings(plan: Plan, method: DecayMethod, record: StageRecord, hold: HoldReadings, channel: Channel): Reason[] {
  const found: Reason[] = [];
  const inHold = (at: number): boolean => at >= hold.times.startAt && at <= hold.end.at;
  for (const d of record.disturbances) if (inHold(d.at)) found.push({ code: 'disturbed', values: { note: d.note } });
  if (method.top !== undefined) {
    const top = figureOf(plan, method.top);
    const highest = (record.readings[channel] ?? []).find((r) => decimalIn(r, top.unit).gt(top.value));
    if (highest) found.push({ code: 'overTop', values: { value: { value: highest.value, unit: highest.unit }, top } });
  }
  return found;
}

function outOfRange(instrument: ChannelInstrument, ...readings: Reading[]): Reading | undefined {
  return readings.find((r) => decimalIn(r, instrument.low.unit).lt(instrument.low.value) || decimalIn(r, instrument.high.unit).gt(instrument.high.value));
}

/** One channel's hold, with all that a limit is judged by. */
interface ChannelHold {
  readonly plan: Plan;
  readonly method: DecayMethod;
  readonly record: StageRecord;
  readonly channel: Channel;
  readonly instrument: ChannelInstrument;
  readonly hold: HoldReadings;
}

/** What a hold shows against one limit. */
function judgeLimit(
  { plan, method, record, channel, instrument, hold }: ChannelHold,
  limit: ResolvedLimit,
): Pick<Finding, 'verdict' | 'reasons'> & Partial<Finding> {
  const before =
    limit.of === 'firstDrop' && method.firstDropAfter !== undefined ? readingAt(record, channel, markAt(record, method.firstDropAfter) ?? 0) : undefined;
  if (limit.of === 'firstDrop' && !before) return { verdict: 'void', reasons: [{ code: 'noReading', values: { channel } }], limit };
  const scale = pressureUnit(plan, method, limit);
  const f = before ? figures(scale, hold, before, hold.start, instrument, record) : figures(scale, hold, hold.start, hold.end, instrument, record);
  const against = limitIn(limit, f);
  const shown = measures[limit.of](f, against);
  const observed = limit.round
    ? roundHalfUp(decimalIn({ value: shown.observed.toNumber(), unit: shown.unit }, limit.round.unit), limit.round.decimals)
    : significant(shown.observed);
  const compared = limit.round ? decimalIn(limit.resolved, limit.round.unit) : against;
  const decision = decide(
    { observed, limit: compared, op: limit.op, u: shown.u, bestMargin: shown.bestMargin, fitted: instrument.fitted },
    plan.ruleSet.decision,
  );
  const unit = limit.round?.unit ?? shown.unit;

  let verdict = decision.verdict;
  const reasons: Reason[] = [
    arithmetic(limit, f, shown),
    ...decision.reasons.map((r) => (r.code === 'tooCoarse' ? { ...r, values: { u: { value: shown.u, unit } } } : r)),
  ];
  if (hold.early && limit.of !== 'firstDrop') {
    const broken = record.endedAt === null ? { verdict: 'undecided' as const, reasons: [{ code: 'unfinished' as const, values: {} }] } : brokenOff(decision);
    verdict = broken.verdict;
    reasons.push(...broken.reasons);
  } else if (hold.late && limit.of !== 'firstDrop') {
    const late = readLate(limit, f, shown, hold, verdict);
    verdict = late.verdict;
    reasons.push(...late.reasons);
  }
  if (limit.of !== 'firstDrop' && f.loss.toNumber() < -ONE_SIDED_95 * uLoss(f)) {
    reasons.push({ code: 'rose', values: { rise: { value: f.loss.neg().toNumber(), unit: f.unit } } });
    if (verdict === 'pass') verdict = 'undecided';
  }
  if (!instrument.fitted && instrument.correlation === 0) reasons.push({ code: 'noCorrelation', values: {} });
  if (method.gas && limit.of !== 'firstDrop' && shown.permitted.gt(0)) {
    const pascal = (value: Decimal): number => decimalIn({ value: value.toNumber(), unit: f.unit }, 'Pa').toNumber();
    reasons.push({ code: 'driftEqual', values: { drift: { value: driftEqualToLoss(pascal(f.start), pascal(shown.permitted)), unit: 'K' } } });
  }
  reasons.push(...warnings(plan, method, record, hold, channel));
  const confidence: Confidence = { conforms: decision.conforms, u: { value: shown.u, unit: shown.unit }, correlation: instrument.correlation };
  return {
    verdict,
    reasons,
    observed: { value: observed.toNumber(), unit },
    limit,
    allowancePercent: allowance(f, shown),
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
 * @param record one attempt at the stage
 * @param instruments by channel
 * @returns one finding for each limit and channel it is put on, and one that only records each channel without a limit
 * @example with 4.00 inH2O at the start, 3.35 after 4 min and `end ≥ 3.2`: pass, 81 % of the allowance
 */
export function judgeDecay(plan: Plan, stage: Stage, method: DecayMethod, record: StageRecord, instruments: Instruments): readonly Finding[] {
  const finding = (verdict: Verdict, channel: Channel | null, reasons: readonly Reason[], rest: Partial<Finding> = {}): Finding => ({
    stage: stage.id,
    role: stage.role,
    channel,
    attempt: record.attempt,
    engine: DECAY_EDITION,
    verdict,
    observed: null,
    limit: null,
    allowancePercent: null,
    confidence: null,
    reasons,
    evidence: [],
    ...rest,
  });

  const startAt = markAt(record, 'start');
  if (startAt !== undefined) {
    const unmet = startUnmet(plan, stage, method, record, startAt);
    if (unmet) return [finding('void', null, [unmet])];
  }

  return method.channels.flatMap((channel): Finding[] => {
    const instrument = instruments[channel];
    const hold = holdReadings(plan, stage, method, record, channel);
    if ('code' in hold) return [finding(hold.code === 'unfinished' ? 'undecided' : 'void', channel, [hold])];
    if (!instrument) return [finding('void', channel, [{ code: 'noReading', values: { channel } }])];
    if (!instrument.fitted && !instrument.inCalibration) return [finding('void', channel, [{ code: 'calibrationOut', values: {} }])];
    const wild = outOfRange(instrument, hold.start, hold.end);
    if (wild) return [finding('void', channel, [{ code: 'outOfRange', values: { value: { value: wild.value, unit: wild.unit } } }])];

    const evidence = [hold.start.event, hold.end.event];
    const limits = plan.limits.filter((l) => l.stage === stage.id && (l.channel ?? channel) === channel);
    if (limits.length === 0) {
      const q = (r: Reading): Quantity => ({ value: r.value, unit: r.unit });
      const loss = { value: decimal(hold.start.value).minus(decimalIn(hold.end, hold.start.unit)).toNumber(), unit: hold.start.unit };
      return [finding('pass', channel, [{ code: 'recorded', values: { start: q(hold.start), end: q(hold.end), loss } }], { evidence })];
    }
    return limits.map((limit): Finding => {
      const { verdict, reasons, ...rest } = judgeLimit({ plan, method, record, channel, instrument, hold }, limit);
      return finding(verdict, channel, reasons, rest);
    });
  });
}
