import { figure, type AttributesByRole } from './condition';
import { tableNamed, tablesUsed, type Tables } from './figureTable';
import type { Procedure, RuleSet } from './language';
import { countsOf, leastOf, listsUsed, type ListRefusal, type Lists } from './unroll';

/** Why no plan can be made: a code, and the values that it is said with. */
export interface PlanRefusal {
  readonly code:
    | 'plan.attributeUnknown'
    | 'plan.ruleSetUnknown'
    | 'plan.roleEmpty'
    | 'plan.roleUnknown'
    | 'plan.figureMissing'
    | 'plan.requirementUnmet'
    | 'plan.listShort'
    | 'plan.tableMissing'
    | 'plan.tableShort'
    | 'plan.listUncovered'
    | ListRefusal['code'];
  readonly values: Readonly<Record<string, string>>;
}

/**
 * A list of the day with fewer things than the register says that there are: nothing is tight that was not looked at.
 * @example leftOut(procedureById('suit.inflation'), procedureById('suit.inflation').ruleSets[0], {}, {}) // null
 */
export function leftOut(procedure: Procedure, ruleSet: RuleSet, items: AttributesByRole, lists: Lists): PlanRefusal | null {
  for (const list of listsUsed(procedure, ruleSet)) {
    const row = procedure.lists?.[list];
    if (!row) continue;
    const told = lists[list] ?? [];
    const unsaid = countsOf(row, items).find((attribute) => !figure({ attribute }, items));
    if (unsaid) return { code: 'plan.attributeUnknown', values: { attributes: unsaid } };
    const least = leastOf(row, items);
    if (told.length < least) return { code: 'plan.listShort', values: { list: row.title, least: String(least) } };
    const { covers } = row;
    const all = covers && figure({ attribute: covers.count }, items);
    if (covers && all && new Set(told.map((a) => a[covers.by])).size < all.value)
      return { code: 'plan.listUncovered', values: { list: row.title, count: String(all.value), by: covers.by } };
  }
  return null;
}

/**
 * A table that the rule set takes figures from and that is not at hand, is another than the one that the items name, or does not hold on that day.
 * @example tableLack(procedureById('suit.inflation'), procedureById('suit.inflation').ruleSets[0], {}, undefined, {}) // null
 */
export function tableLack(document: Procedure, ruleSet: RuleSet, items: AttributesByRole, on: string | undefined, tables: Tables): PlanRefusal | null {
  for (const name of tablesUsed(document, ruleSet)) {
    const named = tableNamed(document, name, items);
    if (named === undefined) return { code: 'plan.attributeUnknown', values: { attributes: document.tables?.[name]?.named ?? name } };
    const table = tables[name];
    const holdsOn = table && (on === undefined || (table.from <= on && (table.until === undefined || on <= table.until)));
    if (table?.kind !== document.tables?.[name]?.kind || table?.id !== named || !holdsOn) return { code: 'plan.tableMissing', values: { table: named } };
  }
  return null;
}
