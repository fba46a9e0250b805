import type { AssetView } from '@grellin/contract';
import {
  askedOfEach,
  leastOf,
  listsUsed,
  type AttributeRow,
  type Attributes,
  type ListRow,
  type Lists,
  type PlanRefusal,
  type Procedure,
  type RuleSet,
} from '@grellin/core';

/** A list of the day, as the form asks for it: what is asked of each thing, and what it begins with. */
export interface ListOfDay {
  readonly name: string;
  readonly row: ListRow;
  readonly asked: readonly AttributeRow[];
  readonly begins: readonly Attributes[];
}

/** The lists that a rule set is repeated for. They begin with what was told last, and with as many things as the register counts. */
export function listsOfDay(procedure: Procedure, ruleSet: RuleSet, role: string, asset: Pick<AssetView, 'attributes' | 'told'>): readonly ListOfDay[] {
  return listsUsed(procedure, ruleSet).flatMap((name) => {
    const row = procedure.lists?.[name];
    if (!row) return [];
    const count = Math.min(row.most, Math.max(1, Math.round(leastOf(row, { [role]: asset.attributes }))));
    // Until somebody says otherwise, what the register counts is the item's own.
    const ofFirst: Attributes = row.covers ? { [row.covers.by]: '1' } : {};
    const before = asset.told[procedure.id]?.[name] ?? [];
    const begins = [...before, ...Array.from({ length: Math.max(0, count - before.length) }, () => ofFirst)];
    return [{ name, row, asked: askedOfEach(procedure, ruleSet, name), begins }];
  });
}

/** What is not yet said of a thing. */
function unsaid(lists: readonly ListOfDay[], told: Lists): string {
  for (const { row, name, asked } of lists)
    for (const [k, thing] of (told[name] ?? []).entries()) {
      const missing = asked.find((a) => a.type.kind !== 'words' && thing[a.id] === undefined);
      if (missing) return $localize`${row.one}:thing: ${String(k + 1)}:number:: say its ${missing.title.toLowerCase()}:figure:.`;
    }
  return $localize`Say what there is today.`;
}

/** Why the lists of the day cannot be taken, in words; null where the plan is refused for something else. */
export function listLack(code: PlanRefusal['code'], values: PlanRefusal['values'], lists: readonly ListOfDay[], told: Lists): string | null {
  const titleOf = (id: string): string => lists.flatMap((l) => l.asked).find((a) => a.id === id)?.title ?? id;
  switch (code) {
    case 'plan.listEmpty':
    case 'plan.attributeUnknown':
      return unsaid(lists, told);
    case 'plan.listShort':
      return $localize`The register says there are more: ${values['least'] ?? ''}:number: at least.`;
    case 'plan.listUncovered':
      return $localize`Each of the ${values['count'] ?? ''}:number: has to stand in the list: ${values['list'] ?? ''}:list:.`;
    case 'plan.listDiffers':
      return $localize`Things that are joined have one figure of it: ${titleOf(values['attribute'] ?? '')}:attribute:.`;
    default:
      return null;
  }
}

/** Why there is no kept table to go by, in words; null where the plan is refused for something else. */
export function tableLack(code: PlanRefusal['code'], values: PlanRefusal['values']): string | null {
  if (code === 'plan.tableMissing')
    return $localize`No edition of the table “${values['table'] ?? ''}:TABLE:” is kept that holds today. An officer publishes it under Tables.`;
  if (code === 'plan.tableShort')
    return $localize`${values['table'] ?? ''}:TABLE: goes up to ${values['upTo'] ?? ''}:UPTO: and no further: it says nothing of what is told here.`;
  return null;
}
