import { type AttributeRow, type Attributes, type AttributeValue } from '../procedure';
import { quantitiesIn, sameDimension } from '../quantity';

/** What was read from a pasted text. */
export interface Pasted {
  readonly things: readonly Attributes[];
  /** Lines that said nothing that is asked, as they stood. */
  readonly unread: readonly string[];
}

const plain = (text: string): string =>
  text
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();
/** Columns are set apart by tabs, semicolons or bars, and one may be empty; else by at least two blanks, and none can be. */
const cellsOf = (line: string): readonly string[] =>
  /[\t;|]/.test(line) ? line.split(/[\t;|]/).map((c) => c.trim()) : line.trim().split(/\s{2,}/); // prettier-ignore

/** Which attribute a heading names: by its id, or by the first words of its title. */
function rowOf(rows: readonly AttributeRow[], heading: string): AttributeRow | undefined {
  const said = plain(heading.replace(/[([].*$/, ''));
  return said === ''
    ? undefined
    : rows.find((r) => plain(r.id) === said || plain(r.title) === said || plain(r.title).startsWith(`${said} `) || plain(r.title.split(',')[0] ?? '') === said);
}

/** A heading's own unit: `Ullage (gal)`. */
const unitIn = (heading: string): string => /[([](.+)[)\]]\s*$/.exec(heading)?.[1] ?? '';

function valueOf(row: AttributeRow, text: string, unit: string): AttributeValue | undefined {
  const words = text.trim();
  if (row.type.kind === 'words') return words === '' ? undefined : words.slice(0, 200);
  if (row.type.kind !== 'quantity') return undefined;
  const bare = /^[\d.,/ \u00a0\u2009]+$/.test(words);
  const [q, other] = quantitiesIn(bare ? `${words} ${unit === '' ? row.type.usual[0] : unit}` : words);
  // Whoever pasted it knows which of two numbers is meant, and types it.
  return q && !other && sameDimension(q.unit, row.type.usual[0]) ? q : undefined;
}

/** A table with a line of headings. */
function table(lines: readonly string[], rows: readonly AttributeRow[]): Pasted | null {
  const at = lines.findIndex((l) => cellsOf(l).filter((c) => rowOf(rows, c)).length >= 2);
  const head = cellsOf(lines[at] ?? '');
  if (at < 0) return null;
  const things: Attributes[] = [];
  const unread: string[] = lines.slice(0, at).map((l) => l.trim());
  for (const line of lines.slice(at + 1)) {
    const cells = cellsOf(line);
    const said = head.flatMap((h, i): (readonly [string, AttributeValue])[] => {
      const row = rowOf(rows, h);
      const value = row ? valueOf(row, cells[i] ?? '', unitIn(h)) : undefined;
      return row && value !== undefined ? [[row.id, value]] : [];
    });
    // A line with fewer columns than the heading may have lost one in the middle: nothing of it is guessed.
    if (said.length > 0 && cells.length === head.length) things.push(Object.fromEntries(said));
    else unread.push(line.trim());
  }
  return { things, unread };
}

const LABELLED = /^([\p{L}][^\d:=]*?)\s*[:=]?\s+(\S.*)$/u;

/** A printout with a line a figure: each thing begins where a figure would stand twice. */
function labelled(lines: readonly string[], rows: readonly AttributeRow[]): Pasted {
  const things: Record<string, AttributeValue>[] = [];
  const unread: string[] = [];
  let now: Record<string, AttributeValue> = {};
  for (const line of lines) {
    const found = LABELLED.exec(line.trim().replace(/:\s*/, ': '));
    const row = found && rowOf(rows, (found[1] ?? '').replace(/[:=]$/, ''));
    const value = row ? valueOf(row, found[2] ?? '', '') : undefined;
    if (!row || value === undefined) {
      unread.push(line.trim());
      continue;
    }
    if (row.id in now || things.length === 0) things.push((now = {}));
    now[row.id] = value;
  }
  return { things, unread };
}

/**
 * The things of a list of the day, read from a pasted text: a table with headings, or a printout with a line a figure. Nothing is guessed: what cannot be read is
 * handed back, and who pasted it sees every figure in its field before it counts.
 * @param text as it was pasted
 * @param rows what is asked of each thing
 * @example pastedThings('Capacity: 10000 gal\nUllage: 4000 gal', attributesOf('connected-tank')).things.length // 1
 */
export function pastedThings(text: string, rows: readonly AttributeRow[]): Pasted {
  const lines = text.split(/\r?\n/).filter((l) => l.trim() !== '');
  const read = table(lines, rows) ?? labelled(lines, rows);
  return { ...read, things: read.things.slice(0, 100) };
}
