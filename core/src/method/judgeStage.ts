import type { Channel, Phase, Plan, Stage } from '../procedure';
import { judgeCheck } from './check';
import { judgeDecay } from './decay';
import type { ChannelInstrument, Finding, StageRecord } from './record';

/** Phases that test the test and not the item: a failure there makes the run void, it says nothing about the item. */
const aboutTheTest: ReadonlySet<Phase> = new Set(['gather', 'precondition', 'rig', 'aftercare']);

/**
 * Judges one attempt at a stage by its method.
 * @returns its findings; in the phases that test the test itself a failure is turned into `void` with the reason kept
 */
export function judgeStage(
  plan: Plan,
  stage: Stage,
  record: StageRecord,
  instruments: Readonly<Record<Channel, ChannelInstrument | undefined>>,
): readonly Finding[] {
  const method = stage.method;
  const findings = method.kind === 'decay' ? judgeDecay(plan, stage, method, record, instruments) : judgeCheck(stage, method, record);
  if (!aboutTheTest.has(stage.phase)) return findings;
  return findings.map((f) =>
    f.verdict === 'fail' ? { ...f, verdict: 'void', reasons: [...f.reasons, { code: stage.phase === 'rig' ? 'rigLeaks' : 'notValid', values: {} }] } : f,
  );
}
