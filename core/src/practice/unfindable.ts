import { procedureById, type Id } from '../procedure';

/** Faults of a procedure that only somebody's word can tell of, and why. */
export interface Unfindable {
  readonly procedure: Id;
  readonly faults: readonly string[];
  readonly why: string;
}

/**
 * Faults that no gauge of their procedure shows: they are found by somebody who looks, listens or soaps and says so, and a hand that answers yes to everything hides them. The list may only
 * shrink: what can be read off a gauge, timed or counted is not taken on somebody's word.
 */
export const unfindable: readonly Unfindable[] = [
  { procedure: 'ba.user-check', faults: ['outlet valve sticks', 'free flow'], why: 'felt and heard by who breathes from it' },
  { procedure: 'ba.user-check', faults: ['alarm lamp dead'], why: 'each signal is seen' },
  {
    procedure: 'ba.user-check',
    faults: ['alarm for 55 bar', 'alarm for a third', 'none'],
    why: 'read by eye, a dial of 10 bar steps shows the alarm of another school as near enough',
  },
  { procedure: 'ba.soap-survey', faults: ['line joint', 'reducer creeps'], why: 'bubbles are seen; the flow test and the high-pressure test measure' },
  { procedure: 'drysuit.survey', faults: ['pinhole', 'two seams', 'valve seat', 'nicked neck seal'], why: 'bubbles and nicks are seen' },
  { procedure: 'anaes.machine', faults: ['stiff vaporiser dial', 'gas escapes behind'], why: 'a dial is turned, a bobbin is watched' },
  { procedure: 'anaes.circle', faults: ['sticking disc'], why: 'the flutter of a disc is seen' },
  { procedure: 'anaes.mapleson-a', faults: ['inner limb loose'], why: 'the bag is felt while the inner limb is shut' },
  { procedure: 'anaes.coaxial-d', faults: ['inner limb loose'], why: 'the bobbin is watched' },
  {
    procedure: 'brakes.whole',
    faults: ['lamp dead, buzzer alive', 'one valve stays in', 'heads crossed'],
    why: 'each signal and each valve is seen, heads are looked at',
  },
  {
    procedure: 'brakes.whole',
    faults: ['late warning', 'parking valve sticks'],
    why: 'that it warns or pops is heard and seen; the gauge says only where',
  },
  { procedure: 'ba.user-check', faults: ['late alarm', 'whistle starves'], why: 'the alarm is heard; the gauge says only where' },
  { procedure: 'brakes.whole', faults: ['parking brake slips'], why: 'a tug is felt at the wheel' },
  { procedure: 'brakes.in-cab', faults: ['oil pressure fails', 'wheel play'], why: 'a look and a hand in the cab' },
  { procedure: 'tank.ibc-look', faults: ['relief valve stuck'], why: 'a look, between two tests under pressure' },
  { procedure: 'cyl.visual', faults: ['dent', 'heat mark', 'pitting inside', 'worn threads', 'past its life'], why: 'a look' },
  { procedure: 'cyl.water-jacket', faults: ['crack inside'], why: 'a look before the test' },
  { procedure: 'cyl.direct-expansion', faults: ['crack inside'], why: 'a look before the test' },
  { procedure: 'tank.ibc', faults: ['not gas-free'], why: 'said before the test, with another instrument' },
];

/**
 * Whether a fault of a procedure is one that no gauge of it shows under a rule set: one that goes by feel has no gauge, and its word says so.
 * @example isUnfindable('cyl.visual', 'general', 'dent') // true
 * @example isUnfindable('suit.inflation', 'mbar-16.5', 'zip end') // false
 * @example isUnfindable('anaes.mapleson-a', 'by-feel', 'hole in the bag') // true
 */
export const isUnfindable = (procedure: string, ruleSet: string, fault: string): boolean =>
  procedureById(procedure)?.ruleSets.some((r) => r.id === ruleSet && r.byFeel) === true ||
  unfindable.some((u) => u.procedure === procedure && u.faults.includes(fault));
