import type { Channel, CheckItem, Id, Spot, Words, Reason } from '../../procedure';
import type { Quantity } from '../../quantity';

/**
 * What a method asks for next, once the steps of its stage are done. `next` shows it, `may` holds statements against it: neither knows one method
 * from another.
 */
export type Task =
  | { readonly kind: 'answer'; readonly item: CheckItem }
  | { readonly kind: 'spot'; readonly spot: Spot }
  /** A reading that a person takes and types in. */
  | { readonly kind: 'read'; readonly channel: Channel }
  /** Something that the person says has come about; refused while `unmet` has a reason. Gauges on `on` are read meanwhile. */
  | { readonly kind: 'mark'; readonly mark: Id; readonly text: Words; readonly on: readonly Channel[]; readonly unmet: (at: number) => Reason | null }
  /** The start of a hold, read in its window. */
  | { readonly kind: 'start'; readonly low: Quantity; readonly high: Quantity; readonly on: readonly Channel[]; readonly unmet: (at: number) => Reason | null }
  | { readonly kind: 'hold'; readonly since: number; readonly until: number }
  | { readonly kind: 'end' };
