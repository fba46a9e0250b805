import type { Finding } from '../method';
import {
  attributesOf,
  figureOf,
  figuresOf,
  listsUsed,
  mainRole,
  type Plan,
  type Procedure,
  type ProvedStage,
  type RuleSet,
  type RunProof,
  type Stage,
} from '../procedure';
import { decimalIn, sameDimension, type Quantity } from '../quantity';
import { judge } from './judge';
import { findingInWords } from './words';
import type { RunState } from './state';

const proving = (plan: Plan): readonly Stage[] => plan.stages.filter((s) => s.proves);

/**
 * What a run that is over proved of the rig that it was done on: for the items that follow it on the same rig, in the same round. A rig is proved whatever the item on it
 * came to; nothing is proved by a void run, or where one of the proving stages did not pass.
 * @param plan the plan of that run
 * @param state the run, folded to its end
 * @returns each proving stage with what it found, in words; null where it proves nothing
 * @example ((r) => provedBy(r.plan, r.state)?.map((s) => s.title))(exampleOf('suit.inflation', 'inflate')) // ['Prove the test kit']
 */
export function provedBy(plan: Plan, state: RunState): readonly ProvedStage[] | null {
  const stages = proving(plan);
  if (stages.length === 0 || !state.sealed) return null;
  const { verdict, findings } = judge(plan, state);
  if (verdict === 'void') return null;
  const found = stages.map((s) => ({ stage: s, of: findings.filter((f) => f.stage === s.id) }));
  if (found.some(({ of }) => of.length === 0 || of.some((f) => f.verdict !== 'pass'))) return null;
  return found.map(({ stage, of }) => ({ stage: stage.id, title: stage.title, told: of.map(findingInWords).join('; ') }));
}

/** What a record's findings say of a rig. */
export interface OfRig {
  readonly findings: readonly Finding[];
  readonly earlier: readonly Finding[];
}

/**
 * What a run says of the rig that it was done on: that it was found at fault, in whatever attempt, that it holds, or nothing. A rig that is found at fault was so before it was
 * found: what was tested on it since it was proved is doubtful.
 * @param kept findings of the run's record
 * @example rigIn(procedureById('suit.inflation'), { findings: [], earlier: [] }) // null
 */
export function rigIn(procedure: Pick<Procedure, 'stages'>, { findings, earlier }: OfRig): 'proved' | 'failed' | null {
  const stages = new Set(procedure.stages.filter((s) => s.proves).map((s) => s.id));
  if ([...findings, ...earlier].some((f) => stages.has(f.stage) && f.reasons.some((r) => r.code === 'rigLeaks'))) return 'failed';
  const found = findings.filter((f) => stages.has(f.stage));
  return found.length > 0 && found.every((f) => f.verdict === 'pass') ? 'proved' : null;
}

/**
 * Whether what was proved under one plan holds for an item under another: by the same rules, and with the same figures in every proving stage. A rig that held for a
 * cylinder of 200 bar says nothing of one of 300.
 * @param before the plan of the run that proved
 * @param plan the plan of the run that would stand on it, with its proving stages in it
 * @example ((r) => carriesProof(r.plan, r.plan))(exampleOf('suit.inflation', 'inflate')) // true: its own, by the same rules
 */
export function carriesProof(before: Plan, plan: Plan): boolean {
  if (before.digest !== plan.digest || before.ruleSet.id !== plan.ruleSet.id) return false;
  const limitsOf = (p: Plan, stage: Stage): ReadonlyMap<string, Quantity> =>
    new Map(p.limits.filter((l) => l.stage === stage.id).map((l) => [l.id, l.resolved]));
  return proving(plan).every((stage) => {
    const [here, there] = [limitsOf(plan, stage), limitsOf(before, stage)];
    return (
      before.stages.some((s) => s.id === stage.id) &&
      figuresOf(stage, plan.ruleSet, plan.procedure).every(({ id }) => alike(figureOf(before, id), figureOf(plan, id))) &&
      here.size === there.size &&
      [...here].every(([id, q]) => alike(there.get(id), q))
    );
  });
}

/** The order of names says nothing, and a figure may be told in another unit. */
const alike = (a: Quantity | undefined, b: Quantity): boolean => a !== undefined && sameDimension(a.unit, b.unit) && decimalIn(a, b.unit).eq(b.value);

/**
 * The morning's proof as a record tells it.
 * @example proofInWords({ run: 'r', record: 'R-12', head: 'h', at: '2026-12-01T08:00:00Z', item: 'CY-01', stages: [] }).title // 'Proved on this rig in R-12, CY-01'
 */
export function proofInWords(proof: RunProof): { readonly title: string; readonly things: readonly { readonly name: string; readonly words: string }[] } {
  return { title: `Proved on this rig in ${proof.record}, ${proof.item}`, things: proof.stages.map((s) => ({ name: s.title, words: s.told })) };
}

/**
 * Whether items can follow one another in a round: the procedure tests one item and not several that are coupled, and the rule set asks nothing of the day that is
 * another thing for each: no list, no figure told anew.
 * @example inRounds(procedureById('suit.inflation'), procedureById('suit.inflation').ruleSets[0]) // true
 * @example inRounds(procedureById('brakes.whole'), procedureById('brakes.whole').ruleSets[0]) // false
 */
export function inRounds(procedure: Procedure, ruleSet: RuleSet): boolean {
  const main = mainRole(procedure);
  const told = JSON.stringify(ruleSet);
  const anew = (procedure.roles[main]?.classes ?? []).flatMap((c) => attributesOf(c).filter((a) => a.asked && told.includes(`"${main}.${a.id}"`)));
  return Object.keys(procedure.roles).every((role) => role === main) && listsUsed(procedure, ruleSet).length === 0 && anew.length === 0;
}
