import type { AssetRow, NewAsset } from '@grellin/contract';
import { assetClass, showQuantity, unitRow, units, type AttributeRow, type AttributeValue, type Quantity } from '@grellin/core';

/** What a register's file says of an asset besides its attributes, in the order of its columns. */
export const factColumns = ['tag', 'serial', 'class', 'title', 'place', 'practice', 'made_on', 'life'] as const;
export type FactColumn = (typeof factColumns)[number];

/** An attribute's column carries this before its name. */
export const ATTRIBUTE = 'attribute:';

/** What is only told, and not read back in. */
export const toldColumns = ['state', 'why', 'due', 'last_record', 'last_verdict', 'allowance_percent'] as const;

const yesNo = (value: boolean): string => (value ? 'yes' : 'no');

/** An attribute as a file has it: `200 L`, `yes`, or words. */
export function attributeText(value: AttributeValue | undefined): string {
  if (value === undefined) return '';
  if (typeof value === 'boolean') return yesNo(value);
  return typeof value === 'string' ? value : `${String(value.value)} ${value.unit}`;
}

/** One asset as a line of fields. */
export function fieldsOf(a: AssetRow, attributes: readonly string[]): readonly (string | number | null)[] {
  return [
    a.tag,
    a.serial,
    a.class,
    a.title,
    a.place,
    yesNo(a.practice),
    a.madeOn,
    a.life,
    ...attributes.map((id) => attributeText(a.attributes[id])),
    a.readiness,
    a.why,
    a.due,
    a.last?.record ?? null,
    a.last?.verdict ?? null,
    a.last?.allowancePercent ?? null,
  ];
}

const byLabel = new Map(units.map((u) => [u.label.toLowerCase(), u.code]));

/** A quantity as it was typed: a number and a unit, by its code or as it is written on a gauge. */
function quantityFrom(text: string): Quantity | null {
  const found = /^\s*(-?\d+(?:[.,]\d+)?)\s*(\S.*)?$/.exec(text);
  if (!found) return null;
  const unit = (found[2] ?? '1').trim();
  const code = unitRow(unit) ? unit : byLabel.get(unit.toLowerCase());
  return code === undefined ? null : { value: Number((found[1] ?? '').replace(',', '.')), unit: code };
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

function attributeFrom(row: AttributeRow, text: string): AttributeValue | string[] {
  if (row.type.kind === 'words') return text.trim();
  if (row.type.kind === 'yesNo') return booleanFrom(text) ?? ['yes or no'];
  const q = quantityFrom(text);
  if (!q) return [`a number with its unit, such as ${showQuantity({ value: 200, unit: 'L' })}`];
  return unitRow(q.unit)?.dimension === row.type.dimension ? q : [`a ${row.type.dimension}`];
}

/**
 * Reads one row of a file. What it cannot read is named by its column.
 * @param get the text of a field of the register in this row, or undefined where no column stands for it
 */
export function assetFrom(get: (field: string) => string | undefined): {
  readonly asset: Omit<NewAsset, 'practice'> & { practice: boolean };
  readonly flaws: readonly FieldFlaw[];
} {
  const flaws: FieldFlaw[] = [];
  const text = (field: FactColumn): string => (get(field) ?? '').trim();
  const kind = assetClass(text('class'));
  if (!kind) flaws.push({ column: 'class', message: `there is no class “${text('class')}”` });
  const practice = booleanFrom(text('practice'));
  if (practice === null) flaws.push({ column: 'practice', message: 'yes or no' });
  const attributes: Record<string, AttributeValue> = {};
  for (const row of kind?.attributes ?? []) {
    const given = get(`${ATTRIBUTE}${row.id}`);
    if (given === undefined || given.trim() === '' || row.asked) continue;
    const value = attributeFrom(row, given);
    if (Array.isArray(value)) flaws.push({ column: `${ATTRIBUTE}${row.id}`, message: `must be ${value[0] ?? ''}` });
    else attributes[row.id] = value;
  }
  return {
    asset: {
      tag: text('tag'),
      serial: text('serial'),
      class: text('class'),
      title: text('title'),
      place: text('place'),
      practice: practice ?? false,
      attributes,
      madeOn: text('made_on') || null,
      life: text('life') || null,
    },
    flaws,
  };
}
