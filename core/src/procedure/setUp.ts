import type { Id, Procedure, RuleSet, Stage, Stands, StateRow, Words } from './language';
import { itemsOf } from './method';

/** Something of a stage that leans on the set-up, or changes it: a step, or an item that is answered with yes. */
export interface Turn {
  readonly id: Id;
  readonly needs: Stands;
  readonly makes: Stands;
}

/**
 * How the set-up stands before anybody has touched it.
 * @example standsAtFirst({ states: { chocks: { title: 'Chocks', first: 'out', ways: { out: { said: 'Chocks out', put: 'Take the chocks out' } } } } }) // { chocks: 'out' }
 */
export function standsAtFirst({ states }: Pick<Procedure, 'states'>): Stands {
  return Object.fromEntries(Object.entries(states ?? {}).map(([id, row]) => [id, row.first]));
}

/**
 * The steps and items of a stage that lean on the set-up or change it, in their order.
 * @example turnsOf({ steps: [{ id: 'release', kind: 'act', text: 'Release', needs: { chocks: 'in' } }], method: { kind: 'check', items: [] } }).length // 1
 */
export function turnsOf(stage: Pick<Stage, 'steps' | 'method'>): readonly Turn[] {
  return [...stage.steps, ...itemsOf(stage.method)].flatMap(({ id, needs, makes }) => (needs || makes ? [{ id, needs: needs ?? {}, makes: makes ?? {} }] : []));
}

/**
 * A state that does not stand as something needs it, and may be brought there now; null where all stand. Of several, one that leads through nothing that must never
 * be: first the parking brake is set, and then the chocks are taken out, in whatever order a document names them.
 * @example lackOf({}, { chocks: 'in' }, { chocks: 'out' }) // { state: 'chocks', way: 'in' }
 * @example lackOf({ never: [{ stands: { chocks: 'out', parking: 'released' }, why: 'It rolls' }] }, { chocks: 'out', parking: 'set' }, { chocks: 'in', parking: 'released' }) // { state: 'parking', way: 'set' }
 */
export function lackOf(p: Pick<Procedure, 'never'>, needs: Stands, stands: Stands): { readonly state: Id; readonly way: Id } | null {
  const lacking = Object.entries(needs)
    .filter(([state, way]) => stands[state] !== way)
    .sort(([a], [b]) => (a < b ? -1 : 1));
  const found = lacking.find(([state, way]) => neverFor(p, { ...stands, [state]: way }) === null) ?? lacking[0];
  return found ? { state: found[0], way: found[1] } : null;
}

const MEND = 'stands.';

/** The mark that says that a state was brought to a way. */
export const mendMark = ({ state, way }: { readonly state: Id; readonly way: Id }): Id => `${MEND}${state}.${way}`;

/**
 * What a mark brings the set-up to; null for a mark that is not about the set-up.
 * @example mendOf('stands.chocks.in') // { chocks: 'in' }
 * @example mendOf('release') // null
 */
export function mendOf(mark: Id): Stands | null {
  const [state, way] = mark.startsWith(MEND) ? mark.slice(MEND.length).split('.') : [];
  return state !== undefined && way !== undefined ? { [state]: way } : null;
}

/**
 * Why the set-up must not stand as it does; null where it may.
 * @example neverFor({ never: [{ stands: { chocks: 'out' }, why: 'It rolls' }] }, { chocks: 'out' }) // 'It rolls'
 */
export function neverFor({ never }: Pick<Procedure, 'never'>, stands: Stands): Words | null {
  return never?.find((n) => Object.entries(n.stands).every(([state, way]) => stands[state] === way))?.why ?? null;
}

/**
 * Everything that can be reached of the set-up under a rule set and must not be, whatever is done over, broken off or left out: any step or item can come after any
 * other, each after what it needs was seen to, state by state, as the bench asks for them.
 * @returns where it is reached and why it must not be; empty for a safe document
 * @example reachedNever(procedureById('suit.inflation'), procedureById('suit.inflation').ruleSets[0]) // []
 */
export function reachedNever(p: Procedure, ruleSet: Pick<RuleSet, 'skip'>): readonly { readonly turn: Id; readonly why: Words }[] {
  if (!p.never || !p.states) return [];
  const turns = p.stages
    .filter((s) => !ruleSet.skip.includes(s.id))
    .flatMap((s) => turnsOf({ ...s, steps: s.steps.filter((step) => !ruleSet.skip.includes(step.id)) }));
  const first = standsAtFirst(p);
  const known = new Map([[JSON.stringify(first), first]]);
  const found = new Map<string, { turn: Id; why: Words }>();
  const open = [first];
  for (let stands = open.pop(); stands; stands = open.pop())
    for (const turn of turns) {
      let here = stands;
      const change = (to: Stands): void => {
        here = { ...here, ...to };
        const why = neverFor(p, here);
        if (why !== null) found.set(`${turn.id} ${why}`, { turn: turn.id, why });
      };
      for (let lack = lackOf(p, turn.needs, here); lack; lack = lackOf(p, turn.needs, here)) change({ [lack.state]: lack.way });
      change(turn.makes);
      const key = JSON.stringify(here);
      if (!known.has(key)) {
        known.set(key, here);
        open.push(here);
      }
    }
  return [...found.values()];
}

/** A state and a way that it can stand, in words. */
export const wayOf = (p: Pick<Procedure, 'states'>, state: Id, way: Id): StateRow['ways'][Id] | undefined => p.states?.[state]?.ways[way];
