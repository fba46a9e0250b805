import { catalogue, type Id } from '../procedure';
import { rigFor, truthOf } from './hand';
import { chanceOf, lie, type Lie } from './liar';
import { practiceOf } from './practiceRun';
import { isUnfindable } from './unfindable';

/** A faulty item under a rule set that must find the fault by what is measured, timed or counted. */
export interface Faulty {
  readonly procedure: Id;
  readonly ruleSet: Id;
  readonly fault: string;
}

/**
 * Every faulty item of the catalogue's benches that a gauge can tell of.
 * @example faultyItems().some((f) => f.procedure === 'suit.inflation' && f.fault === 'zip end') // true
 * @example faultyItems().some((f) => f.fault === 'dent') // false
 */
export const faultyItems = (): readonly Faulty[] =>
  catalogue.flatMap((p) =>
    p.ruleSets.flatMap((r) =>
      Object.entries(truthOf(p.id, r.id))
        .filter(([fault, verdict]) => verdict !== 'pass' && !isUnfindable(p.id, r.id, fault))
        .map(([fault]) => ({ procedure: p.id, ruleSet: r.id, fault })),
    ),
  );

/** One walk of a liar with a faulty item. */
export interface Walk extends Lie {
  readonly item: Faulty;
  readonly typed: boolean;
  /** It passed, or was sealed so that the item stays usable. */
  readonly escaped: boolean;
}

/** How often a liar tries what nobody should. */
const MISCHIEVOUS = 0.12;

/**
 * A faulty item chosen by chance, carried through its test by a liar; an odd seed types what it reads.
 * @param seed the same seed is the same walk
 * @param lazy how often a step is said to be done and is not, 0 to 1
 * @example walkOf(7).escaped // false
 */
export function walkOf(seed: number, lazy = 0): Walk {
  const chance = chanceOf(seed);
  const all = faultyItems();
  const item = all[Math.floor(chance() * all.length)];
  if (!item) throw new RangeError('nothing is faulty');
  const typed = seed % 2 === 1;
  const lied = lie(practiceOf(item.procedure, item.ruleSet, rigFor(item.procedure) ?? '', item.fault, { seed: 5 + (seed % 1000) }), chance, {
    mischievous: MISCHIEVOUS,
    lazy,
    typed,
  });
  const { result, state } = lied;
  const usable = state.sealed && !result.blocks && !result.holds && result.verdict !== 'void';
  return { ...lied, item, typed, escaped: result.verdict === 'pass' || usable };
}
