import type { Quantity } from '../quantity';

/** A name inside a document: lower case, digits, dots and dashes. */
export type Id = string;
/** A sentence for people. */
export type Words = string;
/** SHA-256, in hex. */
export type Digest = string;
export type Channel = Id;
export type Role = Id;
export type Verdict = 'pass' | 'fail' | 'undecided' | 'void';

/** Where a figure comes from. The title `common practice` is a fact of the trade and has no clause. */
export interface Source {
  readonly title: Words;
  readonly clause?: Words;
}

/** An attribute of an asset in the run, written `role.attribute`, for example `vehicle.units`. */
export type AttributeRef = `${Role}.${Id}`;

/** A bound, or the same bound as the rule prints it in several units: a figure that is told in one of them falls by what is printed in it. */
export type Bound = Quantity | readonly Quantity[];

export type Condition =
  | { readonly attribute: AttributeRef; readonly is: readonly (string | boolean)[] }
  /** From (included), up to (included) or below (left out). */
  | { readonly attribute: AttributeRef; readonly from?: Bound; readonly upTo?: Bound; readonly below?: Bound }
  | { readonly all: readonly Condition[] };

/**
 * A figure: written down, taken from the asset, from a kept table, from the first row of a table whose condition holds, or a named function of other figures
 * (`formula.ts` has every one, with its source). No expression language.
 */
export type Value =
  | Quantity
  | { readonly attribute: AttributeRef }
  | { readonly rows: readonly { readonly when: Condition; readonly value: Value }[] }
  | { readonly formula: Id; readonly of: Readonly<Record<Id, Value>> }
  /** From a table that an officer keeps, by the name that the procedure has for it: which line holds, the items at hand say. */
  | { readonly table: Id; readonly figure: Id };

/** What a limit can be put on. `methodFacts.ts` says which of these each method can measure, and in what. */
export const measures = [
  'loss',
  'lossPerMinute',
  'end',
  'ratio',
  'change',
  'firstDrop',
  'graduations',
  'time',
  'flow',
  'pressure',
  'count',
  'percent',
  'elastic',
  'total',
  'deviation',
  'permanent',
  'blowdown',
  'spread',
  'grade',
  'stroke',
  'difference',
] as const;
export type Measure = (typeof measures)[number];

/** How states of the set-up stand, by their ids. */
export type Stands = Readonly<Record<Id, Id>>;

/** What a step, or an answer of yes, asks of the set-up and does to it. */
export interface OnSetUp {
  /** Brought there first, in this order, where it does not stand so. */
  readonly needs?: Stands;
  readonly makes?: Stands;
}
