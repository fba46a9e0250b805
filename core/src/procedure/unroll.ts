import { attributeInWords, attributesOf, type AttributeRow } from './assetClass';
import { decimal, decimalIn, type Quantity } from '../quantity';
import { figure, type Attributes, type AttributesByRole, type AttributeValue } from './condition';
import type { AttributeRef, Id, ListRow, Procedure, RuleSet, Stage, Value, Words } from './language';

/** What a run is told of the lists of its day: the attributes of each thing, by list. */
export type Lists = Readonly<Record<Id, readonly Attributes[]>>;

/** A document with its repeated stages written out, and the attributes of the things that they are repeated for, each as a role of its own. */
export interface Unrolled {
  readonly procedure: Procedure;
  readonly ruleSet: RuleSet;
  readonly parts: AttributesByRole;
}

export interface ListRefusal {
  readonly code: 'plan.listEmpty' | 'plan.listLong' | 'plan.listDiffers';
  readonly values: Readonly<Record<string, string>>;
}

/** Words for people, and names that are no figures: they are never rewritten. */
const KEPT: ReadonlySet<string> = new Set(['id', 'kind', 'title', 'text', 'channel', 'mark', 'why', 'drawing', 'note', 'sends']);

/** A part of a document with its references and figures named anew. */
function renamed<T>(part: T, rename: (name: string) => string): T {
  if (typeof part === 'string') return rename(part) as T;
  if (Array.isArray(part)) return part.map((p: unknown) => renamed(p, rename)) as T;
  if (typeof part !== 'object' || part === null) return part;
  return Object.fromEntries(
    Object.entries(part).map(([key, value]) => [key, KEPT.has(key) && typeof value === 'string' ? value : renamed(value, rename)]),
  ) as T;
}

/** Whether a part of a document names an attribute of a list's things. */
function mentions(part: unknown, list: Id): boolean {
  if (typeof part === 'string') return part.startsWith(`${list}.`);
  return typeof part === 'object' && part !== null && Object.values(part).some((p) => mentions(p, list));
}

/** One thing of a list, or several that are tested as one. */
interface Tested {
  readonly role: Id;
  readonly name: Words;
  readonly attributes: Attributes;
}

const isQuantity = (v: AttributeValue | undefined): v is Quantity => typeof v === 'object';

function named(row: ListRow, attributes: Attributes, k: number): Words {
  const own = attributes['name'];
  return typeof own === 'string' && own.trim() !== '' ? `${row.one} ${String(k + 1)}, ${own}` : `${row.one} ${String(k + 1)}`;
}

/** Several things that are tested as one: some figures added up, the others have to be the same. */
function together(row: ListRow, list: Id, members: readonly (readonly [number, Attributes])[], k: number): Tested | ListRefusal {
  const [[first, attributes] = [0, {}]] = members;
  if (members.length === 1) return { role: `${list}-${String(k + 1)}`, name: named(row, attributes, first), attributes };
  const sums = row.together?.sums ?? [];
  const own = new Set(['name', row.together?.by ?? '']);
  const found: Record<Id, AttributeValue> = {};
  for (const id of new Set(members.flatMap(([, a]) => Object.keys(a)))) {
    const values = members.map(([, a]) => a[id]);
    const [one] = values;
    if (sums.includes(id) && isQuantity(one) && values.every(isQuantity)) {
      const all = values.filter(isQuantity).reduce((sum, v) => sum.plus(decimalIn(v, one.unit)), decimal(0));
      found[id] = { value: all.toNumber(), unit: one.unit };
    } else if (!own.has(id) && one !== undefined) {
      if (values.some((v) => JSON.stringify(v) !== JSON.stringify(one))) return { code: 'plan.listDiffers', values: { list: row.title, attribute: id } };
      found[id] = one;
    }
  }
  return { role: `${list}-${String(k + 1)}`, name: `${row.title} ${members.map(([i]) => String(i + 1)).join(' + ')}`, attributes: found };
}

/** What stages are repeated for: each thing, or what is joined to one. */
function testedOf(list: Id, row: ListRow, things: readonly Attributes[]): readonly Tested[] | ListRefusal {
  if (things.length === 0) return { code: 'plan.listEmpty', values: { list: row.title } };
  if (things.length > row.most) return { code: 'plan.listLong', values: { list: row.title, most: String(row.most) } };
  const groups = new Map<string, (readonly [number, Attributes])[]>();
  things.forEach((a, i) => {
    const by = row.together && a[row.together.by];
    const group = typeof by === 'string' && by.trim() !== '' ? `joined ${by.trim().toLowerCase()}` : `alone ${String(i)}`;
    groups.set(group, [...(groups.get(group) ?? []), [i, a]]);
  });
  const tested: Tested[] = [];
  for (const members of groups.values()) {
    const one = together(row, list, members, tested.length);
    if ('code' in one) return one;
    tested.push(one);
  }
  return tested;
}

/** A sum over the things of a list: `total` of a figure is added up, one after the other. */
function totals<T>(part: T, list: Id, roles: readonly Id[]): T {
  if (Array.isArray(part)) return part.map((p: unknown) => totals(p, list, roles)) as T;
  if (typeof part !== 'object' || part === null) return part;
  const value = part as Partial<Extract<Value, { formula: Id }>>;
  if (value.formula === 'total' && value.of && mentions(value.of, list)) {
    const each = roles.map((role): Value => renamed(value.of?.['each'] as Value, (n) => (n.startsWith(`${list}.`) ? `${role}${n.slice(list.length)}` : n)));
    return each.reduce((a, b): Value => ({ formula: 'sum', of: { a, b } })) as T;
  }
  return Object.fromEntries(Object.entries(part).map(([key, v]) => [key, totals(v, list, roles)])) as T;
}

/**
 * The attributes that a rule set and its repeated stages ask of each thing of a list: those that they name, what joins things, and its name.
 * @example askedOfEach(procedureById('anaes.machine'), procedureById('anaes.machine').ruleSets[0], 'vaporisers').map((a) => a.id) // ['name']
 */
export function askedOfEach(procedure: Procedure, ruleSet: RuleSet, list: Id): readonly AttributeRow[] {
  const row = procedure.lists?.[list];
  if (!row) return [];
  const stages = procedure.stages.filter((s) => s.each?.list === list && !ruleSet.skip.includes(s.id));
  const named = JSON.stringify([ruleSet, stages]);
  const always = ['name', ...(row.together ? [row.together.by] : []), ...(row.covers ? [row.covers.by] : [])];
  return attributesOf(row.part).filter((a) => always.includes(a.id) || named.includes(`"${list}.${a.id}"`));
}

/**
 * What the items of a run have to say before a list can be held against them: of an item that is not there nothing is asked.
 * @example countsOf(procedureById('anaes.machine').lists.vaporisers, { machine: {} }) // ['machine.vaporisers']
 */
export function countsOf(row: ListRow, items: AttributesByRole): readonly AttributeRef[] {
  return [...row.count, ...(row.covers ? [row.covers.count] : [])].filter((ref) => items[ref.slice(0, ref.indexOf('.'))] !== undefined);
}

/**
 * How many things a list has at least, as far as the items of the run say.
 * @example leastOf(procedureById('anaes.machine').lists.vaporisers, { machine: { vaporisers: { value: 2, unit: '1' } } }) // 2
 */
export function leastOf(row: ListRow, items: AttributesByRole): number {
  return row.count.reduce((sum, attribute) => sum + (figure({ attribute }, items)?.value ?? 0), 0);
}

/** A list as it was told, in words. */
export interface ToldList {
  readonly title: Words;
  readonly things: readonly { readonly name: Words; readonly words: Words }[];
}

/**
 * What was told of the day, in words: each list, and each thing of it with its figures.
 * @example toldInWords(procedureById('anaes.machine'), { vaporisers: [{ name: 'left' }] }) // [{ title: 'Vaporisers', things: [{ name: 'Vaporiser 1, left', words: '' }] }]
 */
export function toldInWords(procedure: Procedure, lists: Lists): readonly ToldList[] {
  return Object.entries(lists).flatMap(([list, things]): readonly ToldList[] => {
    const row = procedure.lists?.[list];
    if (!row) return [];
    const figures = attributesOf(row.part).filter((a) => a.id !== 'name');
    const said = (thing: Attributes): Words =>
      figures.flatMap((a) => (thing[a.id] === undefined ? [] : [`${a.title}: ${attributeInWords(a, thing[a.id] as AttributeValue)}`])).join('; ');
    return [{ title: row.title, things: things.map((thing, k) => ({ name: named(row, thing, k), words: said(thing) })) }];
  });
}

const copyOf = (id: Id, k: number): Id => `${id}.${String(k + 1)}`;

/**
 * The stage that a written-out one repeats: itself where it repeats none.
 * @example originOf('pressure.2') // 'pressure'
 * @example originOf('pressure') // 'pressure'
 */
export const originOf = (stage: Id): Id => stage.replace(/\.\d+$/, '');

/**
 * The lists that a rule set repeats stages for.
 * @example listsUsed(procedureById('suit.inflation'), procedureById('suit.inflation').ruleSets[0]) // []
 */
export function listsUsed(procedure: Procedure, ruleSet: RuleSet): readonly Id[] {
  const stages = procedure.stages.filter((s) => !ruleSet.skip.includes(s.id));
  return Object.keys(procedure.lists ?? {}).filter((list) => stages.some((s) => s.each?.list === list));
}

/** One list written out: its stages, and what is laid down for them, once for each thing. */
function written({ procedure, ruleSet, parts }: Unrolled, list: Id, tested: readonly Tested[], things: readonly Attributes[]): Unrolled {
  const repeated = new Set(procedure.stages.filter((s) => s.each?.list === list).map((s) => s.id));
  const hanging = Object.keys(ruleSet.parameters).filter((id) => mentions(ruleSet.parameters[id], list));
  const ref = (role: Id) => (name: string) => (name.startsWith(`${list}.`) ? `${role}${name.slice(list.length)}` : name);
  const figures = (k: number) => (name: string) => (hanging.includes(name) ? copyOf(name, k) : name);
  const inCopy = <T>(part: T, k: number): T => renamed(part, (name) => ref(tested[k]?.role ?? '')(figures(k)(name)));
  /** The same for every thing, each with its own names. */
  const all = <T extends object, R>(part: T, make: (copy: T, k: number) => R): readonly R[] => tested.map((_, k) => make(inCopy(part, k), k));
  const ids = (stage: Id): readonly Id[] => (repeated.has(stage) ? tested.map((_, k) => copyOf(stage, k)) : [stage]);

  const stages = procedure.stages.flatMap((s): readonly Stage[] => {
    if (!repeated.has(s.id)) return [s.seeks ? { ...s, seeks: s.seeks.flatMap(ids) } : s];
    const once = s.each?.once ?? [];
    return all(s, ({ each, ...copy }, k) => ({
      ...copy,
      // What hangs on another stage hangs on the same thing's.
      ...(copy.decides !== undefined && repeated.has(copy.decides) ? { decides: copyOf(copy.decides, k) } : {}),
      ...(copy.seeks ? { seeks: copy.seeks.map((id) => (repeated.has(id) ? copyOf(id, k) : id)) } : {}),
      id: copyOf(s.id, k),
      title: `${s.title}: ${tested[k]?.name ?? each?.list ?? ''}`,
      steps: copy.steps.filter((step) => k === 0 || !once.includes(step.id)),
    }));
  });
  const roles = things.map((_, k) => `${list}:${String(k + 1)}`);
  const requires = totals(ruleSet.requires ?? [], list, roles).flatMap((r) =>
    mentions(r, list)
      ? roles.map((role, k) => ({
          ...renamed(r, ref(role)),
          id: copyOf(r.id, k),
          text: `${named(procedure.lists?.[list] as ListRow, things[k] ?? {}, k)}: ${r.text}`,
        }))
      : [r],
  );
  const rules: RuleSet = {
    ...ruleSet,
    order: ruleSet.order === 'free' ? 'free' : ruleSet.order.flatMap(ids),
    ...(ruleSet.holdFrom
      ? { holdFrom: Object.fromEntries(Object.entries(ruleSet.holdFrom).flatMap(([stage, step]) => ids(stage).map((id) => [id, step]))) }
      : {}),
    ...(ruleSet.prompts ? { prompts: ruleSet.prompts.flatMap((p) => ids(p.stage).map((stage) => ({ ...p, stage }))) } : {}),
    ...(ruleSet.requires ? { requires } : {}),
    parameters: Object.fromEntries(
      Object.entries(ruleSet.parameters).flatMap(([id, parameter]) =>
        hanging.includes(id) ? all(parameter, (copy, k) => [copyOf(id, k), copy] as const) : [[id, parameter] as const],
      ),
    ),
    limits: ruleSet.limits.flatMap((l) => (repeated.has(l.stage) ? all(l, (copy, k) => ({ ...copy, id: copyOf(l.id, k), stage: copyOf(l.stage, k) })) : [l])),
  };
  return {
    procedure: {
      ...procedure,
      stages,
      cautions: procedure.cautions.flatMap((c) => ids(c.before).map((before) => ({ ...c, before }))),
      faults: procedure.faults.flatMap((f) => ids(f.stage).map((stage) => ({ ...f, stage }))),
    },
    ruleSet: rules,
    parts: {
      ...parts,
      ...Object.fromEntries(tested.map((t) => [t.role, t.attributes])),
      ...Object.fromEntries(things.map((a, k) => [roles[k] ?? '', a])),
    },
  };
}

/**
 * Writes a document out for the lists of the day: a stage that is repeated stands there once for each thing, with its own figures, limits and cautions, so that
 * everything after it knows stages alone. What is asked of each thing before a run (`requires`) is asked of each; `total` adds up over all of them.
 * @param lists the attributes of each thing, by list; those of lists that the rule set does not use are left aside
 * @returns the document, or why a list cannot be taken
 * @example unroll(procedureById('suit.inflation'), procedureById('suit.inflation').ruleSets[0], {}).parts // {}
 */
export function unroll(procedure: Procedure, ruleSet: RuleSet, lists: Lists): Unrolled | ListRefusal {
  let unrolled: Unrolled = { procedure, ruleSet, parts: {} };
  for (const list of listsUsed(procedure, ruleSet)) {
    const row = procedure.lists?.[list];
    const things = lists[list] ?? [];
    const tested = row ? testedOf(list, row, things) : [];
    if ('code' in tested) return tested;
    unrolled = written(unrolled, list, tested, things);
  }
  return unrolled;
}
