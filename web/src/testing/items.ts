import type { AssetRow } from '@grellin/contract';
import { byName, itemFieldNames, itemFields, type ItemFacts, type ItemFieldValue } from '@grellin/core';

/** What a field of an item holds where a test does not care. */
const anything: ItemFieldValue = { id: 'X-01', words: 'something', class: 'gas-tight-suit', yesNo: true, dayOrMonth: null, duration: null };

/** A row of the register: what a test says of it, and anything for the rest. */
export function anItem(more: Partial<AssetRow>): AssetRow {
  const row: Partial<AssetRow> = {
    ...byName<ItemFacts>(itemFieldNames, (name) => anything[itemFields[name].kind] as ItemFacts[typeof name]),
    id: 'an-item',
    attributes: {},
    lifeEnds: null,
    archived: false,
    revision: 1,
    readiness: 'ready',
    why: '',
    due: null,
    last: null,
    ...more,
  };
  // What is told besides is no test's concern that does not name it.
  return row as AssetRow;
}
