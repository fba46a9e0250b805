import { decimal, decimalIn, showQuantity, type Quantity } from '../quantity';
import { unknownAttributes } from './askedOf';
import { carriedOut, fittedTo } from './carriedOut';
import { keeps } from './comparison';
import { figure, holds, type AttributesByRole } from './condition';
import { writtenOut, type Tables } from './figureTable';
import type { Digest, Id, Limit, Procedure, Role, RuleSet, Stage, Words } from './language';
import { leftOut, tableLack, type PlanRefusal } from './planLack';
import { originOf, unroll, type Lists } from './unroll';

export interface ResolvedLimit extends Limit {
  readonly resolved: Quantity;
}

/** A procedure made definite for one rule set and the assets at hand: what is done, in which order, against which figures. */
export interface Plan {
  readonly procedure: Procedure;
  readonly digest: Digest;
  readonly ruleSet: RuleSet;
  readonly assets: AttributesByRole;
  readonly stages: readonly Stage[];
  readonly figures: Readonly<Record<Id, Quantity>>;
  readonly limits: readonly ResolvedLimit[];
}

/** A proving stage with what it found, in words. */
export interface ProvedStage {
  readonly stage: Id;
  readonly title: Words;
  readonly told: Words;
}

/** What an earlier run of the round proved of the rig, and where it is kept: its chain had that head when it was sealed. */
export interface RunProof {
  readonly run: Id;
  readonly record: Id;
  readonly head: Digest;
  /** ISO instant of its seal. */
  readonly at: Words;
  readonly item: Id;
  readonly stages: readonly ProvedStage[];
}

/** What is known of the day that a plan is made for, as the opening of its run has it. */
export interface OfTheDay {
  /** What is told thing by thing: a stage that is repeated for a list stands in the plan once for each thing of it. */
  readonly lists?: Lists;
  /** The kept tables that it goes by, as they stand when the run is opened. */
  readonly tables?: Tables;
  /** What was proved of the rig already: those stages are left out. */
  readonly proof?: RunProof;
}

export type PlanResult = { readonly ok: true; readonly plan: Plan } | { readonly ok: false; readonly refusal: PlanRefusal };

const refuse = (code: PlanRefusal['code'], values: Record<string, string>): PlanResult => ({ ok: false, refusal: { code, values } });

function ordered(stages: readonly Stage[], order: RuleSet['order']): readonly Stage[] {
  if (order === 'free') return stages;
  // The named stages fill the places they hold between them, in the rule set's order; the others stay where they are.
  const named = order.map((id) => stages.find((s) => s.id === id)).filter((s) => s !== undefined);
  let next = 0;
  return stages.map((s) => (order.includes(s.id) ? (named[next++] ?? s) : s));
}

function inForce(limit: Limit, on: string | undefined): boolean {
  return on === undefined || ((limit.from === undefined || limit.from <= on) && (limit.until === undefined || on <= limit.until));
}

/** Why a figure is not there: a table has no line for these items, or nobody has said it. */
function missing(document: Procedure, ruleSet: RuleSet, tables: Tables, id: Id): PlanResult {
  const from = ruleSet.parameters[originOf(id)]?.value ?? ruleSet.limits.find((l) => l.id === originOf(id))?.value;
  const table = from && 'table' in from ? tables[from.table] : undefined;
  if (!table) return refuse('plan.figureMissing', { figure: id });
  const most = table.lines.at(-1)?.upTo;
  return refuse('plan.tableShort', { table: `${table.title}, edition ${table.edition}`, upTo: most ? showQuantity(most) : '–' });
}

/**
 * Makes a plan. A figure that the rule set takes from the asset and that the asset does not carry refuses the plan: a run that needs it
 * cannot be opened without it.
 * @param items attributes by role; an empty role is left out
 * @param on ISO date of the run: limits that are not in force on it are left out; without a date all stand
 * @param day what is told of it, the tables that hold on it, and what was proved before
 * @returns the plan, or why there is none
 * @example makePlan(procedureById('suit.inflation'), '0'.repeat(64), 'nothing', {}).ok // false
 */
export function makePlan(
  document: Procedure,
  digest: Digest,
  ruleSetId: Id,
  items: AttributesByRole,
  on?: string,
  { lists = {}, tables = {}, proof }: OfTheDay = {},
): PlanResult {
  const asked = document.ruleSets.find((r) => r.id === ruleSetId);
  if (!asked) return refuse('plan.ruleSetUnknown', { ruleSet: ruleSetId });
  const chosen = writtenOut(document, asked, tables);
  const unrolled = unroll(document, chosen, lists);
  if ('code' in unrolled) return { ok: false, refusal: unrolled };
  const { procedure, ruleSet, parts } = unrolled;
  const short = leftOut(document, chosen, items, lists);
  if (short) return { ok: false, refusal: short };
  for (const [role, row] of Object.entries(procedure.roles)) if (!row.optional && !items[role]) return refuse('plan.roleEmpty', { role });
  const stranger = Object.keys(items).find((role: Role) => !procedure.roles[role]);
  if (stranger !== undefined) return refuse('plan.roleUnknown', { role: stranger });

  const lack = tableLack(document, asked, items, on, tables);
  if (lack) return { ok: false, refusal: lack };

  const assets = { ...items, ...parts };
  const unknown = unknownAttributes(procedure, ruleSet, assets);
  if (unknown.length > 0) return refuse('plan.attributeUnknown', { attributes: unknown.join(' ') });
  for (const r of ruleSet.requires ?? []) {
    const is = figure(r.of, assets);
    const must = figure(r.value, assets);
    if (!is || !must) return refuse('plan.figureMissing', { figure: r.id });
    if (!keeps(decimalIn(is, must.unit), r.op, decimal(must.value)))
      return refuse('plan.requirementUnmet', { text: r.text, is: showQuantity(is), op: r.op, must: showQuantity(must) });
  }
  const figures: Record<Id, Quantity> = {};
  for (const [id, parameter] of Object.entries(ruleSet.parameters)) {
    const found = figure(parameter.value, assets);
    if (!found) return missing(document, asked, tables, id);
    figures[id] = found;
  }
  const limits: ResolvedLimit[] = [];
  for (const limit of ruleSet.limits) {
    if (!inForce(limit, on) || (limit.when && !holds(limit.when, assets))) continue;
    const resolved = figure(limit.value, assets);
    if (!resolved) return missing(document, asked, tables, limit.id);
    limits.push({ ...limit, resolved });
  }
  const stages = ordered(procedure.stages, ruleSet.order)
    .flatMap((s) => fittedTo(s, figures, assets) ?? [])
    .flatMap((s) => carriedOut(s, ruleSet) ?? [])
    // Only what proves the rig is taken over from another run, whatever an opening says.
    .filter((s) => !s.proves || !proof?.stages.some((p) => p.stage === s.id));
  const there = limits.filter((l) => !procedure.stages.some((s) => s.id === l.stage && s.proves) || stages.some((s) => s.id === l.stage));
  return { ok: true, plan: { procedure, digest, ruleSet, assets, stages, figures, limits: there } };
}

/**
 * A figure of the plan.
 * @throws RangeError when the plan has none of that name: the checker refuses such a procedure before it is published.
 * @example figureOf(exampleOf('suit.inflation', 'inflate').plan, 'hold') // { value: 4, unit: 'min' }
 */
export function figureOf(plan: Plan, id: Id): Quantity {
  const found = plan.figures[id];
  if (!found) throw new RangeError(`the rule set ${plan.ruleSet.id} has no figure ${id}`);
  return found;
}
