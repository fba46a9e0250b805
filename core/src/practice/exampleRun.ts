import { procedureById, type Id, type Method, type Stage } from '../procedure';
import type { Attempted, Instruments, StageRecord } from '../method';
import { attemptedOf, type Attempt } from '../run';
import { practiceRun, type PracticeRun } from './practiceRun';
import { rigFor } from './hand';

/** A run of the catalogue on its own rig, and one of its stages as its method looks at it: what the examples of the docstrings look at. */
export interface ExampleRun extends PracticeRun {
  readonly stage: Stage;
  readonly attempt: Attempt;
  readonly record: StageRecord;
  readonly instruments: Instruments;
  // Whatever method the stage has: an example knows which.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  readonly at: Attempted<any>;
}

const made = new Map<string, ExampleRun>();

/**
 * A run of a procedure under the first of its rule sets, always the same: seeded, and at the same hour.
 * @param stageId the stage that is looked at
 * @param fault of the rig
 * @throws RangeError where there is no such procedure, rig, or stage in the run
 * @example exampleOf('suit.inflation', 'inflate').attempt.attempt // 1
 */
export function exampleOf(procedure: Id, stageId: Id, fault = 'none'): ExampleRun {
  const name = [procedure, stageId, fault].join(' ');
  const kept = made.get(name);
  if (kept) return kept;
  const ruleSet = procedureById(procedure)?.ruleSets[0]?.id;
  const rig = rigFor(procedure);
  if (ruleSet === undefined || rig === undefined) throw new RangeError(`there is no rig for ${procedure}`);
  const run = practiceRun(procedure, ruleSet, rig, fault);
  const stage = run.plan.stages.find((s) => s.id === stageId);
  const attempt = run.state.attempts[stageId]?.at(-1);
  if (!stage || !attempt) throw new RangeError(`the run has no stage ${stageId}`);
  const at = attemptedOf<Method>(run.plan, run.state, stage, attempt);
  const example: ExampleRun = { ...run, stage, attempt, record: at.record, instruments: at.instruments, at };
  made.set(name, example);
  return example;
}
