import { Readable } from 'node:stream';
import { REGISTER_FORMAT, type AssetRow, type LogQuery, type Page, type RecordRow, type RegisterQuery } from '@grellin/contract';
import { assetClass, assetClasses, itemFacts, stationTime } from '@grellin/core';
import Papa from 'papaparse';
import type { Queries } from '../db';
import { logPage } from '../record';
import { registerPage } from '../register/item';
import { ATTRIBUTE, factColumns, fieldsOf, toldColumns } from './columns';

/** RFC 4180; a field that a spreadsheet would take for a formula is made plain text. */
const CSV = { newline: '\r\n', escapeFormulae: /^[=+\-@\t\r]/ } as const;

/** Few enough that putting a page into words keeps no other request waiting. */
const PAGE = { limit: '50' } as const;

/**
 * Every row that a query finds, page by page: a hundred thousand never stand in memory together. The first page is read before anything is sent, so that
 * a query that cannot be answered is refused as a whole.
 */
async function rowsOf<Row>(page: (which: { readonly limit: string; readonly after?: string }) => Promise<Page<Row>>): Promise<AsyncIterable<readonly Row[]>> {
  const first = await page(PAGE);
  async function* pages(): AsyncGenerator<readonly Row[]> {
    for (let p: Page<Row> | null = first; p !== null;) {
      yield p.rows;
      p = p.next === null ? null : await page({ ...PAGE, after: p.next });
    }
  }
  return pages();
}

const itemsOf = (db: Queries, query: RegisterQuery, today: string): Promise<AsyncIterable<readonly AssetRow[]>> =>
  rowsOf((which) => registerPage(db, { ...query, ...which }, today));

/** The lines of a file, its head first. */
async function* csvLines<Row>(head: readonly string[], pages: AsyncIterable<readonly Row[]>, fields: (row: Row) => readonly unknown[]): AsyncGenerator<string> {
  yield Papa.unparse([[...head]], CSV) + '\r\n';
  for await (const rows of pages)
    if (rows.length > 0)
      yield (
        Papa.unparse(
          rows.map((r) => [...fields(r)]),
          CSV,
        ) + '\r\n'
      );
}

function attributesOf(query: RegisterQuery): readonly string[] {
  const classes = query.class === undefined ? assetClasses : [assetClass(query.class)].filter((c) => c !== undefined);
  return [...new Set(classes.flatMap((c) => c.attributes.filter((a) => !a.asked).map((a) => a.id)))];
}

/** The register, or what a query finds of it, as CSV (RFC 4180). */
export async function registerCsv(db: Queries, query: RegisterQuery, today: string): Promise<Readable> {
  const attributes = attributesOf(query);
  const head = [...factColumns, ...attributes.map((a) => `${ATTRIBUTE}${a}`), ...toldColumns];
  return Readable.from(csvLines(head, await itemsOf(db, query, today), (r) => fieldsOf(r, attributes)));
}

/** The columns of the log as they are headed on its page, and what stands in each: what is exported is what is shown, in the words shown. */
const logColumns = (zone: string): Readonly<Record<string, (r: RecordRow) => unknown>> => ({
  [`When (${zone})`]: (r) => stationTime(Date.parse(r.sealedAt), zone),
  Item: (r) => r.tag,
  'Title of the item': (r) => r.assetTitle,
  Procedure: (r) => r.procedureTitle,
  'Rule set': (r) => r.ruleSetTitle,
  Verdict: (r) => r.word,
  'Allowance used, %': (r) => r.allowancePercent,
  Simulated: (r) => (r.simulated ? 'simulated' : ''),
  'Sealed by': (r) => r.by,
  'Next due': (r) => r.nextDue,
  Record: (r) => r.number,
});

/** What a question finds in the log, as CSV (RFC 4180). */
export async function logCsv(db: Queries, query: LogQuery, zone: string): Promise<Readable> {
  const columns = logColumns(zone);
  const pages = await rowsOf((which) => logPage(db, { ...query, ...which }, zone));
  return Readable.from(csvLines(Object.keys(columns), pages, (r) => Object.values(columns).map((of) => of(r))));
}

/** The same as JSON, by docs/register.schema.json. */
export async function registerJson(db: Queries, query: RegisterQuery, today: string): Promise<Readable> {
  const pages = await itemsOf(db, query, today);
  async function* parts(): AsyncGenerator<string> {
    yield `{"format":"${REGISTER_FORMAT}","assets":[`;
    let first = true;
    for await (const rows of pages)
      for (const row of rows) {
        yield `${first ? '' : ','}\n${JSON.stringify({ ...itemFacts(row), attributes: row.attributes })}`;
        first = false;
      }
    yield '\n]}\n';
  }
  return Readable.from(parts());
}
