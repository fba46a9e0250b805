import { attributesOf, makePlan, type Attributes, type PlanResult, type Procedure, type Role } from '../procedure';
import { dayAt } from '../schedule';
import type { AssetCopy, Opened } from './event';

/** What an item says of itself, without what it says that it carries and nobody has vouched for: where no last day of that was copied, it is asked about. */
function vouched(procedure: Procedure, role: Role, { attributes, carries = [] }: AssetCopy, day: string): Attributes {
  const named = (procedure.roles[role]?.classes ?? []).flatMap(attributesOf).flatMap((a) => (a.carries === undefined ? [] : [a.id]));
  return Object.fromEntries(Object.entries(attributes).filter(([id, value]) => !named.includes(id) || carries.some((c) => c.id === value && c.until >= day)));
}

/**
 * The plan of a run, from what its opening event carries: the copies of its assets' attributes, the day on which limits had to be in force, and
 * the tables of that day.
 * @param procedure the edition that the event names
 * @example planOfRun(procedureById('suit.inflation'), exampleOf('suit.inflation', 'inflate').opened).ok // true
 */
export function planOfRun(procedure: Procedure, opened: Omit<Opened, 'kind'>): PlanResult {
  const day = dayAt(opened.startedAt, opened.offset);
  const assets: Record<string, Attributes> = Object.fromEntries(Object.entries(opened.assets).map(([role, a]) => [role, vouched(procedure, role, a, day)]));
  return makePlan(procedure, opened.procedure, opened.ruleSet, assets, day, opened);
}
