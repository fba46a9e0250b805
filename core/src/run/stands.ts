import {
  itemsOf,
  lackOf,
  mendMark,
  mendOf,
  neverFor,
  standsAtFirst,
  turnsOf,
  wayOf,
  type Id,
  type Plan,
  type Procedure,
  type Reason,
  type Stage,
  type Stands,
  type Step,
  type Words,
} from '../procedure';
import { asSaid } from './fold';
import type { Attempt, RunState } from './state';

/** Something that was said of the set-up, or on it, at a moment. */
interface Said {
  readonly at: number;
  readonly stage: Stage;
  readonly attempt: number;
  /** A step, an item or a mark that mends. */
  readonly id: Id;
  readonly needs: Stands;
  readonly makes: Stands;
}

function saidIn(stage: Stage, attempt: Attempt): readonly Said[] {
  const turns = new Map(turnsOf(stage).map((t) => [t.id, t]));
  const of = (id: Id, at: number): Said => {
    const turn = turns.get(id);
    return { at, stage, attempt: attempt.attempt, id, needs: turn?.needs ?? {}, makes: turn?.makes ?? mendOf(id) ?? {} };
  };
  return [
    ...attempt.marks.map((m) => of(m.mark, m.at)),
    ...Object.entries(attempt.answers).flatMap(([item, a]) => (a.answer === 'yes' || a.answer === 'watch' ? [of(item, a.at)] : [])),
  ];
}

/** What was said that concerns the set-up, in the order of time. */
function history(plan: Plan, state: RunState): readonly Said[] {
  // What was taken back was done all the same, or may have been: nobody un-releases a brake with a word.
  const whole = state.withdrawn.size > 0 ? asSaid(state) : state;
  const said = plan.stages.flatMap((stage) => (whole.attempts[stage.id] ?? []).flatMap((attempt) => saidIn(stage, attempt)));
  return said.filter((s) => Object.keys(s.needs).length + Object.keys(s.makes).length > 0).sort((a, b) => a.at - b.at);
}

/** Kept for each version of what was said: it is asked for again with every reading, and no reading changes it. */
const stood = new WeakMap<RunState['attempts'], { readonly plan: Plan; readonly stands: Stands }>();

/**
 * How the set-up stands, by all that was said so far.
 * @example ((r) => standsNow(r.plan, r.state))(exampleOf('suit.inflation', 'inflate')) // { supply: 'off' }
 */
export function standsNow(plan: Plan, state: RunState): Stands {
  if (!plan.procedure.states) return {};
  const kept = stood.get(state.attempts);
  if (kept?.plan === plan) return kept.stands;
  const stands = history(plan, state).reduce<Stands>((before, s) => ({ ...before, ...s.makes }), standsAtFirst(plan.procedure));
  stood.set(state.attempts, { plan, stands });
  return stands;
}

/**
 * What has to be brought back before a step or an item of a stage may be done; null where everything stands as it needs it.
 * @example ((r) => mendFor(r.plan, r.state, r.stage, 'nothing'))(exampleOf('suit.inflation', 'inflate')) // null
 */
export function mendFor(plan: Plan, state: RunState, stage: Stage, id: Id): Step | null {
  const needs = plan.procedure.states && turnsOf(stage).find((t) => t.id === id)?.needs;
  const lack = needs && lackOf(plan.procedure, needs, standsNow(plan, state));
  return lack ? { id: mendMark(lack), kind: 'act', text: wayOf(plan.procedure, lack.state, lack.way)?.put ?? mendMark(lack) } : null;
}

/** A step or an item that was done while the set-up did not stand for it, or that brought it to where it must never be. */
export interface WrongStand {
  readonly stage: Stage;
  readonly attempt: number;
  readonly reason: Reason;
}

/** What was done, as the bench asked for it. */
function inWords(procedure: Procedure, stage: Stage, id: Id): Words {
  const [[state, way] = []] = Object.entries(mendOf(id) ?? {});
  const put = state !== undefined && way !== undefined ? wayOf(procedure, state, way)?.put : undefined;
  return put ?? [...stage.steps, ...itemsOf(stage.method)].find((x) => x.id === id)?.text ?? id;
}

/**
 * Where the set-up stood wrong in what was written, asked of the history again: a file that nobody asked about is judged by the same rule.
 * @example ((r) => stoodWrong(r.plan, r.state))(exampleOf('suit.inflation', 'inflate')) // []
 */
export function stoodWrong(plan: Plan, state: RunState): readonly WrongStand[] {
  const { procedure } = plan;
  if (!procedure.states) return [];
  const found: WrongStand[] = [];
  let stands = standsAtFirst(procedure);
  for (const s of history(plan, state)) {
    const lack = lackOf(procedure, s.needs, stands);
    const step = inWords(procedure, s.stage, s.id);
    if (lack) found.push({ ...s, reason: { code: 'standsWrong', values: { step, wanted: wayOf(procedure, lack.state, lack.way)?.said ?? lack.way } } });
    stands = { ...stands, ...s.makes };
    const why = neverFor(procedure, stands);
    if (why !== null) found.push({ ...s, reason: { code: 'neverStands', values: { step, why } } });
  }
  return found;
}
