import { strict, type CheckItem, type Method, type Reason } from '../../procedure';
import type { Finding } from './finding';
import type { Attempted } from '../evidence/attempted';

const readBack: CheckItem = { id: 'condemn-read-back', text: 'It would be condemned for ever. Read back and looked at again: it is as it was entered' };
const rigAgain: CheckItem = { id: 'condemn-rig', text: 'It would be condemned for ever. The rig was proved again, and holds by itself' };

/**
 * What is asked before something is condemned, because that is for ever: whether it was entered as it is, and, of what was measured, whether the rig was
 * proved again.
 * @example condemningAsked({ kind: 'check', items: [] }).map((i) => i.id) // ['condemn-read-back']
 */
export const condemningAsked = (method: Method): readonly CheckItem[] =>
  method.kind === 'check' || method.kind === 'survey' ? [readBack] : [rigAgain, readBack];

/** Whether anything in a stage can condemn at all. */
function canCondemn({ plan, stage, method }: Attempted): boolean {
  if (method.kind === 'check' && method.items.some((i) => i.condemns)) return true;
  return plan.limits.some((l) => l.stage === stage.id && l.condemns);
}

const condemning = (f: Finding): boolean => f.verdict === 'fail' && f.reasons.some((r) => r.code === 'condemned');

/**
 * What has to be confirmed of an attempt that would condemn if it ended now; nothing where it would not.
 * @param found what its method would find
 * @example ((r) => confirmationsOf(r.at, () => []))(exampleOf('suit.inflation', 'inflate')) // []
 */
export function confirmationsOf(at: Attempted, found: () => readonly Finding[]): readonly CheckItem[] {
  return strict(at.plan) && canCondemn(at) && found().some(condemning) ? condemningAsked(at.method) : [];
}

/**
 * A finding that condemns, after what was asked about it: where the rig does not hold or something was entered wrong, the attempt is spoilt and condemns
 * nothing. What was not answered stays condemned: nobody gets past it by leaving.
 * @example ((r) => confirmed(r.at, { ...judge(r.plan, r.state).findings[0] }).verdict)(exampleOf('suit.inflation', 'inflate')) // 'pass'
 */
export function confirmed(at: Attempted, finding: Finding): Finding {
  if (!condemning(finding)) return finding;
  const wrong = condemningAsked(at.method).find((i) => at.record.answers[i.id]?.answer === 'no');
  if (!wrong) return finding;
  const said: Reason = { code: 'notConfirmed', values: { item: wrong.text } };
  return { ...finding, verdict: 'void', reasons: [said, ...finding.reasons.filter((r) => r.code !== 'condemned')] };
}
