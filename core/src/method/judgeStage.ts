import { findingOf, type Finding } from './verdict/finding';
import { strict, type Phase, type Plan, type Stage } from '../procedure';
import type { Attempted, Instruments } from './evidence/attempted';
import { neverCame, neverMeans } from './evidence/never';
import { findingsBy, methodTask } from './methods';
import type { StageRecord } from './evidence/record';

/** Phases that test the test and not the item: a failure there makes the run void, it says nothing about the item. */
const aboutTheTest: ReadonlySet<Phase> = new Set(['gather', 'precondition', 'rig', 'aftercare']);

/** The edition of a method under the second rules: the same figures, and more that is held against them. */
const secondEdition = (engine: string): string => engine.replace(/\/(\d+)$/, (_, n: string) => `/${String(Number(n) + 1)}`);

function neverFinding(at: Attempted): Finding {
  const { channel, verdict, reasons } = neverMeans(at, methodTask(at));
  return findingOf(at, 'never/1', channel, verdict, reasons);
}

/**
 * Judges one attempt at a stage by its method.
 * @returns its findings; in the phases that test the test itself a failure is turned into `void` with the reason kept
 * @example ((r) => judgeStage(r.plan, r.stage, r.record, r.instruments)[0]?.verdict)(exampleOf('suit.inflation', 'inflate')) // 'pass'
 */
export function judgeStage(plan: Plan, stage: Stage, record: StageRecord, instruments: Instruments): readonly Finding[] {
  const at = { plan, stage, method: stage.method, record, instruments };
  const findings = (neverCame(at) ? [neverFinding(at)] : findingsBy(at)).map((f) => (strict(plan) ? { ...f, engine: secondEdition(f.engine) } : f));
  if (!aboutTheTest.has(stage.phase)) return findings;
  return findings.map((f) =>
    f.verdict === 'fail' ? { ...f, verdict: 'void', reasons: [...f.reasons, { code: stage.phase === 'rig' ? 'rigLeaks' : 'notValid', values: {} }] } : f,
  );
}
