import { Readable } from 'node:stream';
import { REGISTER_FORMAT, type AssetRow, type RegisterQuery } from '@grellin/contract';
import { assetClass, assetClasses } from '@grellin/core';
import Papa from 'papaparse';
import { registerPage } from '../asset/page';
import type { Queries } from '../db/database';
import { ATTRIBUTE, factColumns, fieldsOf, toldColumns } from './columns';

/** RFC 4180; a field that a spreadsheet would take for a formula is made plain text. */
const CSV = { newline: '\r\n', escapeFormulae: /^[=+\-@\t\r]/ } as const;

/** Every row that a query finds, page by page: a hundred thousand never stand in memory together. */
async function* rowsOf(db: Queries, query: RegisterQuery, today: string): AsyncGenerator<readonly AssetRow[]> {
  let after: string | null = null;
  do {
    const page: Awaited<ReturnType<typeof registerPage>> = await registerPage(db, { ...query, limit: '200', ...(after === null ? {} : { after }) }, today);
    yield page.rows;
    after = page.next;
  } while (after !== null);
}

function attributesOf(query: RegisterQuery): readonly string[] {
  const classes = query.class === undefined ? assetClasses : [assetClass(query.class)].filter((c) => c !== undefined);
  return [...new Set(classes.flatMap((c) => c.attributes.filter((a) => !a.asked).map((a) => a.id)))];
}

/** The register, or what a query finds of it, as CSV (RFC 4180). */
export function registerCsv(db: Queries, query: RegisterQuery, today: string): Readable {
  const attributes = attributesOf(query);
  async function* lines(): AsyncGenerator<string> {
    yield Papa.unparse([[...factColumns, ...attributes.map((a) => `${ATTRIBUTE}${a}`), ...toldColumns]], CSV) + '\r\n';
    for await (const rows of rowsOf(db, query, today))
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
export function registerJson(db: Queries, query: RegisterQuery, today: string): Readable {
  async function* parts(): AsyncGenerator<string> {
    yield `{"format":"${REGISTER_FORMAT}","assets":[`;
    let first = true;
    for await (const rows of rowsOf(db, query, today))
      for (const { tag, serial, class: kind, title, place, practice, attributes, madeOn, life } of rows) {
        yield `${first ? '' : ','}\n${JSON.stringify({ tag, serial, class: kind, title, place, practice, attributes, madeOn, life })}`;
        first = false;
      }
    yield '\n]}\n';
  }
  return Readable.from(parts());
}
