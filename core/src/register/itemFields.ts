/** How a field of an item is written: a name, a sentence, one of the classes, yes or no, a day or month, an ISO 8601 duration. The last two may be unknown. */
export type ItemFieldKind = 'id' | 'words' | 'class' | 'yesNo' | 'dayOrMonth' | 'duration';

/** What an item's field holds, by its kind. */
export interface ItemFieldValue {
  id: string;
  words: string;
  class: string;
  yesNo: boolean;
  dayOrMonth: string | null;
  duration: string | null;
}

export interface ItemField {
  readonly title: string;
  readonly kind: ItemFieldKind;
  /** Its column in a register's file. */
  readonly column: string;
  /** What is written in the empty field of a form. */
  readonly hint?: string;
  /** Whether it can be changed once the item is there: never, on one item, or on many at once as well. */
  readonly changes: 'never' | 'one' | 'many';
}

/**
 * What is known of an item besides its attributes, which its class lays down. Every face of the register is made from this table and held against it by
 * the compiler: the API's schemas, the columns of a file, what a form asks for, what can be changed, and the database's columns.
 */
export const itemFields = {
  tag: { title: 'Tag', kind: 'id', column: 'tag', hint: 'what is written on it', changes: 'never' },
  serial: { title: 'Serial', kind: 'id', column: 'serial', changes: 'one' },
  class: { title: 'Class', kind: 'class', column: 'class', changes: 'never' },
  title: { title: 'What it is', kind: 'words', column: 'title', changes: 'one' },
  place: { title: 'Place', kind: 'words', column: 'place', changes: 'many' },
  /** Simulated runs settle the dues of practice items only. */
  practice: { title: 'For practice', kind: 'yesNo', column: 'practice', changes: 'many' },
  /** A day, or a month where the day is not known. */
  madeOn: { title: 'Made on', kind: 'dayOrMonth', column: 'made_on', hint: '2024-05 or 2024-05-17', changes: 'one' },
  /** How long it may be used from then on. */
  life: { title: 'Life', kind: 'duration', column: 'life', hint: '10 years, or nothing where it has no end', changes: 'one' },
} as const satisfies Readonly<Record<string, ItemField>>;

export type ItemFieldName = keyof typeof itemFields;

/** The fields of an item. */
export type ItemFacts = { readonly [F in ItemFieldName]: ItemFieldValue[(typeof itemFields)[F]['kind']] };

/** The fields that can be changed in such a way. */
export type ChangedBy<C extends ItemField['changes']> = { [F in ItemFieldName]: (typeof itemFields)[F]['changes'] extends C ? F : never }[ItemFieldName];

/**
 * A value for each of some names.
 * @example byName<{ a: number; b: number }>(['a', 'b'], (n) => n.length) // { a: 1, b: 1 }
 */
export function byName<T>(names: readonly (keyof T)[], of: <N extends keyof T>(name: N) => T[N]): T {
  const made: Partial<T> = {};
  for (const name of names) made[name] = of(name);
  return made as T; // every name has its value now
}

/** Names of the fields, in the order of a file's columns. */
export const itemFieldNames = Object.keys(itemFields) as readonly ItemFieldName[];

/** @returns the field as any field is: its hint may be there or not */
export const itemField = (name: ItemFieldName): ItemField => itemFields[name];

/** Whether a field has to be said of every item: what has no way to be unknown. A tick that is not set is a no. */
export const isNeeded = (name: ItemFieldName): boolean => ['id', 'words', 'class'].includes(itemFields[name].kind);

/**
 * The fields of an item, and nothing else of what is given.
 * @example itemFacts({ tag: 'GS-01', …, revision: 3 }) // without the revision
 */
export function itemFacts(of: ItemFacts): ItemFacts {
  return byName<ItemFacts>(itemFieldNames, (name) => of[name]);
}
