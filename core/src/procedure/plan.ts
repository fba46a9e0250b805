import { decimal, decimalIn, showQuantity, type Quantity } from '../quantity';
import { figure, holds, type AttributesByRole } from './condition';
import { keeps } from './comparison';
import type { Digest, Id, Limit, Procedure, Role, RuleSet, Stage } from './language';

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

export interface PlanRefusal {
  readonly code: 'plan.ruleSetUnknown' | 'plan.roleEmpty' | 'plan.roleUnknown' | 'plan.figureMissing' | 'plan.requirementUnmet';
  readonly values: Readonly<Record<string, string>>;
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

function applies(stage: Stage, ruleSet: RuleSet, assets: AttributesByRole): boolean {
  return !ruleSet.skip.includes(stage.id) && (stage.when === undefined || holds(stage.when, assets));
}

/**
 * Makes a plan. A figure that the rule set takes from the asset and that the asset does not carry refuses the plan: a run that needs it
 * cannot be opened without it.
 * @param assets attributes by role; an empty role is left out
 * @param on ISO date of the run: limits that are not in force on it are left out; without a date all stand
 * @returns the plan, or why there is none
 * @example makePlan(procedureById('suit.inflation'), '0'.repeat(64), 'nothing', {}).ok // false
 */
export function makePlan(procedure: Procedure, digest: Digest, ruleSetId: Id, assets: AttributesByRole, on?: string): PlanResult {
  const ruleSet = procedure.ruleSets.find((r) => r.id === ruleSetId);
  if (!ruleSet) return refuse('plan.ruleSetUnknown', { ruleSet: ruleSetId });
  for (const [role, row] of Object.entries(procedure.roles)) if (!row.optional && !assets[role]) return refuse('plan.roleEmpty', { role });
  const stranger = Object.keys(assets).find((role: Role) => !procedure.roles[role]);
  if (stranger !== undefined) return refuse('plan.roleUnknown', { role: stranger });

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
    if (!found) return refuse('plan.figureMissing', { figure: id });
    figures[id] = found;
  }
  const limits: ResolvedLimit[] = [];
  for (const limit of ruleSet.limits) {
    if (!inForce(limit, on) || (limit.when && !holds(limit.when, assets))) continue;
    const resolved = figure(limit.value, assets);
    if (!resolved) return refuse('plan.figureMissing', { figure: limit.id });
    limits.push({ ...limit, resolved });
  }
  const stages = ordered(procedure.stages, ruleSet.order)
    .filter((s) => applies(s, ruleSet, assets))
    .map((s) => ({ ...s, steps: s.steps.filter((step) => !ruleSet.skip.includes(step.id)) }));
  return { ok: true, plan: { procedure, digest, ruleSet, assets, stages, figures, limits } };
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

/**
 * The rule set whose `suits` holds for these assets, if exactly one does; otherwise the officer must choose.
 * @example suitedRuleSet(procedureById('anaes.circle'), { circuit: { patients: 'human' } })?.id // 'human'
 */
export function suitedRuleSet(procedure: Procedure, assets: AttributesByRole): RuleSet | undefined {
  const suited = procedure.ruleSets.filter((r) => r.suits !== undefined && holds(r.suits, assets));
  return suited.length === 1 ? suited[0] : undefined;
}
