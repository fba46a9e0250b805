import type { Finding, Reason, ReasonCode } from '../method';
import type { Grade, Limit, Measure, Plan, ResolvedLimit } from '../procedure';
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
  if (q(v, 'start').value < 0) return `${at(v, 'start')} to ${at(v, 'end')} = ${at(v, 'loss')}`;
  const exact = shown('start').minus(shown('end')).eq(shown('loss'));
  return `${at(v, 'start')} − ${at(v, 'end')} ${exact ? '=' : '≈'} ${at(v, 'loss')}`;
};
const loss = (v: Values): string => `${difference(v)} ${unitLabel(q(v, 'loss').unit)} in ${minutes(q(v, 'over'))}; allowed ${at(v, 'allowed')}`;

/** A computed figure, to the digits that can mean something. */
const digits = (v: Values, id: string): string =>
  typeof v[id] === 'string'
    ? v[id]
    : decimal(Number(q(v, id).value.toPrecision(5)))
        .toFixed()
        .replace('-', '−');
const sign = (op: string): string => ({ '<=': '≤', '>=': '≥' })[op] ?? op;
const gradeWords: Readonly<Record<Grade, string>> = {
  none: 'nothing',
  fewAtFirst: 'a few bubbles at first',
  stream: 'a steady stream',
  grows: 'a stream that grows with the pressure',
};
/** How hard a place bubbles, as people say it. */
export function gradeInWords(grade: Grade): string {
  return gradeWords[grade];
}

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
  neverReached: (v) => `${w(v, 'low')} was never reached, only ${w(v, 'best')}: it leaks faster than it fills`,
  noReading: (v) => `No fresh reading of ${w(v, 'channel')}`,
  startOutside: (v) => `The start, ${w(v, 'value')}, is outside its window, ${w(v, 'low')} to ${w(v, 'high')}`,
  holdShort: () => 'The hold was not waited out: no result',
  endedHopeless: (v) =>
    v['expected'] ? `Broken off when it could no longer pass: ${w(v, 'expected')} was to be expected at the end` : 'Broken off when it could no longer pass',
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
  change: loss,
  graduations: (v) => `${loss(v)}: ${showQuantity(q(v, 'observed'))} of a graduation moved, ${showQuantity(q(v, 'limit'))} is what the eye can see`,
  correctedLoss: (v) => `With the measured drift of temperature and barometer taken off, the loss is ${w(v, 'loss')}`,
  asFlow: (v) => `As a flow ${w(v, 'flow')} at ${w(v, 'state')}${w(v, 'bound') === 'lower' ? ', for rigid walls: a lower bound, because these give way' : ''}`,
  asHole: (v) => `As much as one round hole of ${w(v, 'diameter')} would leak`,
  costs: (v) =>
    [
      `${w(v, 'perDay')} a day`,
      ...(v['half'] ? [`half of it gone in ${w(v, 'half')}`] : []),
      ...(v['air'] ? [`${w(v, 'air')} of air in each hour, at 40 L/min`] : []),
    ].join('; '),
  stillSettling: (v) => `It was still settling (${w(v, 'drop')} on top of the leak): wait ${w(v, 'wait')} longer and hold again`,
  driftOnly: (v) =>
    `Temperature or barometer alone moved it by ${w(v, 'drift')}, more than the whole permitted loss: not to be told (corrected loss ${w(v, 'corrected')})`,
  longerHold: (v) =>
    typeof v['accuracy'] === 'string'
      ? `At the same rate a hold of ${w(v, 'hold')} could tell`
      : `A hold of ${w(v, 'hold')} at the same rate could tell, or a gauge good to ±${w(v, 'accuracy')}`,
  startOffScale: (v) => `The start stood at ${w(v, 'share')} of the gauge’s scale; between 25 and 90 % is better`,
  coarseStep: (v) => `The gauge’s step, ${w(v, 'step')}, is more than a tenth of the permitted loss, ${w(v, 'permitted')}`,
  halfLife: (v) => `From ${w(v, 'start')} to ${w(v, 'half')} in ${minutes(q(v, 'observed'))}; at least ${w(v, 'limit')}`,
  halfLifeOver: (v) => `Still above ${w(v, 'half')} after ${minutes(q(v, 'observed'))}; at least ${w(v, 'limit')}`,
  halfLifeFit: (v) =>
    `A fit gives a half-life of ${digits(v, 'value')} min (${digits(v, 'low')} to ${typeof v['high'] === 'string' ? 'endless' : digits(v, 'high')} min)`,
  flow: (v) => `${digits(v, 'observed')} ${unitLabel(q(v, 'observed').unit)} holds it at ${w(v, 'pressure')} for ${w(v, 'over')}; allowed ${w(v, 'limit')}`,
  bandLeft: (v) => `${w(v, 'value')} left the band, ${w(v, 'low')} to ${w(v, 'high')}: the flow did not hold it still`,
  event: (v) => `${w(v, 'event')}: at ${w(v, 'observed')}; must be ${sign(w(v, 'op'))} ${w(v, 'limit')}`,
  eventMissing: (v) => `It never came about: ${w(v, 'event')}`,
  eventOverdue: (v) => `${w(v, 'event')}: it had not come by ${w(v, 'value')}; must be ${sign(w(v, 'op'))} ${w(v, 'limit')}`,
  noted: (v) => `${w(v, 'event')}: at ${w(v, 'observed')}, recorded and not judged`,
  elapsed: (v) => `From ${w(v, 'from')} to ${w(v, 'to')} in ${digits(v, 'observed')} s; allowed ${w(v, 'limit')}`,
  notCrossed: (v) => `It was not seen to go from ${w(v, 'from')} to ${w(v, 'to')}`,
  engineSpeed: (v) => `Engine at ${w(v, 'speed')}`,
  expansion: (v) =>
    `Total ${digits(v, 'total')}, permanent ${digits(v, 'permanent')}, elastic ${digits(v, 'elastic')} ${unitLabel(q(v, 'total').unit)}: ${digits(v, 'percent')} % stays; limit ${w(v, 'limit')}${
      v['compression'] ? ` (${digits(v, 'read')} forced in, of which the water itself gave ${digits(v, 'compression')})` : ''
    }`,
  notZeroed: (v) => `The water scale stands at ${w(v, 'value')}, not at zero`,
  outOfTable: (v) => `Water at ${w(v, 'value')} is outside the table of its compressibility, 6 to 26 °C`,
  noExpansion: (v) => `${w(v, 'value')} is less than the water itself gives way: not to be told`,
  lift: (v) =>
    `Lift ${w(v, 'lift')}: opened at ${digits(v, 'crack')}, shut at ${digits(v, 'reseat')} ${unitLabel(q(v, 'crack').unit)}, blowdown ${digits(v, 'blowdown')} %; must be ${sign(w(v, 'op'))} ${digits(v, 'limit')} ${unitLabel(q(v, 'limit').unit)}`,
  liftMissing: (v) => `Lift ${w(v, 'lift')} was not made`,
  liftNotFound: (v) => `In lift ${w(v, 'lift')} no opening can be found`,
  reseatMissing: (v) => `In lift ${w(v, 'lift')} the valve was not seen to shut`,
  noisyTrace: (v) => `A noisy trace: ${w(v, 'noise')}`,
  fastRamp: (v) => `Lift ${w(v, 'lift')} was raised faster than 3 % of the set pressure a second`,
  chatter: (v) => `It opened ${w(v, 'times')} times: chatter`,
  spread: (v) => `${w(v, 'lifts')} lifts lie ${w(v, 'observed')} apart; allowed ${digits(v, 'limit')} ${unitLabel(q(v, 'limit').unit)}`,
  bubbles: (v) => `${w(v, 'spot')}: ${(gradeWords as Readonly<Record<string, string>>)[w(v, 'grade')] ?? ''}`,
  dry: (v) => `All ${w(v, 'places')} places soaped, no leak`,
  outOfOrder: (v) => `Out of its turn: ${w(v, 'step')}`,
  stroke: (v) => `${w(v, 'axle')}: ${w(v, 'observed')}; must be ${sign(w(v, 'op'))} ${w(v, 'limit')}`,
  strokeDifference: (v) => `${w(v, 'axle')}: left ${w(v, 'left')}, right ${w(v, 'right')}, ${w(v, 'observed')} apart; allowed ${w(v, 'limit')}`,
  condemned: () => 'Condemned: it never returns to service',
  rigLeaks: () => 'The test kit itself leaks: nothing is said of the item',
  notValid: () => 'Without this the test does not count',
};

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

/** A limit in words, for example `loss at most 3 psi`. */
export function limitInWords(limit: ResolvedLimit): string {
  return `${measureWords[limit.of]} ${opWords[limit.op]} ${showQuantity({ ...limit.resolved, value: Number(limit.resolved.value.toPrecision(6)) })}`;
}

/** Every code that has its wording. */
export const reasonCodes: readonly ReasonCode[] = Object.keys(reasonWords) as ReasonCode[];

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
  'run.serverOnly': 'Only the server says what it found of a run.',
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
  'spot.notNext': '{spot} is not the next place of the route.',
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
