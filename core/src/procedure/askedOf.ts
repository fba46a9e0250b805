import { carriedOut } from './carriedOut';
import { holds, unknownFor, unknownIn, type AttributesByRole } from './condition';
import { unnamedTables } from './figureTable';
import type { AttributeRef, Channel, CheckItem, Condition, Procedure, Role, RuleSet } from './language';
import { byKind } from './method';
import { channelsOf } from './stageFigures';
import { countsOf, listsUsed } from './unroll';

/**
 * Whether a plan is of a document that was written for the second edition of the rules: nothing that was seen is unseen, nothing unknown is skipped, and
 * what a gauge could show is not taken on somebody's word. Documents from before it are read as they were.
 * @example strict({ procedure: { ...procedureById('suit.inflation'), language: 2 } }) // true
 */
export const strict = ({ procedure }: { readonly procedure: Pick<Procedure, 'language'> }): boolean => procedure.language === 2;

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

/**
 * The rule set whose `suits` holds for these assets, if exactly one does; otherwise the officer must choose.
 * @example suitedRuleSet(procedureById('anaes.circle'), { circuit: { patients: 'human' } })?.id // 'human'
 */
export function suitedRuleSet(procedure: Procedure, assets: AttributesByRole): RuleSet | undefined {
  const suited = procedure.ruleSets.filter((r) => r.suits !== undefined && holds(r.suits, assets));
  return suited.length === 1 ? suited[0] : undefined;
}
