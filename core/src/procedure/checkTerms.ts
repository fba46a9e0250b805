import { unitRow, type Unit } from '../quantity';
import { assetClass, attributesOf } from './assetClass';
import { tableKind, tablesUsed } from './figureTable';
import { formulaById } from './formula';
import type { AttributeRef, Condition, Procedure, Source, Value } from './language';

/** What is wrong with a procedure, and where. */
export interface ProcedureFlaw {
  readonly path: string;
  readonly code:
    | 'classUnknown'
    | 'roleUnknown'
    | 'channelUnknown'
    | 'unitUnknown'
    | 'attributeUnknown'
    | 'figureUnknown'
    | 'formulaUnknown'
    | 'strictWithoutOrder'
    | 'figureDimension'
    | 'stageUnknown'
    | 'stageUnreached'
    | 'stageWithoutLimit'
    | 'measureUnfit'
    | 'sourceMissing'
    | 'idRepeated'
    | 'ruleSetsNone'
    | 'aftercareMissing'
    | 'cautionUnknown'
    | 'faultsMissing'
    | 'stateUnknown'
    | 'claimMissing'
    | 'leakUnlooked'
    | 'checkEmpty'
    | 'feltUntimed'
    | 'countUntimed'
    | 'staysUnshown'
    | 'markUnknown'
    | 'countNone'
    | 'listUncounted'
    | 'feltUnsaid'
    | 'feelReads'
    | 'feelNothing'
    | 'decidesNothing'
    | 'seeksNothing'
    | 'listUnknown'
    | 'listUnused'
    | 'partUnknown'
    | 'idReserved'
    | 'figureShadowed'
    | 'agreeNotTwo'
    | 'tableUnknown'
    | 'tableUnused'
    | 'provesItem'
    | 'drawingUnknown'
    | 'neverReached';
  readonly about: string;
}

/** Collects flaws under a path, so that the checks below read as a list of statements. */
export class Report {
  readonly flaws: ProcedureFlaw[] = [];
  unless(ok: boolean, path: string, code: ProcedureFlaw['code'], about: string): void {
    if (!ok) this.flaws.push({ path, code, about });
  }
}

/**
 * An attribute is one of every class that its role can be, or of the part of its list.
 * @example ((r) => (checkAttribute(r, procedureById('suit.inflation'), 'here', 'suit.colour'), r.flaws.map((f) => f.code)))(new Report()) // ['attributeUnknown']
 */
export function checkAttribute(report: Report, p: Procedure, path: string, ref: AttributeRef): void {
  const [role = '', attribute = ''] = ref.split('.');
  const list = p.lists?.[role];
  if (list) {
    report.unless(
      attributesOf(list.part).some((a) => a.id === attribute),
      path,
      'attributeUnknown',
      ref,
    );
    return;
  }
  const classes = p.roles[role]?.classes ?? [];
  const everywhere = classes.length > 0 && classes.every((c) => assetClass(c)?.attributes.some((a) => a.id === attribute));
  report.unless(everywhere, path, 'attributeUnknown', ref);
}

/**
 * What a condition hangs on is known, in all of its parts.
 * @example ((r) => (checkCondition(r, procedureById('suit.inflation'), 'here', { attribute: 'suit.openFaced', is: [true] }), r.flaws.map((f) => f.code)))(new Report()) // []
 */
export function checkCondition(report: Report, p: Procedure, path: string, condition: Condition): void {
  if ('all' in condition) condition.all.forEach((c, i) => checkCondition(report, p, `${path}.all[${i}]`, c));
  else checkAttribute(report, p, `${path}.attribute`, condition.attribute);
}

/**
 * A figure can be had: its attributes, formula, table and units are known.
 * @example ((r) => (checkValue(r, procedureById('suit.inflation'), 'here', { value: 1, unit: 'furlong' }), r.flaws.map((f) => f.code)))(new Report()) // ['unitUnknown']
 */
export function checkValue(report: Report, p: Procedure, path: string, value: Value): void {
  if ('rows' in value) {
    value.rows.forEach((r, i) => {
      checkCondition(report, p, `${path}.rows[${i}].when`, r.when);
      checkValue(report, p, `${path}.rows[${i}].value`, r.value);
    });
  } else if ('attribute' in value) checkAttribute(report, p, `${path}.attribute`, value.attribute);
  else if ('table' in value) {
    const given = tableKind(p.tables?.[value.table]?.kind ?? '')?.gives;
    report.unless(given?.some((g) => g.id === value.figure) === true, `${path}.table`, 'tableUnknown', `${value.table} ${value.figure}`);
  } else if ('formula' in value) {
    const formula = formulaById(value.formula);
    report.unless(formula?.takes.every((name) => value.of[name]) === true, `${path}.formula`, 'formulaUnknown', value.formula);
    for (const [name, v] of Object.entries(value.of)) checkValue(report, p, `${path}.of.${name}`, v);
  } else report.unless(unitRow(value.unit) !== undefined, path, 'unitUnknown', value.unit);
}

/**
 * A source is named; what is common practice has no clause.
 * @example ((r) => (checkSource(r, 'here', { title: 'common practice', clause: '7' }), r.flaws.map((f) => f.code)))(new Report()) // ['sourceMissing']
 */
export function checkSource(report: Report, path: string, source: Source): void {
  report.unless(
    source.title.trim() !== '' && (source.title !== 'common practice' || source.clause === undefined),
    `${path}.source`,
    'sourceMissing',
    source.title,
  );
}

/**
 * The units that a figure can come out in; those of an attribute or a formula are known only with the asset.
 * @example unitsOfValue(procedureById('tank.vapour-10'), { table: 'times', figure: 'hold' }) // ['min']
 */
export function unitsOfValue(p: Procedure, value: Value): readonly Unit[] {
  if ('rows' in value) return value.rows.flatMap((r) => unitsOfValue(p, r.value));
  if ('table' in value) {
    const type = tableKind(p.tables?.[value.table]?.kind ?? '')?.gives.find((g) => g.id === value.figure)?.type;
    return type?.kind === 'quantity' ? [type.usual[0]] : [];
  }
  return 'unit' in value ? [value.unit] : [];
}

/**
 * A kept table is of a known kind; what its lines are found by and who names it are known of the items.
 * @example ((r) => (checkTables(r, procedureById('tank.vapour-10')), r.flaws.map((f) => f.code)))(new Report()) // []
 */
export function checkTables(report: Report, p: Procedure): void {
  for (const [id, use] of Object.entries(p.tables ?? {})) {
    report.unless(tableKind(use.kind) !== undefined, `tables.${id}.kind`, 'tableUnknown', use.kind);
    checkAttribute(report, p, `tables.${id}.by`, use.by);
    checkAttribute(report, p, `tables.${id}.named`, use.named);
    report.unless(
      p.ruleSets.some((r) => tablesUsed(p, r).includes(id)),
      `tables.${id}`,
      'tableUnused',
      id,
    );
  }
}
