import { describe, expect, it } from 'vitest';
import { brakes, suit } from '../testing/practiceRuns';
import { judge } from '../../src/run';

// The expected verdict comes from the rig's seeded fault, never from the judge.
describe('a practised hand on a rig', () => {
  const suitCases = ['in-h2o-4', 'mm-h2o-100', 'mbar-16.5', 'in-h2o-2'].flatMap((ruleSet) =>
    (
      [
        ['none', 'pass'],
        ['zip end', 'fail'],
        ['valve seat', 'fail'],
        ['kit joint', 'void'],
      ] as const
    ).map(([fault, verdict]) => ({ ruleSet, fault, verdict })),
  );
  it.each(suitCases)('suit, $ruleSet, $fault: $verdict', ({ ruleSet, fault, verdict }) => {
    const { plan, state } = suit(ruleSet, fault);
    const result = judge(plan, state);
    expect({ v: result.verdict, r: result.findings.map((f) => [f.stage, f.verdict, f.allowancePercent]) }).toMatchObject({ v: verdict });
  });

  const brakeCases = [
    ['single', 'none', 'pass'],
    ['single', 'tank drain', 'fail'],
    ['single', 'chamber diaphragm', 'fail'],
    ['single', 'second circuit chamber', 'pass'],
    ['combination', 'none', 'pass'],
    ['combination', 'chamber diaphragm', 'fail'],
    ['bus-a', 'none', 'pass'],
    ['bus-b', 'none', 'pass'],
    ['bus-b', 'chamber diaphragm', 'fail'],
    ['fire-apparatus', 'none', 'pass'],
    ['fire-apparatus', 'second circuit chamber', 'fail'],
    ['build-from-low', 'none', 'pass'],
    ['build-from-low', 'chamber diaphragm', 'fail'],
  ] as const;
  it.each(brakeCases)('brakes, %s, %s: %s', (ruleSet, fault, verdict) => {
    const { plan, state } = brakes(ruleSet, fault);
    const result = judge(plan, state);
    expect({
      v: result.verdict,
      r: result.findings.map((f) => [f.stage, f.channel, f.verdict, f.allowancePercent, f.reasons.map((x) => x.code).join()]),
    }).toMatchObject({ v: verdict });
  });
});
