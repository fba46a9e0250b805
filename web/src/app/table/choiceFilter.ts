import type { Signal } from '@angular/core';

/** One of the selects that narrow a list: what it is called, what stands there where nothing is chosen, and what can be. */
export interface ChoiceFilter<Name extends string> {
  readonly id: Name;
  readonly title: string;
  readonly every: string;
  readonly options: Signal<readonly { readonly id: string; readonly title: string }[]>;
  /** Long enough to be searched in. */
  readonly long?: true;
}
