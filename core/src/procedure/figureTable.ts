import { decimalIn, sameDimension, showQuantity, type Quantity } from '../quantity';
import { measured, type AttributeRow } from './assetClass';
import { attributeOf, type AttributesByRole } from './condition';
import type { AttributeRef, Id, Procedure, RuleSet, Source, Value, Words } from './language';

/** What tables of one kind are told by: the figure that a row is found by, and what it gives. */
export interface TableKind {
  readonly id: Id;
  readonly title: Words;
  /** A row holds up to its figure of this, included. */
  readonly by: AttributeRow;
  readonly gives: readonly AttributeRow[];
}

/** Every kind of table that a procedure may take figures from. */
export const tableKinds: readonly TableKind[] = [
  {
    id: 'vapour-times',
    title: 'Times and permitted losses by ullage',
    by: measured('volume', '[gal_us]', 'L', 'm3')('ullage', 'Ullage up to', 10, 100_000),
    gives: [
      measured('time', 'min', 's', 'h')('hold', 'Watched for', 1, 240),
      measured('pressure', "[in_i'H2O]", 'Pa', 'mbar')('permittedLoss', 'Permitted loss', 0.005, 5),
    ],
  },
];

/**
 * A kind of table.
 * @example tableKind('vapour-times')?.gives.map((g) => g.id) // ['hold', 'permittedLoss']
 */
export const tableKind = (id: Id): TableKind | undefined => tableKinds.find((k) => k.id === id);

export interface TableLine {
  readonly upTo: Quantity;
  readonly gives: Readonly<Record<Id, Quantity>>;
}

/** A table of figures as an authority or a maker prints it, kept as a document: it is never changed, a new edition takes its place. */
export interface FigureTable {
  readonly kind: Id;
  /** What items name it by: the same in every edition. */
  readonly id: Id;
  readonly edition: Words;
  readonly title: Words;
  readonly source: Source;
  /** ISO dates: the first and the last day on which it holds. */
  readonly from: Words;
  readonly until?: Words;
  readonly lines: readonly TableLine[];
}

/** Tables that a run goes by, as they stood when it was opened, by the name that its procedure has for them. */
export type Tables = Readonly<Record<Id, FigureTable>>;

export interface TableFlaw {
  readonly code: 'kindUnknown' | 'dates' | 'byDimension' | 'byOrder' | 'figureMissing' | 'figureUnknown' | 'figureDimension' | 'figureLow';
  /** Counted from 1; 0 for what is of the whole table. */
  readonly line: number;
  readonly about: Words;
}

/**
 * What is wrong with a table: lines that do not rise, a figure that is missing, a unit of another kind. What has none may be published.
 * @param table as it was read
 * @returns the flaws, none for a sound table
 * @example tableFlaws({ kind: 'vapour-times', id: 'a', edition: '1', title: 'A', source: { title: 'A' }, from: '2026-01-01', lines: [{ upTo: { value: 500, unit: '[gal_us]' }, gives: { hold: { value: 5, unit: 'min' } } }] }).map((f) => f.about) // ['Permitted loss']
 */
export function tableFlaws(table: FigureTable): readonly TableFlaw[] {
  const kind = tableKind(table.kind);
  if (!kind) return [{ code: 'kindUnknown', line: 0, about: table.kind }];
  const flaws: TableFlaw[] = [];
  if (table.until !== undefined && table.until < table.from) flaws.push({ code: 'dates', line: 0, about: `${table.from} – ${table.until}` });
  const fits = (row: AttributeRow, q: Quantity): boolean => row.type.kind === 'quantity' && sameDimension(q.unit, row.type.usual[0]);
  table.lines.forEach(({ upTo, gives }, i) => {
    const line = i + 1;
    const before = table.lines[i - 1]?.upTo;
    if (!fits(kind.by, upTo)) flaws.push({ code: 'byDimension', line, about: kind.by.title });
    else if (before && fits(kind.by, before) && decimalIn(upTo, before.unit).lte(before.value))
      flaws.push({ code: 'byOrder', line, about: showQuantity(upTo) });
    for (const row of kind.gives) {
      const given = gives[row.id];
      if (!given) flaws.push({ code: 'figureMissing', line, about: row.title });
      else if (!fits(row, given)) flaws.push({ code: 'figureDimension', line, about: row.title });
      else if (given.value <= 0) flaws.push({ code: 'figureLow', line, about: row.title });
    }
    for (const id of Object.keys(gives)) if (!kind.gives.some((g) => g.id === id)) flaws.push({ code: 'figureUnknown', line, about: id });
  });
  return flaws;
}

/**
 * Figures of a table that nobody would expect: a decimal point that slipped. They are asked about once more before it is published.
 * @returns sentences, with the line that they are of
 * @example oddFigures({ kind: 'vapour-times', id: 'a', edition: '1', title: 'A', source: { title: 'A' }, from: '2026-01-01', lines: [{ upTo: { value: 500, unit: '[gal_us]' }, gives: { hold: { value: 500, unit: 'min' }, permittedLoss: { value: 0.5, unit: "[in_i'H2O]" } } }] }) // ['Line 1: Watched for 500 min']
 */
export function oddFigures(table: FigureTable): readonly Words[] {
  const kind = tableKind(table.kind);
  if (!kind || tableFlaws(table).length > 0) return [];
  const odd = (row: AttributeRow, q: Quantity | undefined): boolean =>
    q !== undefined &&
    row.type.kind === 'quantity' &&
    (decimalIn(q, row.type.plausible.low.unit).lt(row.type.plausible.low.value) ||
      decimalIn(q, row.type.plausible.high.unit).gt(row.type.plausible.high.value));
  return table.lines.flatMap(({ upTo, gives }, i) =>
    [[kind.by, upTo] as const, ...kind.gives.map((row) => [row, gives[row.id]] as const)].flatMap(([row, q]) =>
      q && odd(row, q) ? [`Line ${String(i + 1)}: ${row.title} ${showQuantity(q)}`] : [],
    ),
  );
}

/**
 * The edition that holds on a day: of those in force the one that came into force last. Two that came on one day would leave a choice: the later edition stands.
 * @param tables every edition that is kept of one table
 * @param day ISO date
 * @example tableOn([], '2026-12-01') // undefined
 */
export function tableOn<T extends Pick<FigureTable, 'from' | 'until'>>(tables: readonly T[], day: Words): T | undefined {
  const held = tables.filter((t) => t.from <= day && (t.until === undefined || day <= t.until));
  return held.reduce<T | undefined>((last, t) => (last === undefined || t.from >= last.from ? t : last), undefined);
}

/**
 * Which tables a rule set takes figures from, by the procedure's names.
 * @example tablesUsed(procedureById('tank.vapour-10'), procedureById('tank.vapour-10').ruleSets[0]) // ['times']
 */
export function tablesUsed(procedure: Procedure, ruleSet: RuleSet): readonly Id[] {
  const named = JSON.stringify([ruleSet.parameters, ruleSet.limits, ruleSet.requires ?? []]);
  return Object.keys(procedure.tables ?? {}).filter((name) => named.includes(`"table":${JSON.stringify(name)}`));
}

/**
 * What of the items a rule set's tables hang on and nobody has said: which table it is.
 * @example unnamedTables(procedureById('tank.vapour-10'), procedureById('tank.vapour-10').ruleSets[0], { tank: {} }) // ['tank.authority']
 */
export function unnamedTables(procedure: Procedure, ruleSet: RuleSet, assets: AttributesByRole): readonly AttributeRef[] {
  return tablesUsed(procedure, ruleSet).flatMap((name) => {
    const use = procedure.tables?.[name];
    return use && tableNamed(procedure, name, assets) === undefined ? [use.named] : [];
  });
}

/**
 * The table that the items of a run name, or undefined where they name none.
 * @example tableNamed(procedureById('tank.vapour-10'), 'times', { tank: { authority: 'coast' } }) // 'coast'
 */
export function tableNamed(procedure: Procedure, name: Id, assets: AttributesByRole): Id | undefined {
  const use = procedure.tables?.[name];
  const said = use && attributeOf(assets, use.named);
  return typeof said === 'string' && said.trim() !== '' ? said.trim() : undefined;
}

/** Where a figure of a table comes from. */
const sourceOf = (table: FigureTable): Source => ({ title: table.source.title, clause: `${table.title}, edition ${table.edition}` });

/**
 * A rule set with the figures of its tables written out as rows with their conditions, and the table as their source: everything after it knows rows alone.
 * A table that is not there is left as it is.
 * @example writtenOut(procedureById('tank.vapour-10'), procedureById('tank.vapour-10').ruleSets[0], {}).id // 'in-use'
 */
export function writtenOut(procedure: Procedure, ruleSet: RuleSet, tables: Tables): RuleSet {
  if (tablesUsed(procedure, ruleSet).length === 0) return ruleSet;
  const rows = (value: Value): Value => {
    if ('rows' in value) return { rows: value.rows.map((r) => ({ ...r, value: rows(r.value) })) };
    if ('formula' in value) return { ...value, of: Object.fromEntries(Object.entries(value.of).map(([id, v]) => [id, rows(v)])) };
    if (!('table' in value)) return value;
    const table = tables[value.table];
    const use = procedure.tables?.[value.table];
    if (!table || !use) return value;
    return {
      rows: table.lines.flatMap((l) => {
        const given = l.gives[value.figure];
        return given ? [{ when: { attribute: use.by, upTo: l.upTo }, value: given }] : [];
      }),
    };
  };
  const figured = <T extends { readonly value: Value; readonly source: Source }>(row: T): T => {
    const table = 'table' in row.value ? tables[row.value.table] : undefined;
    return { ...row, value: rows(row.value), ...(table ? { source: sourceOf(table) } : {}) };
  };
  return {
    ...ruleSet,
    parameters: Object.fromEntries(Object.entries(ruleSet.parameters).map(([id, p]) => [id, figured(p)])),
    limits: ruleSet.limits.map(figured),
    ...(ruleSet.requires ? { requires: ruleSet.requires.map(figured) } : {}),
  };
}

/**
 * The tables that a run went by, in words: whose, which edition, and from when it holds.
 * @example tablesInWords({ times: { kind: 'vapour-times', id: 'coast', edition: '3', title: 'Times by ullage', source: { title: 'Coast office' }, from: '2026-01-01', lines: [] } })[0]?.title // 'Times by ullage, edition 3'
 */
export function tablesInWords(
  tables: Tables,
): readonly { readonly title: Words; readonly things: readonly { readonly name: Words; readonly words: Words }[] }[] {
  return Object.values(tables).map((t) => ({
    title: `${t.title}, edition ${t.edition}`,
    things: [{ name: t.source.clause === undefined ? t.source.title : `${t.source.title}, ${t.source.clause}`, words: `in force from ${t.from}` }],
  }));
}
