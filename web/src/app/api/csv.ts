export type CsvValue = string | number | boolean | null | undefined;

/** One field of an RFC 4180 file. A field that a spreadsheet would take for a formula is made plain text by a leading apostrophe. */
export function csvField(value: CsvValue): string {
  const text = value === null || value === undefined ? '' : String(value);
  const plain = /^[=+\-@\t\r]/.test(text) && !/^-?\d+(\.\d+)?$/.test(text) ? `'${text}` : text;
  return /[",\r\n]/.test(plain) ? `"${plain.replaceAll('"', '""')}"` : plain;
}

/** An RFC 4180 file: CRLF after every record, the first one the column names. */
export function csv(columns: readonly string[], rows: readonly (readonly CsvValue[])[]): string {
  return [columns, ...rows].map((r) => `${r.map(csvField).join(',')}\r\n`).join('');
}

/** Hands a file to the person. */
export function save(document: Document, name: string, text: string, type = 'text/csv;charset=utf-8'): void {
  const url = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}
