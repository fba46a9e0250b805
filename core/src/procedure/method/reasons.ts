import type { Quantity } from '../../quantity';
import type { Words } from '../term';

/** Nothing besides the code itself. */
export type Bare = Readonly<Record<string, never>>;

export interface Window {
  readonly value: Quantity;
  readonly low: Quantity;
  readonly high: Quantity;
}

/** What any method, and whoever judges a run, can give for a reason: the values of each, by its code. */
export interface CommonReasons {
  unfinished: { readonly item?: Words; readonly channel?: Words };
  unanswered: { readonly item: Words };
  stepSkipped: { readonly step: Words };
  waitShort: { readonly waited: Quantity; readonly wanted: Quantity };
  notReached: Window;
  /** It was never near nothing before it stood there. */
  heldBefore: { readonly stood: Quantity };
  /** It stood there sooner than the supply could have filled it. */
  filledTooFast: { readonly took: Quantity; readonly least: Quantity; readonly most: Quantity };
  startOutside: Window;
  noReading: { readonly channel: Words };
  holdShort: { readonly channel?: Words };
  endedHopeless: { readonly expected?: Quantity };
  calibrationOut: Bare;
  /** What the rule asks of the instrument itself. */
  scaleTooLong: { readonly high: Quantity; readonly most: Quantity };
  calibratedUnknown: { readonly most: Quantity };
  calibratedLongAgo: { readonly ago: Quantity; readonly most: Quantity };
  clockGap: { readonly lost: Quantity };
  rose: { readonly rise: Quantity };
  tooCoarse: { readonly u?: Quantity; readonly finest?: Quantity };
  closeCall: Bare;
  /** Beyond a limit that decides nothing by itself. */
  sendsOn: { readonly to: Words };
  /** It did not keep its limit, and another stage was there to decide. */
  leftTo: { readonly stage: Words };
  insideGuard: Bare;
  outOfOrder: { readonly step: Words };
  condemned: Bare;
  /** It would have condemned, and the rig did not hold or what was entered was wrong. */
  notConfirmed: { readonly item: Words };
  /** It never came, with supply and the set-up in order. */
  neverReached: { readonly best: Quantity; readonly low: Quantity };
  standsThere: Window;
  neverCame: { readonly event: Words; readonly best?: Quantity };
  /** It never came, and what was asked of the set-up was not in order, or was not answered. */
  setUpWrong: { readonly item: Words };
  /** A finding that failed was taken back: it is no pass. */
  takenBack: { readonly stage: Words };
  tooSoon: { readonly item: Words; readonly waited: Quantity; readonly wanted: Quantity };
  /** It left its window while it settled more often than it may be topped up. */
  keptLeaving: { readonly times: Words; readonly most: Words };
  leftWindow: Window;
  /** The set-up did not stand as this needs it. */
  standsWrong: { readonly step: Words; readonly wanted: Words };
  /** Done while the sun was up, where it has to be done by night. */
  byDay: { readonly stage: Words; readonly at: Words };
  neverStands: { readonly step: Words; readonly why: Words };
  /** Nobody saw when: it can have taken so long, and as long as that. */
  crossedBetween: { readonly shortest: Quantity; readonly longest: Quantity };
  offScale: { readonly value: Quantity };
  rigLeaks: Bare;
  notValid: { readonly item?: Words };
  /** How much the gas would have to cool or warm to move it as far as the limit. */
  driftEqual: { readonly drift: Quantity };
}
