import { describe, expect, it } from 'vitest';
import { practiceRun, rigFor, truthOf, type Benches } from '../../src/practice';
import { procedureById } from '../../src/procedure';
import { findingInWords, judge } from '../../src/run';
import { digestOf } from '../testing/digest';
import { inTurn } from '../testing/turn';

/**
 * Every rule set of a procedure, carried out on its rig with every fault that it can meet, must come to the rig's hidden truth: what is sound passes, every
 * seeded fault is found, and what says nothing of the item is void. What is found, and what the hand did to find it, is held to the last digit by the golden
 * list in `__snapshots__`: a move of code must not change it, and whoever means to change it says why in the commit that does.
 */
export function carriedOut(...benches: readonly Benches[]): void {
  describe.each(benches.flatMap((b) => Object.keys(b)))('%s on its rig', (id) => {
    const procedure = procedureById(id);
    const rig = rigFor(id) ?? '';
    it('is in the catalogue, with a rig', () => {
      expect(procedure).toBeDefined();
      expect(rig).not.toBe('');
    });
    const cases = (procedure?.ruleSets ?? []).flatMap((r) => Object.entries(truthOf(id, r.id)).map(([fault, truth]) => [r.id, fault, truth] as const));
    it.each([...inTurn(cases, 3)])('%s, %s: %s', { timeout: 60_000 }, (ruleSet, fault, truth) => {
      const { plan, state, events } = practiceRun(id, ruleSet, rig, fault);
      const { verdict, findings } = judge(plan, state);
      expect(verdict, findings.filter((f) => f.verdict !== 'pass').map((f) => `${f.stage}: ${f.verdict}, ${findingInWords(f)}`).join('\n')).toBe(truth); // prettier-ignore
      expect(findings.every((f) => f.engine !== '' && f.reasons.length > 0)).toBe(true);
      expect({ verdict, findings: digestOf(findings), events: digestOf(events) }).toMatchSnapshot();
    });
  });
}
