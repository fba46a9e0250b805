import { attributeInWords, attributesOf, mainRole, type Procedure, type Role, type ToldList } from '../procedure';
import type { AssetCopy } from './event';

/** Beyond every date: what has no end. */
const NO_END = '9999-12-31';

/**
 * What was tested, as it was told when the run was opened: each item with its figures, the mileage of that day, what is coupled to it and what it carries.
 * @example itemsInWords(procedureById('suit.inflation'), { suit: { id: 'GS-01', attributes: { exhaustValves: { value: 2, unit: '1' } } } }).things[0] // { name: 'GS-01', words: 'Exhaust valves 2' }
 */
export function itemsInWords(procedure: Procedure, items: Readonly<Record<Role, AssetCopy>>): ToldList {
  const main = mainRole(procedure);
  const inOrder = Object.entries(items).sort(([a], [b]) => Number(b === main) - Number(a === main) || (a < b ? -1 : 1));
  const things = inOrder.map(([role, item]) => {
    const known = (procedure.roles[role]?.classes ?? []).flatMap(attributesOf);
    const told = Object.entries(item.attributes).flatMap(([id, value]) => {
      const row = known.find((a) => a.id === id);
      return row && value !== '' ? [{ at: known.indexOf(row), words: `${row.title} ${attributeInWords(row, value)}` }] : [];
    });
    // A store may keep the figures in another order: they stand as their class has them.
    const figures = told.sort((a, b) => a.at - b.at).map((t) => t.words);
    const carried = (item.carries ?? []).map((c) => (c.until === NO_END ? `carries ${c.id}` : `carries ${c.id}, usable until ${c.until}`));
    return { name: item.id, words: [...figures, ...carried].join('; ') };
  });
  return { title: 'What was tested', things };
}
