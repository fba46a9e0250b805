import { describe, expect, it } from 'vitest';
import { practiceRun, rigFor, truthOf } from '../../src/practice';
import { catalogue } from '../../src/procedure';
import { findingInWords, judge } from '../../src/run';

/**
 * Every rule set by typed readings alone: a person who reads each gauge where it is asked for comes from the start to the seal, and a sound item neither fails nor
 * is void by it. What a needle went through between two looks may stay undecided.
 */
describe('read by eye and typed, with no instrument that sends', () => {
  // A lift pops in half a second: what it opened and shut at is typed after it, which no hand that reads once a step does (core/test/method/checks.test.ts types it).
  const cases = catalogue
    .filter((p) => p.id !== 'valve.relief')
    .flatMap((p) => p.ruleSets.filter((r) => truthOf(p.id, r.id)['none'] === 'pass').map((r) => [p.id, r.id] as const));
  it.each(cases)('%s, %s', (id, ruleSet) => {
    const { plan, state } = practiceRun(id, ruleSet, rigFor(id) ?? '', 'none', { readings: 'typed' });
    expect(state.sealed).toBe(true);
    const { verdict, findings } = judge(plan, state);
    expect(['pass', 'undecided'], findings.filter((f) => f.verdict !== 'pass').map((f) => `${f.stage}: ${findingInWords(f)}`).join('\n')).toContain(verdict); // prettier-ignore
  });
});
