import type { AssetRow, RegisterSort } from '@grellin/contract';
import { assetClass, itemFields } from '@grellin/core';

/** A column that can be shown or left out. */
export interface Column {
  readonly id: string;
  readonly title: string;
  /** What it is sorted by, where it can be. */
  readonly sort: RegisterSort | null;
  /** What stands in it; a cell that is more than words is drawn by the table itself, under the column's id. */
  readonly text?: (a: AssetRow) => string;
  /** Shown where nobody has chosen. */
  readonly usual?: true;
}

/** The columns of the register. A new one is a line here, and where it tells what was not told before, a field of `AssetRow` and of the server's answer. */
export const columns: readonly Column[] = [
  { id: 'item', title: 'Item', sort: 'title', text: (a) => a.title, usual: true },
  { id: 'class', title: itemFields.class.title, sort: null, text: (a) => assetClass(a.class)?.title ?? a.class },
  { id: 'serial', title: itemFields.serial.title, sort: 'serial', text: (a) => a.serial, usual: true },
  { id: 'place', title: itemFields.place.title, sort: 'place', text: (a) => a.place, usual: true },
  { id: 'state', title: 'State', sort: null, usual: true },
  { id: 'due', title: 'Due', sort: 'due', usual: true },
  { id: 'used', title: 'Allowance used', sort: 'used', usual: true },
  { id: 'lifeEnds', title: 'Life ends', sort: null, text: (a) => a.lifeEnds ?? '–' },
];
