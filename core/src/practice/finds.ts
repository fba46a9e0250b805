import { procedureById, type Id } from '../procedure';
import { truthOf } from './hand';
import { isUnfindable } from './unfindable';

/** The seeded faults of a procedure, by what a rule set can do about them. */
export interface Finds {
  /** What its gauges, clocks and counts show, whoever stands there. */
  readonly found: readonly Id[];
  /** What only somebody who looks, listens or soaps can say. */
  readonly said: readonly Id[];
  /** What it does not look for: another rule set, or another procedure, does. */
  readonly missed: readonly Id[];
}

/**
 * Which of a procedure's seeded faults a rule set finds and which it cannot. It is what the rigs are held to: every one of them is carried out with it in the tests.
 * @returns null for a procedure that has no practice bench, as an officer's own has none
 * @example findsOf('cyl.water-jacket', 'maker')?.found.includes('thin wall') // true
 * @example findsOf('brakes.applied-loss', 'single')?.missed // ['second circuit chamber']
 */
export function findsOf(procedure: Id, ruleSet: Id): Finds | null {
  if (!procedureById(procedure)?.ruleSets.some((r) => r.id === ruleSet)) return null;
  const faults = Object.entries(truthOf(procedure, ruleSet)).filter(([fault]) => fault !== 'none');
  if (faults.length === 0) return null;
  const of = (wanted: (fault: Id, verdict: string) => boolean): readonly Id[] => faults.flatMap(([fault, verdict]) => (wanted(fault, verdict) ? [fault] : []));
  return {
    found: of((fault, verdict) => verdict !== 'pass' && !isUnfindable(procedure, ruleSet, fault)),
    said: of((fault, verdict) => verdict !== 'pass' && isUnfindable(procedure, ruleSet, fault)),
    // Where the sound item itself fails, the one that passes is what this school calls sound.
    missed: of((_, verdict) => verdict === 'pass' && truthOf(procedure, ruleSet)['none'] === 'pass'),
  };
}
