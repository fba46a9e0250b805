import type { Grade, HoldArithmetic, ReasonCode, Reasons, Words } from '../procedure';
import { decimal, roundHalfUp, showDecimal, showQuantity, unitLabel, type Decimal, type Quantity } from '../quantity';

/** A value of an old record may be lacking, where its method did not give it yet: it is said as nothing and breaks nothing. */
type Given = Quantity | Words | undefined;

const q = (v: Given): Quantity => (typeof v === 'object' ? v : { value: 0, unit: '1' });
const w = (v: Given): string => (typeof v === 'string' ? v : v ? showQuantity(v) : '');
/** Two decimals where an old record does not say how many. */
const given = (decimals: Words | undefined): Words => decimals ?? '2';
const at = (decimals: Words | undefined, v: Given): string => showDecimal(decimal(q(v).value), Number(given(decimals)));
const minutes = (v: Quantity): string => {
  const seconds = Math.round(v.value * 60);
  if (seconds % 60 === 0) return `${seconds / 60} min`;
  return seconds < 60 ? `${seconds} s` : `${Math.floor(seconds / 60)} min ${seconds % 60} s`;
};
/** Readings taken in another unit than the limit's may not add up in the last digit shown; then it says so. */
const difference = (v: HoldArithmetic): string => {
  const places = Number(given(v.decimals));
  const shown = (of: Given): Decimal => roundHalfUp(decimal(q(of).value), places);
  if (q(v.start).value < 0) return `${at(v.decimals, v.start)} to ${at(v.decimals, v.end)} = ${at(v.decimals, v.loss)}`;
  const exact = shown(v.start).minus(shown(v.end)).eq(shown(v.loss));
  return `${at(v.decimals, v.start)} − ${at(v.decimals, v.end)} ${exact ? '=' : '≈'} ${at(v.decimals, v.loss)}`;
};
/** What may be lost, to the gauge's decimals where they say it, else to two digits: 0.08 is no 0.1. */
const allowed = (v: HoldArithmetic): string => {
  const exact = decimal(q(v.allowed).value);
  const places = Number(given(v.decimals));
  const plain = roundHalfUp(exact, places).minus(exact).abs().lte(exact.abs().times(0.02));
  return plain ? at(v.decimals, v.allowed) : digitsOf(exact, 2);
};
const digitsOf = (v: Decimal, significant: number): string =>
  decimal(Number(v.toNumber().toPrecision(significant)))
    .toFixed()
    .replace('-', '−');
const loss = (v: HoldArithmetic): string => `${difference(v)} ${unitLabel(q(v.loss).unit)} in ${minutes(q(v.over))}; allowed ${allowed(v)}`;

/** A computed figure, to the digits that can mean something. */
const digits = (v: Given): string =>
  typeof v === 'string'
    ? v
    : decimal(Number(q(v).value.toPrecision(5)))
        .toFixed()
        .replace('-', '−');
/** The same with its unit. */
const figure = (v: Given): string => `${digits(v)} ${unitLabel(q(v).unit)}`;
const sign = (op: string): string => ({ '<=': '≤', '>=': '≥' })[op] ?? op;
const gradeWords: Readonly<Record<Grade, string>> = {
  none: 'nothing',
  fewAtFirst: 'a few bubbles at first',
  stream: 'a steady stream',
  grows: 'a stream that grows with the pressure',
};
/**
 * How hard a place bubbles, as people say it.
 * @example gradeInWords('none') // 'nothing'
 */
export function gradeInWords(grade: Grade): string {
  return gradeWords[grade];
}

/** Wording of every reason, apart from the codes, so that the codes can stay when the words are bettered. */
export const reasonWords: { readonly [C in ReasonCode]: (v: Reasons[C]) => string } = {
  loss,
  end: (v) => `${loss(v)}: ${figure(v.limit)} must be left`,
  ratio: (v) => `${loss(v)}: ${showDecimal(decimal(q(v.observed).value), 1)} % of the start is left`,
  lossPerMinute: (v) => `${loss(v)}: ${figure(v.observed)} a minute`,
  firstDrop: (v) => `First drop ${difference(v)} ${unitLabel(q(v.loss).unit)}; allowed ${allowed(v)}`,
  recorded: (v) => `Recorded, not judged: ${showQuantity(q(v.start))} to ${showQuantity(q(v.end))}`,
  answeredAll: (v) => `All ${w(v.items)} looked at and in order`,
  answeredNo: (v) => (v.note ? `${w(v.note)}. Not in order: ${w(v.item)}` : `Not in order: ${w(v.item)}`),
  unanswered: (v) => `Not looked at: ${w(v.item)}`,
  unfinished: (v) => (v.item ? `Still to do: ${w(v.item)}` : 'Not finished'),
  stepSkipped: (v) => `A step was left out: ${w(v.step)}`,
  waitShort: (v) => `Waited ${w(v.waited)}, must be ${w(v.wanted)}`,
  heldBefore: (v) => `It was never below ${w(v.stood)} since this began: join the item, let it down to nothing and fill it`,
  filledTooFast: (v) => `Filled in ${w(v.took)}: at ${w(v.most)} it takes ${w(v.least)} at least. Is it the item that fills, and nothing blanked off?`,
  notReached: (v) => `${w(v.value)} is outside ${w(v.low)} to ${w(v.high)}`,
  neverReached: (v) => `${w(v.low)} was never reached, only ${w(v.best)}: it leaks faster than it fills`,
  neverCame: (v) => `It never came: ${w(v.event)}${v.best ? `; the gauge stood at ${w(v.best)}` : ''}`,
  standsThere: (v) => `${w(v.value)} is within ${w(v.low)} to ${w(v.high)}: it has come`,
  notConfirmed: (v) => `It would condemn the item, and was not confirmed: ${w(v.item)}`,
  setUpWrong: (v) => `It never came, and that says nothing of the item before this is in order: ${w(v.item)}`,
  takenBack: (v) => `A finding that failed was taken back (${w(v.stage)}): this run releases nothing`,
  tooSoon: (v) => `${w(v.item)}: looked at for ${w(v.waited)}, it takes ${w(v.wanted)}`,
  keptLeaving: (v) => `It left its window ${w(v.times)} times while it settled; at most ${w(v.most)} top-ups`,
  leftWindow: (v) => `It stood at ${w(v.value)} while it had to stay within ${w(v.low)} to ${w(v.high)}`,
  standsWrong: (v) => `${w(v.step)}: it needs this first: ${w(v.wanted)}`,
  byDay: (v) => `${w(v.stage)}: it is day there at ${w(v.at)}; this is done between sunset and half an hour after sunrise`,
  neverStands: (v) => `${w(v.step)}: it stood as it never must. ${w(v.why)}`,
  crossedBetween: (v) => `Nobody saw when: it can have taken ${w(v.shortest)}, and it can have taken ${w(v.longest)}. Read it as the needle passes each figure`,
  offScale: (v) => `${w(v.value)} is off the scale of the gauge: it is no value`,
  shownOtherwise: (v) =>
    `${w(v.item)}: the gauge shows ${w(v.value)}, ${v.low && v.high ? `${w(v.low)} to ${w(v.high)}` : v.low ? `at least ${w(v.low)}` : `at most ${w(v.high)}`} is wanted`,
  gaugesDiffer: (v) => `${w(v.item)}: the gauges differ by ${w(v.difference)}, at most ${w(v.limit)} is wanted`,
  neverShown: (v) => `${w(v.item)}: this gauge never showed ${w(v.least)} in this run, so nothing on it says nothing`,
  byFeel: (v) => `By feel, without a gauge. It finds ${w(v.finds)}; it cannot find ${w(v.misses)}`,
  watched: (v) => `Passes, and is looked at again next time: ${w(v.item)}: ${w(v.note)}`,
  sendsOn: (v) => `Nothing is decided by it: ${w(v.to)}`,
  leftTo: (v) => `Decided by what comes after it: ${w(v.stage)}`,
  shownUncalibrated: (v) => `Shown by a gauge out of calibration, which measures nothing: ${w(v.items)}`,
  notMeasured: (v) => `Said, not measured, for want of a gauge: ${w(v.items)}`,
  scaleTooLong: (v) => `The rule asks for a gauge of no more than ${w(v.most)}: this one reads to ${w(v.high)}`,
  calibratedUnknown: (v) => `The rule asks for a calibration within ${w(v.most)}: nobody knows when this one was calibrated`,
  calibratedLongAgo: (v) => `The rule asks for a calibration within ${w(v.most)}: this one was calibrated ${w(v.ago)} ago`,
  notStill: (v) => `${w(v.event)}: the needle still moves, ${w(v.moved)} in the last ${w(v.over)}; ${w(v.within)} at most is standing`,
  stillUnread: (v) => `${w(v.event)}: read it over ${w(v.over)}, to see that it stands`,
  notApart: (v) => `${w(v.event)}: ${w(v.value)} cannot be ${w(v.wanted)} ${w(v.other)}, as it was read before. One of the two was read wrong`,
  noReading: (v) => `No fresh reading of ${w(v.channel)}`,
  startOutside: (v) => `The start, ${w(v.value)}, is outside its window, ${w(v.low)} to ${w(v.high)}`,
  holdShort: () => 'The hold was not waited out: no result',
  endedHopeless: (v) =>
    v.expected ? `Broken off when it could no longer pass: ${w(v.expected)} was to be expected at the end` : 'Broken off when it could no longer pass',
  readLate: (v) => `The end was read ${showDecimal(decimal(q(v.late).value), 0)} s late`,
  calibrationOut: () => 'The instrument was out of calibration: no valid test',
  outOfRange: (v) => `${w(v.value)} is outside the instrument’s range`,
  clockGap: (v) => `The clock stood still for ${w(v.lost)} during the hold, and readings were typed: no valid test`,
  rose: (v) => `It rose by ${figure(v.rise)}, more than the gauge can err: something warmed`,
  tooCoarse: (v) =>
    `This gauge could not show a pass even at no loss (u = ${showDecimal(decimal(q(v.u).value), 3)} ${unitLabel(q(v.u).unit)}): use a finer one`,
  closeCall: () => 'A close call: the reading is within the gauge’s error of the limit',
  insideGuard: () => 'Too close to the limit to tell under the guarded rule',
  noCorrelation: () => 'Nothing is known of how this gauge’s errors go together; they are taken as independent',
  overTop: (v) => `${w(v.value)} was over the top, ${w(v.top)}: look the item over`,
  disturbed: (v) => `Disturbed during the hold: ${w(v.note)}`,
  driftEqual: (v) => `A drift of ${showDecimal(decimal(q(v.drift).value), 2)} K in the gas would alone equal the limit; no temperature was given`,
  change: loss,
  graduations: (v) => `${loss(v)}: ${showQuantity(q(v.observed))} of a graduation moved, ${showQuantity(q(v.limit))} is what the eye can see`,
  correctedLoss: (v) => `With the measured drift of temperature and barometer taken off, the loss is ${w(v.loss)}`,
  asFlow: (v) => `As a flow ${w(v.flow)} at ${w(v.state)}${w(v.bound) === 'lower' ? ', for rigid walls: a lower bound, because these give way' : ''}`,
  asHole: (v) => `As much as one round hole of ${w(v.diameter)} would leak`,
  costs: (v) =>
    [`${w(v.perDay)} a day`, ...(v.half ? [`half of it gone in ${w(v.half)}`] : []), ...(v.air ? [`${w(v.air)} of air in each hour, at 40 L/min`] : [])].join(
      '; ',
    ),
  stillSettling: (v) => `It was still settling (${w(v.drop)} on top of the leak): wait ${w(v.wait)} longer and hold again`,
  driftOnly: (v) =>
    `Temperature or barometer alone moved it by ${w(v.drift)}, more than the whole permitted loss: not to be told (corrected loss ${w(v.corrected)})`,
  longerHold: (v) =>
    typeof v.accuracy === 'string'
      ? `At the same rate a hold of ${w(v.hold)} could tell`
      : `A hold of ${w(v.hold)} at the same rate could tell, or a gauge good to ±${w(v.accuracy)}`,
  startOffScale: (v) => `The start stood at ${w(v.share)} of the gauge’s scale; between 25 and 90 % is better`,
  coarseStep: (v) => `The gauge’s step, ${w(v.step)}, is more than a tenth of the permitted loss, ${w(v.permitted)}`,
  halfLife: (v) => `From ${w(v.start)} to ${w(v.half)} in ${minutes(q(v.observed))}; at least ${w(v.limit)}`,
  halfLifeOver: (v) => `Still above ${w(v.half)} after ${minutes(q(v.observed))}; at least ${w(v.limit)}`,
  halfLifeFit: (v) => `A fit gives a half-life of ${digits(v.value)} min (${digits(v.low)} to ${typeof v.high === 'string' ? 'endless' : digits(v.high)} min)`,
  flow: (v) => `${digits(v.observed)} ${unitLabel(q(v.observed).unit)} holds it at ${w(v.pressure)} for ${w(v.over)}; allowed ${w(v.limit)}`,
  creeps: (v) =>
    typeof v.worth === 'string'
      ? `The needle moved by ${w(v.rate)} a minute while the flow stood, and nothing says how much that hides: wait until it stands still`
      : `The needle moved by ${w(v.rate)} a minute while the flow stood: worth ${digits(v.worth)} ${unitLabel(q(v.worth).unit)}, counted with the leak`,
  bandLeft: (v) => `${w(v.value)} left the band, ${w(v.low)} to ${w(v.high)}: the flow did not hold it still`,
  event: (v) => `${w(v.event)}: at ${w(v.observed)}; must be ${sign(w(v.op))} ${w(v.limit)}`,
  notTurned: (v) => `${w(v.event)}: it has not turned yet, the furthest is ${w(v.value)}`,
  eventMissing: (v) => `It never came about: ${w(v.event)}`,
  eventOverdue: (v) => `${w(v.event)}: it had not come by ${w(v.value)}; must be ${sign(w(v.op))} ${w(v.limit)}`,
  noted: (v) => `${w(v.event)}: at ${w(v.observed)}, recorded and not judged`,
  elapsed: (v) => `From ${w(v.from)} to ${w(v.to)} in ${digits(v.observed)} s; allowed ${w(v.limit)}`,
  notCrossed: (v) => `It was not seen to go from ${w(v.from)} to ${w(v.to)}`,
  engineSpeed: (v) => `Engine at ${w(v.speed)}`,
  expansion: (v) =>
    `Total ${digits(v.total)}, permanent ${digits(v.permanent)}, elastic ${digits(v.elastic)} ${unitLabel(q(v.total).unit)}: ${digits(v.percent)} % stays; limit ${w(v.limit)}${
      v.compression ? ` (${digits(v.read)} forced in, of which the water itself gave ${digits(v.compression)})` : ''
    }${v.weighed ? `; ${w(v.weighed)} weighed` : ''}${v.working ? `; at working pressure ${w(v.working)}` : ''}`,
  notZeroed: (v) => `The water scale stands at ${w(v.value)}, not at zero`,
  outOfTable: (v) => `Water at ${w(v.value)} is outside the table of its compressibility, 6 to 26 °C`,
  notWater: (v) => `Water at ${w(v.value)}: what it weighs is no volume, 0 to 40 °C`,
  shrank: (v) => `${w(v.value)} stays: nothing shrinks under pressure. The rig lost water or settled; look it over and test again`,
  noExpansion: (v) => `${w(v.value)} is less than the water itself gives way: not to be told`,
  lift: (v) =>
    `Lift ${w(v.lift)}: opened at ${digits(v.crack)}, shut at ${digits(v.reseat)} ${unitLabel(q(v.crack).unit)}, blowdown ${digits(v.blowdown)} %; must be ${sign(w(v.op))} ${digits(v.limit)} ${unitLabel(q(v.limit).unit)}`,
  liftMissing: (v) => `Lift ${w(v.lift)} was not made`,
  liftNotFound: (v) => `In lift ${w(v.lift)} no opening can be found`,
  reseatAbove: (v) =>
    `In lift ${w(v.lift)} it cannot have shut at ${w(v.reseat)} after opening at ${w(v.crack)}: it shuts well below. Read where it opened, then where it shut`,
  reseatMissing: (v) => `In lift ${w(v.lift)} the valve was not seen to shut`,
  noisyTrace: (v) => `A noisy trace: ${w(v.noise)}`,
  fastRamp: (v) => `Lift ${w(v.lift)} was raised faster than 3 % of the set pressure a second`,
  chatter: (v) => `It opened ${w(v.times)} times: chatter`,
  spread: (v) => `${w(v.lifts)} lifts lie ${w(v.observed)} apart; allowed ${digits(v.limit)} ${unitLabel(q(v.limit).unit)}`,
  bubbles: (v) => `${w(v.spot)}: ${(gradeWords as Readonly<Record<string, string>>)[w(v.grade)] ?? ''}`,
  notFound: (v) => `Nothing bubbled in ${w(v.places)} places: it leaks all the same, and elsewhere`,
  dry: (v) => (w(v.places) === '1' ? 'The one place soaped, no leak' : `All ${w(v.places)} places soaped, no leak`),
  outOfOrder: (v) => `Out of its turn: ${w(v.step)}`,
  stroke: (v) => `${w(v.axle)}: ${w(v.observed)}; must be ${sign(w(v.op))} ${w(v.limit)}`,
  strokeDifference: (v) => `${w(v.axle)}: left ${w(v.left)}, right ${w(v.right)}, ${w(v.observed)} apart; allowed ${w(v.limit)}`,
  condemned: () => 'Condemned: it never returns to service',
  rigLeaks: () => 'The test kit itself leaks: nothing is said of the item',
  notValid: () => 'Without this the test does not count',
};
