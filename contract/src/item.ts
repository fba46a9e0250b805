import {
  assetClass,
  attributesOf,
  byName,
  itemFieldNames,
  itemFields,
  unitRow,
  type ChangedBy,
  type ItemField,
  type ItemFacts,
  type ItemFieldName,
  type ItemFieldValue,
  type Quantity,
} from '@grellin/core';
import { array, bool, type BooleanSchema, type InferType, type Schema, type StringSchema } from 'yup';
import { dayOrMonth, id, optionalRecordOf, uuid, whole, words, intervalOrNull } from './primitives';
import { attributesSchema, attributeValue } from './runEvent';
import { same } from './same';
import { shape } from './shape';

/** Bodies about items, made from the table of their fields. */

interface KindSchemas {
  id: StringSchema<string>;
  words: StringSchema<string>;
  class: StringSchema<string>;
  yesNo: BooleanSchema<boolean>;
  dayOrMonth: StringSchema<string | null | undefined>;
  duration: StringSchema<string | null | undefined>;
}

/** The schema of each kind of field. */
const kindSchemas: { readonly [K in keyof ItemFieldValue]: () => KindSchemas[K] } = {
  id,
  words: () => words(120),
  class: id,
  yesNo: () => bool().required(),
  dayOrMonth,
  duration: intervalOrNull,
};

type FieldSchemas = { readonly [F in ItemFieldName]: KindSchemas[(typeof itemFields)[F]['kind']] };
type Optional<F extends ItemFieldName> = Schema<InferType<FieldSchemas[F]> | undefined>;

/** A schema for each field of an item. */
const fields = byName<FieldSchemas>(itemFieldNames, (name) => kindSchemas[itemFields[name].kind]() as FieldSchemas[typeof name]);

/** The fields that can be changed so, each of which may be left out. */
function changes<C extends ItemField['changes']>(...how: readonly C[]): { readonly [N in ChangedBy<C>]: Optional<N> } {
  const all: readonly string[] = how;
  const wanted = itemFieldNames.filter((name) => all.includes(itemFields[name].changes)) as ChangedBy<C>[];
  return byName<{ [N in ChangedBy<C>]: Optional<N> }>(wanted, (name) => (fields[name] as Schema).optional() as Optional<typeof name>);
}

/** Attributes whose figure nobody would expect of such a thing, and that are meant all the same. */
const sure = array().of(id()).optional().max(40, 'high');

const item = { ...fields, attributes: attributesSchema };

/** An item as a register's file has it. */
export const itemSchema = shape(item);

export const newAssetSchema = shape({ ...item, sure });
export type NewAsset = InferType<typeof newAssetSchema>;

/** Besides its fields an item can be put away, and taken back. */
const archived = bool().optional();

export const assetChangeSchema = shape({
  revision: whole(1),
  ...changes('one', 'many'),
  archived,
  attributes: optionalRecordOf(attributeValue),
  sure,
});
export type AssetChange = InferType<typeof assetChangeSchema>;

export const bulkChangeSchema = shape({
  assets: array().of(uuid()).required().min(1, 'low').max(500, 'high'),
  ...changes('many'),
  archived,
});
export type BulkChange = InferType<typeof bulkChangeSchema>;

/** What a field may leave out when it comes, it has as unknown when it is kept. */
type Known<T> = { readonly [F in keyof T]-?: undefined extends T[F] ? Exclude<T[F], undefined> | null : T[F] };
same<Known<Omit<NewAsset, 'attributes' | 'sure'>>, ItemFacts>(true);

/** What is wrong with the attributes of an item, or of a part that is told of a day: each must be one of its kind, and an answer that can be given. */
export function attributeFlaws(kind: string, attributes: Readonly<Record<string, Quantity | string | boolean>>): readonly string[] {
  const known = attributesOf(kind);
  if (!assetClass(kind) && known.length === 0) return ['class'];
  return Object.entries(attributes)
    .filter(([name, value]) => {
      const type = known.find((a) => a.id === name)?.type;
      if (typeof value === 'string') return type?.kind === 'choice' ? !type.choices.some((c) => c.id === value) : type?.kind !== 'words';
      if (typeof value === 'boolean') return type?.kind !== 'yesNo';
      return type?.kind !== 'quantity' || unitRow(value.unit)?.dimension !== type.dimension;
    })
    .map(([name]) => name);
}
