import { findingOf, type Finding } from './verdict/finding';
import type { CheckMethod, Verdict, Reason } from '../procedure';
import { type Attempted } from './evidence/attempted';
import type { StageRecord } from './evidence/record';
import { stepsUnmet } from './evidence/steps';
import type { Task } from './evidence/task';

/** The edition of this method. It changes when the same answers could be judged otherwise. */
export const CHECK_EDITION = 'check/1';

/** Whether every item has its answer, or an automatic item has ended the matter. */
function checkAnswered(method: CheckMethod, record: StageRecord): boolean {
  return failedAutomatic(method, record) || method.items.every((i) => record.answers[i.id] !== undefined);
}

function failedAutomatic(method: CheckMethod, record: StageRecord): boolean {
  return method.items.some((i) => i.automatic && record.answers[i.id]?.answer === 'no');
}

/**
 * @example checkTask({ ...exampleOf('suit.inflation', 'inflate').at, method: { kind: 'check', items: [item('visor', 'Visor whole')] } }).kind // 'answer'
 */
export function checkTask({ method, record }: Attempted<CheckMethod>): Task {
  const item = checkAnswered(method, record) ? undefined : method.items.find((i) => record.answers[i.id] === undefined);
  return item ? { kind: 'answer', item } : { kind: 'end' };
}

/**
 * Judges a list of yes-or-no looks: one `no` fails it, an automatic item's `no` at once; an item that does not apply needs a reason and must
 * be one that need not apply. Common practice.
 * @returns one finding for the stage
 * @example judgeCheck(exampleOf('anaes.machine', 'dials').at)[0]?.verdict // 'pass'
 */
export function judgeCheck(at: Attempted<CheckMethod>): readonly Finding[] {
  const { method, record } = at;
  const refused = method.items.filter((i) => record.answers[i.id]?.answer === 'no');
  const misused = method.items.filter((i) => record.answers[i.id]?.answer === 'notApplicable' && (!i.optional || !record.answers[i.id]?.reason));
  const open = method.items.filter((i) => record.answers[i.id] === undefined);
  const skipped = record.endedAt === null ? null : stepsUnmet(at.plan, at.stage, record);
  const result = (verdict: Verdict, reasons: readonly Reason[]): readonly Finding[] => [
    findingOf(
      at,
      CHECK_EDITION,
      null,
      verdict,
      reasons,
      Object.values(record.answers).map((a) => a.event),
    ),
  ];
  if (refused.length > 0)
    return result('fail', [
      ...refused.map((i): Reason => ({
        code: 'answeredNo',
        values: { item: i.text, ...(record.answers[i.id]?.reason ? { note: record.answers[i.id]?.reason ?? '' } : {}) },
      })),
      ...(refused.some((i) => i.condemns) ? [{ code: 'condemned' as const, values: {} }] : []),
    ]);
  if (skipped) return result('void', [skipped]);
  if (misused.length > 0)
    return result(
      'void',
      misused.map((i) => ({ code: 'notValid', values: { item: i.text } })),
    );
  if (open.length > 0)
    return result(
      record.endedAt === null ? 'undecided' : 'void',
      open.map((i) => ({ code: record.endedAt === null ? 'unfinished' : 'unanswered', values: { item: i.text } })),
    );
  return result('pass', [{ code: 'answeredAll', values: { items: String(method.items.length) } }]);
}
