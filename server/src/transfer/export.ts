import { Readable } from 'node:stream';
import { REGISTER_FORMAT, type AssetRow, type RegisterPage, type RegisterQuery } from '@grellin/contract';
import { assetClass, assetClasses, itemFacts } from '@grellin/core';
import Papa from 'papaparse';
import type { Queries } from '../db';
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
async function rowsOf(db: Queries, query: RegisterQuery, today: string): Promise<AsyncIterable<readonly AssetRow[]>> {
  const first = await registerPage(db, { ...query, ...PAGE }, today);
  async function* pages(): AsyncGenerator<readonly AssetRow[]> {
    for (let page: RegisterPage | null = first; page !== null;) {
      yield page.rows;
      page = page.next === null ? null : await registerPage(db, { ...query, ...PAGE, after: page.next }, today);
    }
  }
  return pages();
}

function attributesOf(query: RegisterQuery): readonly string[] {
  const classes = query.class === undefined ? assetClasses : [assetClass(query.class)].filter((c) => c !== undefined);
  return [...new Set(classes.flatMap((c) => c.attributes.filter((a) => !a.asked).map((a) => a.id)))];
}

/** The register, or what a query finds of it, as CSV (RFC 4180). */
export async function registerCsv(db: Queries, query: RegisterQuery, today: string): Promise<Readable> {
  const pages = await rowsOf(db, query, today);
  const attributes = attributesOf(query);
  async function* lines(): AsyncGenerator<string> {
    yield Papa.unparse([[...factColumns, ...attributes.map((a) => `${ATTRIBUTE}${a}`), ...toldColumns]], CSV) + '\r\n';
    for await (const rows of pages)
      if (rows.length > 0)
        yield (
          Papa.unparse(
            rows.map((r) => [...fieldsOf(r, attributes)]),
            CSV,
          ) + '\r\n'
        );
  }
  return Readable.from(lines());
}

/** The same as JSON, by docs/register.schema.json. */
export async function registerJson(db: Queries, query: RegisterQuery, today: string): Promise<Readable> {
  const pages = await rowsOf(db, query, today);
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
