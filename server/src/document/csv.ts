import type { ReadTable } from '@grellin/contract';
import { quantitiesIn, showQuantity, tableFlaws, tableKind, type AttributeRow, type FigureTable, type Quantity, type TableKind } from '@grellin/core';
import Papa from 'papaparse';
import { Coded } from '../base';
import { flawInWords } from './words';

const text = (q: Quantity): string => `${String(q.value)} ${q.unit}`;
const plain = (s: string): string => s.trim().toLowerCase();

/** A table's lines as CSV (RFC 4180): what a line is found by, then each figure, with its unit. */
export function tableCsv(table: FigureTable): string {
  const kind = tableKind(table.kind);
  const gives = kind?.gives ?? [];
  const rows = table.lines.map((l) => [text(l.upTo), ...gives.map((g) => (l.gives[g.id] ? text(l.gives[g.id] as Quantity) : ''))]);
  return `${Papa.unparse({ fields: [kind?.by.id ?? 'upTo', ...gives.map((g) => g.id)], data: rows }, { escapeFormulae: true })}\r\n`;
}

/** A column by the name of its figure or by its title, with the unit that its heading says: `Ullage up to [gal_us]` or `ullage (gal)`. */
function columnOf(fields: readonly string[], row: AttributeRow): { readonly field: string; readonly unit: string } | null {
  for (const field of fields) {
    const found = /^(.*?)\s*(?:\((.+)\)|\[(.+)\]|,\s*(\S+))?\s*$/.exec(field);
    const name = plain(found?.[1] ?? field);
    // A unit's own brackets belong to it: `[gal_us]`.
    const unit = found?.[2] ?? (found?.[3] === undefined ? found?.[4] : `[${found[3]}]`) ?? '';
    if (name === plain(row.id) || name === plain(row.title)) return { field, unit };
  }
  return null;
}

/** What stands in a cell: a number with its unit, or a number whose unit the heading says, or the first usual one of its kind. */
function cell(words: string, unit: string, row: AttributeRow): Quantity | string {
  const bare = /^[\d.,/ \u00a0\u2009]+$/.test(words.trim());
  const usual = row.type.kind === 'quantity' ? row.type.usual[0] : '1';
  const [q, other] = quantitiesIn(bare ? `${words} ${unit === '' ? usual : unit}` : words);
  if (q && other) return `${row.title}: ${showQuantity(q)} or ${showQuantity(other)}, whichever is meant`;
  return q ?? `${row.title}: a number with its unit, such as ${showQuantity({ value: 5, unit: usual })}`;
}

/**
 * Reads the lines of a table from CSV. Everything that cannot be read is named by its line; nothing is guessed.
 * @throws Coded `import.csv` for what is no CSV, `import.column` for a column that is not there
 */
export function readTableCsv(kindId: string, csv: string): ReadTable {
  const kind = tableKind(kindId);
  if (!kind) throw new Coded('table.flawed', `There is no kind of table “${kindId}”.`);
  const parsed = Papa.parse<Record<string, string>>(csv.replace(/^\uFEFF/, ''), { header: true, skipEmptyLines: 'greedy' });
  const quotes = parsed.errors.find((e) => e.type === 'Quotes');
  if (quotes) throw new Coded('import.csv', `The file is no CSV: ${quotes.message}.`, { row: String((quotes.row ?? 0) + 2) });
  const columns = columnsOf(kind, parsed.meta.fields ?? []);
  const lines: FigureTable['lines'][number][] = [];
  const flaws: { line: number; message: string }[] = [];
  parsed.data.forEach((row, i) => {
    const read = columns.map(({ of, field, unit }) => [of, cell(row[field] ?? '', unit, of)] as const);
    for (const [, q] of read) if (typeof q === 'string') flaws.push({ line: i + 1, message: `Line ${String(i + 1)}: ${q}` });
    const quantities = read.flatMap(([of, q]) => (typeof q === 'string' ? [] : [[of.id, q] as const]));
    const upTo = quantities.find(([id]) => id === kind.by.id)?.[1];
    if (upTo && quantities.length === read.length) lines.push({ upTo, gives: Object.fromEntries(quantities.filter(([id]) => id !== kind.by.id)) });
  });
  if (flaws.length > 0) return { lines, flaws };
  const table: FigureTable = { kind: kind.id, id: 'read', edition: 'read', title: 'read', source: { title: 'read' }, from: '2000-01-01', lines };
  return { lines, flaws: tableFlaws(table).map((f) => ({ line: f.line, message: flawInWords(f) })) };
}

function columnsOf(kind: TableKind, fields: readonly string[]): readonly { readonly of: AttributeRow; readonly field: string; readonly unit: string }[] {
  return [kind.by, ...kind.gives].map((of) => {
    const found = columnOf(fields, of);
    if (!found) throw new Coded('import.column', `The file has no column “${of.id}” or “${of.title}”.`, { column: of.id });
    return { of, ...found };
  });
}
