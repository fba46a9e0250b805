import type { RoundView } from '@grellin/contract';
import Papa from 'papaparse';

const columns = ['tag', 'serial', 'title', 'result', 'finding', 'record', 'sealed_at', 'next_due', 'by', 'rig_proved_in'] as const;

/** The sheet of a round as CSV (RFC 4180): a line an item, in the order in which they were done; then what is left, with who has it. */
export function sheetCsv(round: RoundView): string {
  const rows = round.runs.map((r) => [r.tag, r.serial, r.title, r.word, r.summary, r.record ?? '', r.sealedAt ?? '', r.nextDue ?? '', r.by, r.provedIn ?? '']);
  const left = round.items
    .filter((i) => i.run === null)
    .map((i) => [i.tag, i.serial, i.title, i.stands, '', i.record ?? '', '', '', i.takenBy?.name ?? '', '']);
  return `${Papa.unparse({ fields: [...columns], data: [...rows, ...left] }, { newline: '\r\n', escapeFormulae: /^[=+\-@\t\r]/ })}\r\n`;
}
