import { itemSchema, Malformed, parse, type NewAsset } from '@grellin/contract';
import { INSTRUMENT_CLASS, itemFieldNames, itemFields, oddAttributes } from '@grellin/core';
import Papa from 'papaparse';
import { Coded } from '../base';
import { assetFrom, ATTRIBUTE } from './columns';

const MOST_ROWS = 200_000;

export interface ReadRow {
  /** As a spreadsheet counts: the first line is the columns. */
  readonly line: number;
  readonly asset: NewAsset;
  readonly flaws: { readonly column: string; readonly message: string }[];
}

/** What is asked of the reading of a file. */
export interface RowsAsked {
  readonly csv: string;
  /** The file's column by field of the register. */
  readonly columns: Readonly<Record<string, string>>;
  /** Whether figures that nobody would expect are meant as they stand. */
  readonly sure: boolean;
}

/** Which name of a schema's path stands in which column. */
const columnOf = (path: string): string => itemFieldNames.filter((name) => name === path).map((name) => itemFields[name].column)[0] ?? path;

/**
 * Reads the rows of a register's file, each with what is wrong with it. It takes long for a long file: a worker does it.
 * @throws Coded for a file that is no CSV, is too long, or lacks a column that was named
 */
export function readRows({ csv, columns, sure }: RowsAsked): readonly ReadRow[] {
  const parsed = Papa.parse<Record<string, string>>(csv.replace(/^\uFEFF/, ''), { header: true, skipEmptyLines: 'greedy' });
  const quotes = parsed.errors.find((e) => e.type === 'Quotes');
  if (quotes)
    throw new Coded('import.csv', `The file is no CSV: ${quotes.message}, row ${String((quotes.row ?? 0) + 2)}.`, { row: String((quotes.row ?? 0) + 2) });
  const there = new Set(parsed.meta.fields ?? []);
  for (const column of Object.values(columns))
    if (!there.has(column) || column in {}) throw new Coded('import.column', `The file has no column “${column}”.`, { column });
  if (parsed.data.length > MOST_ROWS) throw new Coded('import.long', `At most ${String(MOST_ROWS)} rows at once.`, { rows: String(parsed.data.length) });
  const rows: ReadRow[] = [];
  const tags = new Map<string, number>();
  for (const [i, fields] of parsed.data.entries()) {
    const { asset: given, flaws: first } = assetFrom((field) => (Object.hasOwn(columns, field) ? (fields[columns[field] ?? ''] ?? '') : undefined));
    const flaws = [...first];
    try {
      parse(itemSchema, given);
    } catch (error) {
      if (!(error instanceof Malformed)) throw error;
      for (const f of error.flaws) if (!flaws.some((x) => x.column === columnOf(f.path))) flaws.push({ column: columnOf(f.path), message: f.message });
    }
    if (!sure)
      for (const odd of oddAttributes(given.class, given.attributes)) flaws.push({ column: `${ATTRIBUTE}${odd.id}`, message: `${odd.words}: is that so?` });
    if (given.class === INSTRUMENT_CLASS) flaws.push({ column: 'class', message: 'has a range and limits of error: it is added as an instrument' });
    const line = i + 2;
    const before = tags.get(given.tag);
    if (before !== undefined) flaws.push({ column: 'tag', message: `stands in row ${String(before)} already` });
    else tags.set(given.tag, line);
    rows.push({ line, asset: given, flaws });
  }
  return rows;
}
