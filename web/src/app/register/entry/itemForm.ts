import { type FormControl, type FormRecord, type NonNullableFormBuilder } from '@angular/forms';
import type { NewAsset } from '@grellin/contract';
import {
  byName,
  itemFieldNames,
  itemFields,
  type AttributeRow,
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

/** An attribute that can be asked for, with the units that its figure may have. */
export type AskedAttribute = AttributeRow & { readonly units: readonly string[] };

/** A control for each field of an item. */
export function itemControls(fields: NonNullableFormBuilder, kind: string): ItemControls {
  return byName<ItemControls>(itemFieldNames, (name) => {
    const empty = { id: '', words: '', class: kind, yesNo: false, dayOrMonth: '', duration: '' }[itemFields[name].kind];
    return fields.control(empty) as FormControl as ItemControls[typeof name];
  });
}

/** A control for each attribute of a class. */
export function attributeControls(fields: NonNullableFormBuilder, attributes: readonly AskedAttribute[]): FormRecord<FormControl<HeldAttribute>> {
  const one = (a: AskedAttribute): FormControl<HeldAttribute> => {
    if (a.type.kind !== 'quantity') return fields.control<HeldAttribute>(a.type.kind === 'yesNo' ? null : '');
    const nothing: TypedQuantity = { text: '', unit: a.units[0] ?? '1' };
    return fields.control<TypedQuantity>(nothing, { validators: isNumber }) as FormControl as FormControl<HeldAttribute>;
  };
  return fields.record(Object.fromEntries(attributes.map((a) => [a.id, one(a)])));
}

/** What a form holds of an attribute, as the register keeps it; null where it is not known. */
export function attributeOf(held: HeldAttribute | undefined): AttributeValue | null {
  if (held === undefined || held === null || typeof held === 'boolean') return held ?? null;
  return typeof held === 'string' ? held.trim() || null : quantityOf(held);
}

/** The item that a form holds, as the server is asked for it. What is not known is left out. */
export function itemOf(held: HeldItem, attributes: readonly AskedAttribute[]): NewAsset {
  const facts = byName<ItemFacts>(itemFieldNames, (name) => {
    const now = held[name];
    const text = typeof now === 'string' ? now.trim() : '';
    const of: ItemFieldValue = { id: text, words: text, class: text, yesNo: now === true, dayOrMonth: text || null, duration: text || null };
    return of[itemFields[name].kind] as ItemFacts[typeof name];
  });
  const known = attributes.flatMap(({ id }) => {
    const value = attributeOf(held.attributes[id]);
    return value === null ? [] : [[id, value] as const];
  });
  return { ...facts, attributes: Object.fromEntries(known) };
}
