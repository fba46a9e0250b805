import { tableKinds, type FigureTable } from '@grellin/core';
import { array, bool, type InferType } from 'yup';
import { jsonSchemaOf, type JsonSchema } from './jsonSchema';
import { date, id, optionalRecordOf, recordOf, words } from './primitives';
import { quantitySchema } from './quantity';
import { same } from './same';
import { choice, shape } from './shape';

const MOST_LINES = 500;

/** A table of figures as it is kept, sent and read from a file: the authority's, a maker's. */
export const figureTableSchema = shape({
  kind: choice(...tableKinds.map((k) => k.id)),
  id: id(),
  edition: words(40),
  title: words(200),
  source: shape({ title: words(300), clause: words(300).optional() }),
  from: date(),
  until: date().optional(),
  lines: array()
    .of(shape({ upTo: quantitySchema, gives: recordOf(quantitySchema) }))
    .required()
    .min(1, 'short')
    .max(MOST_LINES, 'long'),
});
same<InferType<typeof figureTableSchema>, FigureTable>(true);

/** A table that is published. `sure` says that figures which nobody would expect are meant. */
export const publishTableSchema = shape({ table: figureTableSchema, sure: bool().optional() });
export interface PublishTable {
  readonly table: FigureTable;
  readonly sure?: boolean | undefined;
}
same<InferType<typeof publishTableSchema>, PublishTable>(true);

/** A table's lines as a file has them, CSV: a column for what it is found by, one for each figure. */
export const readTableSchema = shape({ kind: choice(...tableKinds.map((k) => k.id)), csv: words(200_000) });
export type ReadTableBody = InferType<typeof readTableSchema>;

export const withdrawTableSchema = shape({ reason: words(500) });

/** The tables of a run, by the name that its procedure has for each. */
export const tablesSchema = optionalRecordOf(figureTableSchema);

/** The published JSON Schema of a table of figures. */
export function figureTableJsonSchema(): JsonSchema {
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    $id: 'urn:grellin:schema:figure-table:1',
    title: 'Grellin table of figures, edition 1',
    ...jsonSchemaOf(figureTableSchema),
  };
}
