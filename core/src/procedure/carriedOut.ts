import { showQuantity, type Quantity } from '../quantity';
import { figure, holds, type AttributesByRole } from './condition';
import type { AttributeRef, CheckItem, CheckMethod, Id, RuleSet, Stage } from './language';
import { byKind, WORKING_READ } from './method';
import { originOf } from './unroll';

/** An item that no gauge answers. */
function unshown(item: CheckItem): CheckItem {
  const { shown, ...said } = item;
  return shown === undefined ? item : said;
}

/** Something that is done several times, once for each time. */
function counted(item: CheckItem): readonly CheckItem[] {
  const { times, ...one } = item;
  // What the items at hand say is written out once they are known.
  if (typeof times !== 'number') return [item];
  return Array.from({ length: times }, (_, k) => ({ ...one, id: `${item.id}.${String(k + 1)}`, text: `${item.text} (${String(k + 1)} of ${String(times)})` }));
}

/**
 * A stage as a rule set has it carried out: without the steps that it leaves out, what is counted once for each time, and where it goes by feel without what a
 * gauge would show.
 * @returns null where the rule set leaves it out
 * @example carriedOut({ id: 'soap', steps: [] }, { skip: ['soap'] }) // null
 */
export function carriedOut(stage: Stage, ruleSet: RuleSet): Stage | null {
  if (ruleSet.skip.includes(stage.id)) return null;
  const steps = stage.steps.filter((step) => !ruleSet.skip.includes(step.id));
  const items = (m: CheckMethod): readonly CheckItem[] =>
    m.items
      .filter((i) => !ruleSet.skip.includes(originOf(i.id)))
      .flatMap(counted)
      .map((i) => (ruleSet.byFeel ? unshown(i) : i));
  const looks = byKind({ check: (m) => ({ ...m, items: items(m) }) }, stage.method);
  // A reading that this school does not take.
  const expands = byKind({ expansion: ({ working, ...m }) => (working && !ruleSet.skip.includes(WORKING_READ) ? { ...m, working } : m) }, stage.method);
  const method = looks ?? expands;
  return looks?.items.length === 0 ? null : { ...stage, steps, ...(method ? { method } : {}) };
}

/** What is done as often as a figure says of the items at hand: a plug for each valve that nothing else sits in. */
function countedBy(item: CheckItem, figures: Readonly<Record<Id, Quantity>>): readonly CheckItem[] {
  if (typeof item.times !== 'string') return [item];
  return counted({ ...item, times: Math.max(0, Math.round(figures[item.times]?.value ?? 0)) });
}

/** Whether nobody has said this of the items at hand. */
function isUnsaid(ref: AttributeRef, assets: AttributesByRole): boolean {
  const [role = '', attribute = ''] = ref.split('.');
  const said = assets[role]?.[attribute];
  return said === undefined || said === '';
}

/** An item with the figures that it is asked with; none where they are not known. */
function told(item: CheckItem, assets: AttributesByRole): readonly CheckItem[] {
  const { says, ...asked } = item;
  if (!says) return [item];
  const figures = says.flatMap(({ words, value }) => {
    const known = figure(value, assets);
    return known ? [`${words} ${showQuantity(known)}`] : [];
  });
  return figures.length === says.length ? [{ ...asked, text: `${item.text}: ${figures.join(', ')}` }] : [];
}

/**
 * A stage without what is not fitted to the items of a run; null where nothing of it is left.
 * @example fittedTo({ when: { attribute: 'suit.openFaced', is: [true] } }, {}, { suit: { openFaced: false } }) // null
 */
export function fittedTo(stage: Stage, figures: Readonly<Record<Id, Quantity>>, assets: AttributesByRole): Stage | null {
  if (stage.when !== undefined && !holds(stage.when, assets)) return null;
  const fitted = (i: CheckItem): boolean => (i.when === undefined || holds(i.when, assets)) && (i.unless === undefined || isUnsaid(i.unless, assets));
  const looks = byKind({ check: (m) => ({ ...m, items: m.items.filter(fitted).flatMap((i) => told(i, assets)).flatMap((i) => countedBy(i, figures)) }) }, stage.method); // prettier-ignore
  return !looks ? stage : looks.items.length > 0 ? { ...stage, method: looks } : null;
}
