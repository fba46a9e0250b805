import { decimalIn, sameDimension } from '../quantity';
import type { Id, Procedure, RuleSet, Stage } from './language';
import { factsOf, MINUTES } from './method';

function clocked(ruleSet: RuleSet, id: Id): number {
  const value = ruleSet.parameters[id]?.value;
  if (value === undefined) return 0;
  // A time that only the item knows is not known before it is at hand.
  return 'unit' in value ? (sameDimension(value.unit, 'min') ? decimalIn(value, 'min').toNumber() : 0) : MINUTES.attribute;
}

function stageMinutes(stage: Stage, ruleSet: RuleSet): number {
  const steps = stage.steps.filter((s) => !ruleSet.skip.includes(s.id)).reduce((sum, s) => sum + (s.kind === 'wait' ? clocked(ruleSet, s.s) : MINUTES.step), 0);
  return steps + factsOf(stage.method).minutes(stage.method, (id) => clocked(ruleSet, id));
}

/**
 * How long a test usually takes at the bench, for planning: the clocks of its rule set, and a pair of hands for the rest. Common practice.
 * @returns minutes, in steps of five
 * @example usualMinutes(procedureById('suit.inflation'), 'mbar-16.5') // 40
 */
export function usualMinutes(procedure: Procedure, ruleSetId: Id): number {
  const ruleSet = procedure.ruleSets.find((r) => r.id === ruleSetId) ?? procedure.ruleSets[0];
  if (!ruleSet) return MINUTES.setOut;
  // What is done only where something fails is no part of a usual test.
  const all = procedure.stages
    .filter((s) => !ruleSet.skip.includes(s.id) && !s.seeks && s.decides === undefined)
    .reduce((sum, s) => sum + stageMinutes(s, ruleSet), 0);
  return Math.max(5, Math.ceil(all / 5) * 5);
}
