import { makePlan, type Attributes, type PlanResult, type Procedure } from '../procedure';
import { dayAt } from '../schedule';
import type { Opened } from './event';

/**
 * The plan of a run, from what its opening event carries: the copies of its assets' attributes, and the day on which limits had to be in force.
 * @param procedure the edition that the event names
 * @example planOfRun(procedureById('suit.inflation'), exampleOf('suit.inflation', 'inflate').opened).ok // true
 */
export function planOfRun(procedure: Procedure, opened: Omit<Opened, 'kind'>): PlanResult {
  const assets: Record<string, Attributes> = Object.fromEntries(Object.entries(opened.assets).map(([role, a]) => [role, a.attributes]));
  return makePlan(procedure, opened.procedure, opened.ruleSet, assets, dayAt(opened.startedAt, opened.offset), opened.lists);
}
