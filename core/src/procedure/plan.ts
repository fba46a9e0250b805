import { decimal, decimalIn, showQuantity, type Quantity } from '../quantity';
import { figure, holds, unknownFor, unknownIn, type AttributesByRole } from './condition';
import { keeps } from './comparison';
import { tableNamed, tablesUsed, unnamedTables, writtenOut, type Tables } from './figureTable';
import { countsOf, leastOf, listsUsed, originOf, unroll, type ListRefusal, type Lists } from './unroll';
import { byKind, WORKING_READ } from './method';
import { channelsOf } from './stageFigures';
import type { AttributeRef, Channel, CheckItem, CheckMethod, Condition, Digest, Id, Limit, Procedure, Role, RuleSet, Stage, Words } from './language';

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
  readonly code:
    | 'plan.attributeUnknown'
    | 'plan.ruleSetUnknown'
    | 'plan.roleEmpty'
    | 'plan.roleUnknown'
    | 'plan.figureMissing'
    | 'plan.requirementUnmet'
    | 'plan.listShort'
    | 'plan.tableMissing'
    | 'plan.tableShort'
    | 'plan.listUncovered'
    | ListRefusal['code'];
  readonly values: Readonly<Record<string, string>>;
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

/** An item that no gauge answers. */
function unshown(item: CheckItem): CheckItem {
  const { shown, ...said } = item;
  return shown === undefined ? item : said;
}

/** Something that is done several times, once for each time. */
function counted(item: CheckItem): readonly CheckItem[] {
  const { times, ...one } = item;
  // What the items at hand say is written out once they are known.
  if (typeof times !== 'number') return [item];
  return Array.from({ length: times }, (_, k) => ({ ...one, id: `${item.id}.${String(k + 1)}`, text: `${item.text} (${String(k + 1)} of ${String(times)})` }));
}

/**
 * A stage as a rule set has it carried out: without the steps that it leaves out, what is counted once for each time, and where it goes by feel without what a
 * gauge would show.
 * @returns null where the rule set leaves it out
 * @example carriedOut({ id: 'soap', steps: [] }, { skip: ['soap'] }) // null
 */
export function carriedOut(stage: Stage, ruleSet: RuleSet): Stage | null {
  if (ruleSet.skip.includes(stage.id)) return null;
  const steps = stage.steps.filter((step) => !ruleSet.skip.includes(step.id));
  const items = (m: CheckMethod): readonly CheckItem[] =>
    m.items
      .filter((i) => !ruleSet.skip.includes(originOf(i.id)))
      .flatMap(counted)
      .map((i) => (ruleSet.byFeel ? unshown(i) : i));
  const looks = byKind({ check: (m) => ({ ...m, items: items(m) }) }, stage.method);
  // A reading that this school does not take.
  const expands = byKind({ expansion: ({ working, ...m }) => (working && !ruleSet.skip.includes(WORKING_READ) ? { ...m, working } : m) }, stage.method);
  const method = looks ?? expands;
  return looks?.items.length === 0 ? null : { ...stage, steps, ...(method ? { method } : {}) };
}

/** What is done as often as a figure says of the items at hand: a plug for each valve that nothing else sits in. */
function countedBy(item: CheckItem, figures: Readonly<Record<Id, Quantity>>): readonly CheckItem[] {
  if (typeof item.times !== 'string') return [item];
  return counted({ ...item, times: Math.max(0, Math.round(figures[item.times]?.value ?? 0)) });
}

/** Whether nobody has said this of the items at hand. */
function isUnsaid(ref: AttributeRef, assets: AttributesByRole): boolean {
  const [role = '', attribute = ''] = ref.split('.');
  const said = assets[role]?.[attribute];
  return said === undefined || said === '';
}

/** An item with the figures that it is asked with; none where they are not known. */
function told(item: CheckItem, assets: AttributesByRole): readonly CheckItem[] {
  const { says, ...asked } = item;
  if (!says) return [item];
  const figures = says.flatMap(({ words, value }) => {
    const known = figure(value, assets);
    return known ? [`${words} ${showQuantity(known)}`] : [];
  });
  return figures.length === says.length ? [{ ...asked, text: `${item.text}: ${figures.join(', ')}` }] : [];
}

/** A stage without what is not fitted to the items of a run; null where nothing of it is left. */
function fittedTo(stage: Stage, figures: Readonly<Record<Id, Quantity>>, assets: AttributesByRole): Stage | null {
  if (stage.when !== undefined && !holds(stage.when, assets)) return null;
  const fitted = (i: CheckItem): boolean => (i.when === undefined || holds(i.when, assets)) && (i.unless === undefined || isUnsaid(i.unless, assets));
  const looks = byKind({ check: (m) => ({ ...m, items: m.items.filter(fitted).flatMap((i) => told(i, assets)).flatMap((i) => countedBy(i, figures)) }) }, stage.method); // prettier-ignore
  return !looks ? stage : looks.items.length > 0 ? { ...stage, method: looks } : null;
}

/**
 * The channels that a rule set reads: an instrument that it does not read is not asked for.
 * @example channelsUsed(procedureById('suit.inflation'), procedureById('suit.inflation').ruleSets[0]) // ['suit', 'inside', 'outside']
 */
export function channelsUsed(procedure: Procedure, ruleSet: RuleSet): readonly Channel[] {
  const stages = procedure.stages.flatMap((s) => carriedOut(s, ruleSet) ?? []);
  const read = stages.flatMap(channelsOf);
  return Object.keys(procedure.channels).filter((c) => read.includes(c));
}

/**
 * Whether a channel has to be fitted, beside the others that are.
 * @example mustBeFitted(procedureById('cyl.water-jacket'), 'water', (c) => c === 'scale') // false
 */
export function mustBeFitted(procedure: Procedure, channel: Channel, isFitted: (other: Channel) => boolean): boolean {
  const row = procedure.channels[channel];
  if (!row || row.optional) return false;
  if (row.with !== undefined) return isFitted(row.with);
  return row.unless === undefined || !isFitted(row.unless);
}

/**
 * What of the assets a rule set hangs on and nobody has said: under rules that skip nothing unknown it is asked before a run is opened.
 * @example unknownAttributes({ ...procedureById('suit.inflation'), language: 2 }, procedureById('suit.inflation').ruleSets[0], { suit: {} }) // ['suit.openFaced', 'suit.exhaustValves', 'suit.adapters']
 */
export function unknownAttributes(procedure: Procedure, ruleSet: RuleSet, assets: AttributesByRole): readonly AttributeRef[] {
  if (!strict({ procedure })) return [];
  const stages = procedure.stages.filter((s) => !ruleSet.skip.includes(s.id));
  const asks = (i: CheckItem): readonly (Condition | undefined)[] => (ruleSet.skip.includes(i.id) ? [] : [i.when]);
  const running = stages.filter((s) => s.when === undefined || unknownIn(s.when, assets).length > 0 || holds(s.when, assets));
  const conditions = [
    ...running.flatMap((s) => [s.when, ...(byKind({ stroke: (m) => m.axles.map((a) => a.when), check: (m) => m.items.flatMap(asks) }, s.method) ?? [])]),
    ...ruleSet.limits.map((l) => l.when),
  ];
  const values = [
    ...Object.values(ruleSet.parameters).map((p) => p.value),
    ...ruleSet.limits.filter((l) => l.when === undefined || holds(l.when, assets)).map((l) => l.value),
    ...(ruleSet.requires ?? []).flatMap((r) => [r.of, r.value]),
    ...running.flatMap((s) => (s.byNight ? [{ attribute: s.byNight.latitude }, { attribute: s.byNight.longitude }] : [])),
    ...listsUsed(procedure, ruleSet)
      .flatMap((list) => (procedure.lists?.[list] ? countsOf(procedure.lists[list], assets) : []))
      .map((attribute) => ({ attribute })),
  ];
  const found = [...conditions.flatMap((c) => (c ? unknownIn(c, assets) : [])), ...values.flatMap((v) => unknownFor(v, assets))];
  return [...new Set([...found, ...unnamedTables(procedure, ruleSet, assets)])];
}

/**
 * The role of what is tested, beside which others are coupled: the one that is never left empty. The order of names in a document says nothing.
 * @example mainRole(procedureById('brakes.whole')) // 'vehicle'
 */
export function mainRole(procedure: Pick<Procedure, 'roles'>): Role {
  const wanted = Object.keys(procedure.roles).filter((role) => !procedure.roles[role]?.optional);
  return wanted.sort()[0] ?? '';
}

/** Every condition of a document, wherever it stands. */
function conditionsIn(part: unknown): readonly { readonly attribute: string; readonly is: readonly (string | boolean)[] }[] {
  if (typeof part !== 'object' || part === null) return [];
  const inside = Object.values(part).flatMap(conditionsIn);
  return 'attribute' in part && 'is' in part ? [part as { attribute: string; is: (string | boolean)[] }, ...inside] : inside;
}

/**
 * The values of an attribute that a procedure knows, to choose from.
 * @example valuesOf(procedureById('suit.inflation'), 'suit.buildStandard') // ['ASTM F1052', 'NFPA 1991', 'EN 943-1', '29 CFR 1910.120']
 */
export function valuesOf(procedure: Procedure, attribute: AttributeRef): readonly string[] {
  const found = conditionsIn(procedure).filter((c) => c.attribute === attribute);
  return [...new Set(found.flatMap((c) => c.is))].filter((v) => typeof v === 'string');
}

/** A list of the day with fewer things than the register says that there are: nothing is tight that was not looked at. */
function leftOut(procedure: Procedure, ruleSet: RuleSet, items: AttributesByRole, lists: Lists): PlanRefusal | null {
  for (const list of listsUsed(procedure, ruleSet)) {
    const row = procedure.lists?.[list];
    if (!row) continue;
    const told = lists[list] ?? [];
    const unsaid = countsOf(row, items).find((attribute) => !figure({ attribute }, items));
    if (unsaid) return { code: 'plan.attributeUnknown', values: { attributes: unsaid } };
    const least = leastOf(row, items);
    if (told.length < least) return { code: 'plan.listShort', values: { list: row.title, least: String(least) } };
    const { covers } = row;
    const all = covers && figure({ attribute: covers.count }, items);
    if (covers && all && new Set(told.map((a) => a[covers.by])).size < all.value)
      return { code: 'plan.listUncovered', values: { list: row.title, count: String(all.value), by: covers.by } };
  }
  return null;
}

/** A table that the rule set takes figures from and that is not at hand, is another than the one that the items name, or does not hold on that day. */
function tableLack(document: Procedure, ruleSet: RuleSet, items: AttributesByRole, on: string | undefined, tables: Tables): PlanRefusal | null {
  for (const name of tablesUsed(document, ruleSet)) {
    const named = tableNamed(document, name, items);
    if (named === undefined) return { code: 'plan.attributeUnknown', values: { attributes: document.tables?.[name]?.named ?? name } };
    const table = tables[name];
    const holdsOn = table && (on === undefined || (table.from <= on && (table.until === undefined || on <= table.until)));
    if (table?.kind !== document.tables?.[name]?.kind || table?.id !== named || !holdsOn) return { code: 'plan.tableMissing', values: { table: named } };
  }
  return null;
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
 * Whether a plan is of a document that was written for the second edition of the rules: nothing that was seen is unseen, nothing unknown is skipped, and
 * what a gauge could show is not taken on somebody's word. Documents from before it are read as they were.
 * @example strict({ procedure: { ...procedureById('suit.inflation'), language: 2 } }) // true
 */
export const strict = ({ procedure }: { readonly procedure: Pick<Procedure, 'language'> }): boolean => procedure.language === 2;

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
