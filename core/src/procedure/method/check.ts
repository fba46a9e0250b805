import type { Id, Words } from '../term';
import { MINUTES, type MethodFacts } from './facts';

export interface CheckItem {
  readonly id: Id;
  readonly text: Words;
  /** A 'no' here ends the test at once. */
  readonly automatic?: true;
  /** The item need not apply to every asset; the answer then needs a reason. */
  readonly optional?: true;
  /** A 'no' here condemns the item: it never returns. */
  readonly condemns?: true;
}

export interface CheckMethod {
  readonly kind: 'check';
  readonly items: readonly CheckItem[];
}

export interface CheckReasons {
  answeredAll: { readonly items: Words };
  answeredNo: { readonly item: Words; readonly note?: Words };
}

export const checkFacts: MethodFacts<CheckMethod> = {
  measures: {},
  needsNoLimit: true,
  atRest: true,
  reads: () => [],
  figures: () => [],
  parts: (m) => m.items.map((x) => `item ${x.id}`),
  minutes: (m) => m.items.length * MINUTES.item,
};
