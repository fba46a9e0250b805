import type { AssetRow } from '@grellin/contract';
import {
  assetClass,
  byName,
  itemFieldNames,
  itemFields,
  showQuantity,
  unitRow,
  quantitiesIn,
  type AttributeRow,
  type Attributes,
  type AttributeValue,
  type Choice,
  type ItemFacts,
  type ItemFieldKind,
  type ItemFieldValue,
} from '@grellin/core';

/** What a register's file says of an asset besides its attributes, in the order of its columns. */
export const factColumns: readonly string[] = itemFieldNames.map((name) => itemFields[name].column);

/** An attribute's column carries this before its name. */
export const ATTRIBUTE = 'attribute:';

type Cell = string | number | null;

/** What is only told, and not read back in. */
const told: readonly { readonly column: string; readonly of: (a: AssetRow) => Cell }[] = [
  { column: 'state', of: (a) => a.readiness },
  { column: 'why', of: (a) => a.why },
  { column: 'due', of: (a) => a.due },
  { column: 'last_record', of: (a) => a.last?.record ?? null },
  { column: 'last_verdict', of: (a) => a.last?.verdict ?? null },
  { column: 'allowance_percent', of: (a) => a.last?.allowancePercent ?? null },
];
export const toldColumns: readonly string[] = told.map((t) => t.column);

const yesNo = (value: boolean): string => (value ? 'yes' : 'no');

/** An attribute as a file has it: `200 L`, `yes`, or words. */
export function attributeText(value: AttributeValue | undefined): string {
  if (value === undefined) return '';
  if (typeof value === 'boolean') return yesNo(value);
  return typeof value === 'string' ? value : `${String(value.value)} ${value.unit}`;
}

/** One asset as a line of fields. */
export function fieldsOf(a: AssetRow, attributes: readonly string[]): readonly Cell[] {
  const facts = itemFieldNames.map((name) => {
    const value = a[name];
    return typeof value === 'boolean' ? yesNo(value) : value;
  });
  return [...facts, ...attributes.map((id) => attributeText(a.attributes[id])), ...told.map((t) => t.of(a))];
}

/** What is wrong with one field of a row. */
export interface FieldFlaw {
  readonly column: string;
  readonly message: string;
}

function booleanFrom(text: string): boolean | null {
  const plain = text.trim().toLowerCase();
  if (['yes', 'true', '1', 'x'].includes(plain)) return true;
  return ['no', 'false', '0', ''].includes(plain) ? false : null;
}

/** An answer as a file has it: as rules call it, or as people do. */
function choiceFrom(choices: readonly Choice[], text: string): string | string[] {
  const plain = text.trim().toLowerCase();
  const found = choices.find((c) => c.id.toLowerCase() === plain) ?? choices.find((c) => c.title.toLowerCase() === plain);
  return found?.id ?? [`one of: ${choices.map((c) => c.id).join(', ')}`];
}

function attributeFrom(row: AttributeRow, text: string): AttributeValue | string[] {
  if (row.type.kind === 'words') return text.trim();
  if (row.type.kind === 'choice') return choiceFrom(row.type.choices, text);
  if (row.type.kind === 'yesNo') return booleanFrom(text) ?? ['yes or no'];
  const [q, other] = quantitiesIn(text);
  if (q && other) return [`${showQuantity(q)} or ${showQuantity(other)}, whichever is meant`];
  if (!q) return [`a number with its unit, such as ${showQuantity({ value: 200, unit: 'L' })}`];
  return unitRow(q.unit)?.dimension === row.type.dimension ? q : [`a ${row.type.dimension}`];
}

/** A field as it was written in a file, by its kind; undefined where it cannot be read. */
const readField: { readonly [K in ItemFieldKind]: (text: string) => ItemFieldValue[K] | undefined } = {
  id: (text) => text,
  words: (text) => text,
  class: (text) => text,
  yesNo: (text) => booleanFrom(text) ?? undefined,
  dayOrMonth: (text) => text || null,
  duration: (text) => text || null,
};

/** What stands for a field that cannot be read, so that the others of its row can still be looked at. */
const unread: ItemFieldValue = { id: '', words: '', class: '', yesNo: false, dayOrMonth: null, duration: null };

/**
 * Reads one row of a file. What it cannot read is named by its column.
 * @param get the text of a field of the register in this row, or undefined where no column stands for it
 */
export function assetFrom(get: (field: string) => string | undefined): {
  readonly asset: ItemFacts & { readonly attributes: Attributes };
  readonly flaws: readonly FieldFlaw[];
} {
  const flaws: FieldFlaw[] = [];
  const facts = byName<ItemFacts>(itemFieldNames, (name) => {
    const { kind, column } = itemFields[name];
    const value = readField[kind]((get(column) ?? '').trim());
    if (value === undefined) flaws.push({ column, message: 'yes or no' });
    return (value === undefined ? unread[kind] : value) as ItemFacts[typeof name];
  });
  const kind = assetClass(facts.class);
  if (!kind) flaws.push({ column: itemFields.class.column, message: `there is no class “${facts.class}”` });
  const attributes: Record<string, AttributeValue> = {};
  for (const row of kind?.attributes ?? []) {
    const given = get(`${ATTRIBUTE}${row.id}`);
    if (given === undefined || given.trim() === '' || row.asked) continue;
    const value = attributeFrom(row, given);
    if (Array.isArray(value)) flaws.push({ column: `${ATTRIBUTE}${row.id}`, message: `must be ${value[0] ?? ''}` });
    else attributes[row.id] = value;
  }
  return { asset: { ...facts, attributes }, flaws };
}
