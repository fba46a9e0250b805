import { describe, expect, it } from 'vitest';
import { judge } from '../../src';
import { practiceRun, rigFor } from '../../src/practice';
import { sized } from '../testing/turn';

/** A tight item, whose gauge is read with other noise each time: what the chance of a reading brings must not become a doubt about the item. */
const tight = [
  ['suit.inflation', 'in-h2o-4'],
  ['ba.facepiece', 'mbar-10'],
  ['tank.ibc', 'un'],
  ['tank.vapour-2', 'balance'],
  ['tank.vapour-10', 'in-use'],
] as const;
const RUNS = sized(30, 10);

describe('the noise of a gauge', () => {
  it.each(tight)(`does not make a tight item doubtful: %s by %s, ${String(RUNS)} times`, (procedure, ruleSet) => {
    const verdicts = Array.from({ length: RUNS }, (_, i) => {
      const run = practiceRun(procedure, ruleSet, rigFor(procedure) ?? '', 'none', { seed: 1000 + i * 7919 });
      return judge(run.plan, run.state).verdict;
    });
    expect(verdicts).toEqual(verdicts.map(() => 'pass'));
  });
});
