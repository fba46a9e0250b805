import type { Finding } from '../method';
import type { Limit, Measure, Plan, Reason, ReasonCode, ReasonValues, ResolvedLimit } from '../procedure';
import { decimal, decimalsOf, showDecimal, showQuantity, unitLabel } from '../quantity';
import type { Refusal, RefusalCode } from './may';
import { reasonWords } from './reasonWords';

/** What the wording has for a code; the values are those of the code, in a sealed record or a refusal's texts. */
const said = (code: ReasonCode, values: ReasonValues): string => (reasonWords[code] as (v: ReasonValues) => string)(values);

const measureWords: Readonly<Record<Measure, string>> = {
  loss: 'loss',
  lossPerMinute: 'loss a minute',
  end: 'left at the end',
  ratio: 'share left',
  change: 'change either way',
  firstDrop: 'first drop',
  graduations: 'graduations moved',
  time: 'time',
  flow: 'flow',
  pressure: 'pressure',
  count: 'count',
  percent: 'permanent share',
  elastic: 'elastic expansion',
  total: 'total expansion',
  deviation: 'off its certificate',
  permanent: 'permanent expansion',
  blowdown: 'blowdown',
  spread: 'spread of the lifts',
  grade: 'worst bubbling',
  stroke: 'stroke',
  difference: 'difference of the sides',
};

const opWords: Readonly<Record<Limit['op'], string>> = { '<': 'under', '<=': 'at most', '>': 'over', '>=': 'at least' };

/**
 * A limit in words, for example `loss at most 3 psi`.
 * @example limitInWords(exampleOf('suit.inflation', 'inflate').plan.limits.at(-1)) // 'left at the end at least 3.2 inH2O'
 */
export function limitInWords(limit: ResolvedLimit): string {
  return `${measureWords[limit.of]} ${opWords[limit.op]} ${showQuantity({ ...limit.resolved, value: Number(limit.resolved.value.toPrecision(6)) })}`;
}

/** Every code that has its wording. */
export const reasonCodes: readonly ReasonCode[] = Object.keys(reasonWords) as ReasonCode[];

/**
 * One reason in words.
 * @example reasonInWords({ code: 'calibrationOut', values: {} }) // 'The instrument was out of calibration: no valid test'
 */
export function reasonInWords(reason: Reason): string {
  return said(reason.code, reason.values);
}

/**
 * The arithmetic of a finding in one line.
 * @example '4.00 − 3.35 = 0.65 inH2O in 4 min; allowed 0.80: 3.2 inH2O must be left; 81 % of the allowance'
 */
export function findingInWords(finding: Finding): string {
  const first = finding.reasons[0];
  const said = first ? reasonInWords(first) : '';
  return finding.allowancePercent === null ? said : `${said}; ${finding.allowancePercent} % of the allowance`;
}

/**
 * The confidence beside a verdict, as people say it.
 * @example ((r) => confidenceInWords({ ...judge(r.plan, r.state).findings[0] }))(exampleOf('ba.soap-survey', 'soap')) // null
 */
export function confidenceInWords(finding: Finding): string | null {
  const c = finding.confidence;
  if (!c) return null;
  const percent = c.conforms > 0.995 ? 'over 99' : c.conforms < 0.005 ? 'under 1' : String(Math.round(c.conforms * 100));
  return `With all that its gauge may err: ${percent} % sure that it keeps the limit`;
}

/**
 * What the confidence was worked out from, for whoever checks it: the standard uncertainty of what is judged, and how much the errors of two readings go together.
 * @example ((r) => confidenceFrom({ ...judge(r.plan, r.state).findings[0] }))(exampleOf('ba.soap-survey', 'soap')) // null
 */
export function confidenceFrom(finding: Finding): string | null {
  const c = finding.confidence;
  if (!c) return null;
  const u = showDecimal(decimal(c.u.value), Math.max(2, decimalsOf(Number(c.u.value.toPrecision(2)))));
  return `standard uncertainty u = ${u} ${unitLabel(c.u.unit)}, correlation of the readings’ errors ${String(c.correlation)}`;
}

const refusalWords: Readonly<Record<RefusalCode, string>> = {
  'run.notOpen': 'The run has not been opened.',
  'run.alreadyOpen': 'The run is open already.',
  'run.closed': 'The run is closed; only a note can be added.',
  'run.serverOnly': 'Only the server says what it found of a run.',
  'run.digestDiffers': 'The procedure is not the one the run was opened with.',
  'run.ruleSetDiffers': 'The rule set is not the one the run was opened with.',
  'run.instrumentMissing': 'No instrument stands for {channel}.',
  'run.instrumentTwice': '{instrument} cannot stand for two gauges that are read at the same time.',
  'source.countWrong': 'Event {got} came where {wanted} was due.',
  'source.timeBack': 'The clock of this source went back.',
  'stage.unknown': 'There is no stage {stage}.',
  'stage.notNext': '{stage} is not what comes next.',
  'stage.failed': '{stage} has failed. After the repair, its retest is a run of its own.',
  'stage.notOpen': '{stage} is not under way.',
  'stage.reasonMissing': 'Say why it is done again.',
  'attempt.wrong': 'This would be attempt {wanted}.',
  'attempt.tooMany': 'No more than {most} attempts in one run.',
  'step.notNext': '{step} is not the next step.',
  'step.unmet': 'Not yet: {said}.',
  'hold.notOver': 'The hold is not over, or its end has not been read.',
  'check.unanswered': 'Something in {stage} has no answer yet.',
  'item.notHere': 'That is not asked here.',
  'spot.notNext': '{spot} is not the next place of the route.',
  'item.notOptional': 'This applies to every item: {item}.',
  'item.notWatched': 'There is nothing between yes and no here: {item}.',
  'item.reasonMissing': 'Say why: {item}.',
  'channel.unknown': 'There is no channel {channel}.',
  'reading.unitWrong': 'A reading in {unit} is not what this instrument shows.',
  'reading.outOfRange': '{value} is outside what {instrument} can show.',
  'reading.streams': 'An instrument reads {channel} in this run: nothing is typed beside it.',
  'samples.malformed': 'The samples cannot be read.',
  'picture.twice': 'This picture is in the run already.',
  'picture.tooMany': 'A run keeps at most {most} pictures.',
  'withdraw.unknown': 'There is nothing of that name to withdraw.',
  'withdraw.notStatement': 'Only what a person said can be withdrawn.',
  'withdraw.stoodOn': 'Something was done since that stands on it: take that back first.',
  'withdraw.judged': 'That stage has been judged; begin a new attempt.',
  'seal.unfinished': 'Not finished: {next} is still to do.',
  'seal.aftercare': '{stage}: every line must be done before the item is released.',
};

/**
 * A refusal in words.
 * @example refusalInWords({ code: 'run.closed', values: {} }) // 'The run is closed; only a note can be added.'
 */
export function refusalInWords(refusal: Refusal): string {
  const why = refusal.values['why'];
  const because = why !== undefined && why in reasonWords ? said(why as ReasonCode, refusal.values) : '';
  return refusalWords[refusal.code].replace(/\{(\w+)\}/g, (_, name: string) => (name === 'said' ? because : (refusal.values[name] ?? '')));
}

export const refusalCodes: readonly RefusalCode[] = Object.keys(refusalWords) as RefusalCode[];

/**
 * The findings that a person wants to see first: measured ones, then what went wrong.
 * @example ((r) => headline(r.plan, judge(r.plan, r.state).findings)?.stage)(exampleOf('suit.inflation', 'inflate')) // 'inflate'
 */
export function headline(plan: Plan, findings: readonly Finding[]): Finding | undefined {
  // Where it leaks comes after that it does.
  const seeking = new Set(plan.stages.filter((s) => s.seeks).map((s) => s.id));
  const test = new Set(plan.stages.filter((s) => s.phase === 'test' && !s.seeks).map((s) => s.id));
  const rank = (f: Finding): number => ({ void: 0, fail: 1, undecided: 2, pass: 3 })[f.verdict];
  const measured = findings.filter((f) => test.has(f.stage) && f.observed !== null);
  const pool = findings.some((f) => f.verdict !== 'pass') ? findings.filter((f) => !seeking.has(f.stage)) : measured;
  return [...pool].sort((a, b) => rank(a) - rank(b) || (b.allowancePercent ?? 0) - (a.allowancePercent ?? 0))[0];
}
