import { describe, expect, it } from 'vitest';
import { catalogue } from '../../src';
import { chanceOf, isUnfindable, lie, practiceOf, rigFor, truthOf, unfindable, type Lie } from '../../src/practice';
import { inTurn } from '../testing/turn';

/** Rigs that are quick to simulate; the others are lied to by `npm run lies`. */
const quick = ['ba.user-check', 'ba.soap-survey', 'ba.high-pressure', 'ba.facepiece', 'suit.inflation', 'drysuit.survey', 'anaes.machine', 'anaes.circle', 'anaes.t-piece', 'anaes.mapleson-a', 'anaes.coaxial-d', 'cyl.visual', 'valve.vent'] as const; // prettier-ignore

/** Every rule set with every fault that it must find. */
const faulty = catalogue
  .filter((p) => (quick as readonly string[]).includes(p.id))
  .flatMap((p) =>
    p.ruleSets.flatMap((r) =>
      Object.entries(truthOf(p.id, r.id))
        .filter(([, verdict]) => verdict !== 'pass')
        .map(([fault]) => ({ procedure: p.id, ruleSet: r.id, fault })),
    ),
  );
const told = ({ procedure, ruleSet, fault }: (typeof faulty)[number], typed: boolean): Lie =>
  lie(practiceOf(procedure, ruleSet, rigFor(procedure) ?? '', fault, { seed: 6 }), chanceOf(1), { mischievous: 0, lazy: 0, typed });

describe('somebody who says yes to everything, at the earliest moment', () => {
  it.each([...inTurn(faulty, 6)])('never passes $procedure, $ruleSet with $fault, but where no gauge could tell', (one) => {
    if (isUnfindable(one.procedure, one.ruleSet, one.fault)) return;
    const { result } = told(one, false);
    expect(result.verdict).not.toBe('pass');
    expect(result.blocks || result.holds || result.verdict === 'void').toBe(true);
    expect(told(one, true).result.verdict).not.toBe('pass');
  });
  it('hides nothing that is not on the list, and the list names nothing that is not there', () => {
    for (const { procedure, faults } of unfindable)
      for (const fault of faults)
        expect(
          catalogue.find((p) => p.id === procedure)?.ruleSets.some((r) => truthOf(procedure, r.id)[fault] !== undefined),
          `${procedure}: ${fault}`,
        ).toBe(true);
  });
});
