import { type FormControl, type FormRecord, type NonNullableFormBuilder } from '@angular/forms';
import type { NewAsset } from '@grellin/contract';
import {
  byName,
  itemFieldNames,
  intervalIn,
  itemFields,
  units,
  type AttributeRow,
  type Attributes,
  type AttributeValue,
  type ItemFacts,
  type ItemFieldKind,
  type ItemFieldValue,
} from '@grellin/core';
import { isNumber, quantityOf, type TypedQuantity } from '../../form/quantityField';

/** What a form holds of a field while it is typed: what may be unknown is an empty text. */
type Held<K extends ItemFieldKind> = K extends 'yesNo' ? boolean : string;
type ItemControls = { [F in keyof ItemFacts]: FormControl<Held<(typeof itemFields)[F]['kind']>> };

/** What a form holds of an attribute: a figure as it is typed, a text, or what was answered. */
export type HeldAttribute = TypedQuantity | string | boolean | null;

/** All that the form of an item holds. */
export type HeldItem = { readonly [F in keyof ItemFacts]: Held<(typeof itemFields)[F]['kind']> } & {
  readonly attributes: Readonly<Record<string, HeldAttribute>>;
};

/** An attribute that can be asked for. */
export interface AskedAttribute extends AttributeRow {
  /** UCUM codes that its figure may have, those of the trade first. */
  readonly units: readonly string[];
  /** What may be answered where it is no figure and no words; that it is not known as well. */
  readonly answers: readonly { readonly value: string | boolean | null; readonly title: string }[];
}

const NOT_KNOWN = { value: null, title: $localize`not known` };
const YES_OR_NO = [NOT_KNOWN, { value: true, title: $localize`yes` }, { value: false, title: $localize`no` }];

/**
 * An attribute as a form asks for it.
 * @example askedAttribute(assetClass('gas-tight-suit')?.attributes[2]).units.slice(0, 2) // ['L', 'mL']
 */
export function askedAttribute(row: AttributeRow): AskedAttribute {
  const { type } = row;
  switch (type.kind) {
    case 'quantity': {
      const rest = type.dimension === 'number' ? [] : units.filter((u) => u.dimension === type.dimension).map((u) => u.code);
      return { ...row, units: [...new Set([...type.usual, ...rest])], answers: [] };
    }
    case 'choice':
      return { ...row, units: [], answers: [NOT_KNOWN, ...type.choices.map(({ id, title }) => ({ value: id, title }))] };
    case 'yesNo':
      return { ...row, units: [], answers: YES_OR_NO };
    case 'words':
      return { ...row, units: [], answers: [] };
  }
}

/** A control for each field of an item. */
export function itemControls(fields: NonNullableFormBuilder, kind: string): ItemControls {
  return byName<ItemControls>(itemFieldNames, (name) => {
    const empty = { id: '', words: '', class: kind, yesNo: false, dayOrMonth: '', duration: '' }[itemFields[name].kind];
    return fields.control(empty) as FormControl as ItemControls[typeof name];
  });
}

/**
 * A control for each attribute of a class.
 * @param known what is known of the item already
 */
export function attributeControls(
  fields: NonNullableFormBuilder,
  attributes: readonly AskedAttribute[],
  known: Attributes = {},
): FormRecord<FormControl<HeldAttribute>> {
  const one = (a: AskedAttribute): FormControl<HeldAttribute> => {
    const is = known[a.id];
    if (a.type.kind !== 'quantity') return fields.control<HeldAttribute>(typeof is === 'object' ? null : (is ?? (a.type.kind === 'words' ? '' : null)));
    const typed: TypedQuantity = typeof is === 'object' ? { text: String(is.value), unit: is.unit } : { text: '', unit: a.units[0] ?? '1' };
    return fields.control<TypedQuantity>(typed, { validators: isNumber }) as FormControl as FormControl<HeldAttribute>;
  };
  return fields.record(Object.fromEntries(attributes.map((a) => [a.id, one(a)])));
}

/** What a form holds of an attribute, as the register keeps it; null where it is not known. */
export function attributeOf(held: HeldAttribute | undefined): AttributeValue | null {
  if (held === undefined || held === null || typeof held === 'boolean') return held ?? null;
  return typeof held === 'string' ? held.trim() || null : quantityOf(held);
}

/** What a form says of an item's attributes. What is not known is left out. */
export function saidIn(held: Readonly<Record<string, HeldAttribute>>, attributes: readonly AskedAttribute[]): Attributes {
  return Object.fromEntries(
    attributes.flatMap(({ id }) => {
      const value = attributeOf(held[id]);
      return value === null ? [] : [[id, value] as const];
    }),
  );
}

/** The item that a form holds, as the server is asked for it. What is not known is left out. */
export function itemOf(held: HeldItem, attributes: readonly AskedAttribute[]): NewAsset {
  const facts = byName<ItemFacts>(itemFieldNames, (name) => {
    const now = held[name];
    const text = typeof now === 'string' ? now.trim() : '';
    const of: ItemFieldValue = { id: text, words: text, class: text, yesNo: now === true, dayOrMonth: text || null, duration: intervalIn(text) || null };
    return of[itemFields[name].kind] as ItemFacts[typeof name];
  });
  return { ...facts, attributes: saidIn(held.attributes, attributes) };
}
