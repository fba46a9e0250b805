import type { Finding } from './verdict/finding';
import type { Phase, Plan, Stage } from '../procedure';
import type { Instruments } from './evidence/attempted';
import { findingsBy } from './methods';
import type { StageRecord } from './evidence/record';

/** Phases that test the test and not the item: a failure there makes the run void, it says nothing about the item. */
const aboutTheTest: ReadonlySet<Phase> = new Set(['gather', 'precondition', 'rig', 'aftercare']);

/**
 * Judges one attempt at a stage by its method.
 * @returns its findings; in the phases that test the test itself a failure is turned into `void` with the reason kept
 * @example ((r) => judgeStage(r.plan, r.stage, r.record, r.instruments)[0]?.verdict)(exampleOf('suit.inflation', 'inflate')) // 'pass'
 */
export function judgeStage(plan: Plan, stage: Stage, record: StageRecord, instruments: Instruments): readonly Finding[] {
  const findings = findingsBy({ plan, stage, method: stage.method, record, instruments });
  if (!aboutTheTest.has(stage.phase)) return findings;
  return findings.map((f) =>
    f.verdict === 'fail' ? { ...f, verdict: 'void', reasons: [...f.reasons, { code: stage.phase === 'rig' ? 'rigLeaks' : 'notValid', values: {} }] } : f,
  );
}
