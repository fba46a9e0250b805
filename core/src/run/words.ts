import type { Finding, Reason, ReasonCode } from '../method';
import type { Plan } from '../procedure';
import { decimal, decimalsOf, roundHalfUp, showDecimal, showQuantity, unitLabel, type Decimal, type Quantity } from '../quantity';
import type { Refusal, RefusalCode } from './may';

type Values = Reason['values'];

const q = (values: Values, id: string): Quantity => {
  const v = values[id];
  return typeof v === 'object' ? v : { value: 0, unit: '1' };
};
const w = (values: Values, id: string): string => {
  const v = values[id];
  return typeof v === 'string' ? v : v ? showQuantity(v) : '';
};
const at = (values: Values, id: string): string => showDecimal(decimal(q(values, id).value), Number(w(values, 'decimals') || '2'));
const minutes = (v: Quantity): string => {
  const seconds = Math.round(v.value * 60);
  return seconds % 60 === 0 ? `${seconds / 60} min` : `${Math.floor(seconds / 60)} min ${seconds % 60} s`;
};
/** Readings taken in another unit than the limit's may not add up in the last digit shown; then it says so. */
const difference = (v: Values): string => {
  const places = Number(w(v, 'decimals') || '2');
  const shown = (id: string): Decimal => roundHalfUp(decimal(q(v, id).value), places);
  const exact = shown('start').minus(shown('end')).eq(shown('loss'));
  return `${at(v, 'start')} − ${at(v, 'end')} ${exact ? '=' : '≈'} ${at(v, 'loss')}`;
};
const loss = (v: Values): string => `${difference(v)} ${unitLabel(q(v, 'loss').unit)} in ${minutes(q(v, 'over'))}; allowed ${at(v, 'allowed')}`;

/** Wording of every reason, apart from the codes, so that the codes can stay when the words are bettered. */
const reasonWords: Readonly<Record<ReasonCode, (v: Values) => string>> = {
  loss,
  end: (v) => `${loss(v)}: ${showQuantity(q(v, 'limit'))} must be left`,
  ratio: (v) => `${loss(v)}: ${showDecimal(decimal(q(v, 'observed').value), 1)} % of the start is left`,
  lossPerMinute: (v) => `${loss(v)}: ${showQuantity(q(v, 'observed'))} a minute`,
  firstDrop: (v) => `First drop ${difference(v)} ${unitLabel(q(v, 'loss').unit)}; allowed ${at(v, 'allowed')}`,
  recorded: (v) => `Recorded, not judged: ${showQuantity(q(v, 'start'))} to ${showQuantity(q(v, 'end'))}`,
  answeredAll: (v) => `All ${w(v, 'items')} looked at and in order`,
  answeredNo: (v) => (v['note'] ? `${w(v, 'note')}. Not in order: ${w(v, 'item')}` : `Not in order: ${w(v, 'item')}`),
  unanswered: (v) => `Not looked at: ${w(v, 'item')}`,
  unfinished: (v) => (v['item'] ? `Still to do: ${w(v, 'item')}` : 'Not finished'),
  stepSkipped: (v) => `A step was left out: ${w(v, 'step')}`,
  waitShort: (v) => `Waited ${w(v, 'waited')}, must be ${w(v, 'wanted')}`,
  notReached: (v) => `${w(v, 'value')} is outside ${w(v, 'low')} to ${w(v, 'high')}`,
  noReading: (v) => `No fresh reading of ${w(v, 'channel')}`,
  startOutside: (v) => `The start, ${w(v, 'value')}, is outside its window, ${w(v, 'low')} to ${w(v, 'high')}`,
  holdShort: () => 'The hold was not waited out: no result',
  endedHopeless: () => 'Broken off when it could no longer pass',
  readLate: (v) => `The end was read ${showDecimal(decimal(q(v, 'late').value), 0)} s late`,
  calibrationOut: () => 'The instrument was out of calibration: no valid test',
  outOfRange: (v) => `${w(v, 'value')} is outside the instrument’s range`,
  clockGap: (v) => `The clock stood still for ${w(v, 'lost')} during the hold, and readings were typed: no valid test`,
  rose: (v) => `It rose by ${w(v, 'rise')}, more than the gauge can err: something warmed`,
  tooCoarse: (v) =>
    `This gauge could not show a pass even at no loss (u = ${showDecimal(decimal(q(v, 'u').value), 3)} ${unitLabel(q(v, 'u').unit)}): use a finer one`,
  closeCall: () => 'A close call: the reading is within the gauge’s error of the limit',
  insideGuard: () => 'Too close to the limit to tell under the guarded rule',
  noCorrelation: () => 'Nothing is known of how this gauge’s errors go together; they are taken as independent',
  overTop: (v) => `${w(v, 'value')} was over the top, ${w(v, 'top')}: look the item over`,
  disturbed: (v) => `Disturbed during the hold: ${w(v, 'note')}`,
  driftEqual: (v) => `A drift of ${showDecimal(decimal(q(v, 'drift').value), 2)} K in the gas would alone equal the limit; no temperature was given`,
  rigLeaks: () => 'The test kit itself leaks: nothing is said of the item',
  notValid: () => 'Without this the test does not count',
};

/** One reason in words. */
export function reasonInWords(reason: Reason): string {
  return reasonWords[reason.code](reason.values);
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

/** The confidence beside a verdict, as people say it. */
export function confidenceInWords(finding: Finding): string | null {
  const c = finding.confidence;
  if (!c) return null;
  const percent = c.conforms > 0.995 ? 'over 99' : c.conforms < 0.005 ? 'under 1' : String(Math.round(c.conforms * 100));
  return `${percent} % sure that it keeps the limit (u = ${showDecimal(decimal(c.u.value), Math.max(2, decimalsOf(Number(c.u.value.toPrecision(2)))))} ${unitLabel(c.u.unit)}, correlation ${c.correlation})`;
}

const refusalWords: Readonly<Record<RefusalCode, string>> = {
  'run.notOpen': 'The run has not been opened.',
  'run.alreadyOpen': 'The run is open already.',
  'run.closed': 'The run is closed; only a note can be added.',
  'run.digestDiffers': 'The procedure is not the one the run was opened with.',
  'run.ruleSetDiffers': 'The rule set is not the one the run was opened with.',
  'run.instrumentMissing': 'No instrument stands for {channel}.',
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
  'item.notOptional': 'This applies to every item: {item}.',
  'item.reasonMissing': 'Say why it does not apply: {item}.',
  'channel.unknown': 'There is no channel {channel}.',
  'reading.unitWrong': 'A reading in {unit} is not what this instrument shows.',
  'reading.outOfRange': '{value} is outside what {instrument} can show.',
  'samples.malformed': 'The samples cannot be read.',
  'withdraw.unknown': 'There is nothing of that name to withdraw.',
  'withdraw.notStatement': 'Only what a person said can be withdrawn.',
  'withdraw.judged': 'That stage has been judged; begin a new attempt.',
  'seal.unfinished': 'Not finished: {next} is still to do.',
  'seal.aftercare': '{stage}: every line must be done before the item is released.',
};

/** A refusal in words. */
export function refusalInWords(refusal: Refusal): string {
  const why = refusal.values['why'];
  const said = why !== undefined && why in reasonWords ? reasonWords[why as ReasonCode](refusal.values) : '';
  return refusalWords[refusal.code].replace(/\{(\w+)\}/g, (_, name: string) => (name === 'said' ? said : (refusal.values[name] ?? '')));
}

export const refusalCodes: readonly RefusalCode[] = Object.keys(refusalWords) as RefusalCode[];

/** The findings that a person wants to see first: measured ones, then what went wrong. */
export function headline(plan: Plan, findings: readonly Finding[]): Finding | undefined {
  const test = new Set(plan.stages.filter((s) => s.phase === 'test').map((s) => s.id));
  const rank = (f: Finding): number => ({ void: 0, fail: 1, undecided: 2, pass: 3 })[f.verdict];
  const measured = findings.filter((f) => test.has(f.stage) && f.observed !== null);
  const pool = findings.some((f) => f.verdict !== 'pass') ? findings : measured;
  return [...pool].sort((a, b) => rank(a) - rank(b) || (b.allowancePercent ?? 0) - (a.allowancePercent ?? 0))[0];
}
