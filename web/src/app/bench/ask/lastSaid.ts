import { askedItem, gradeInWords, openAttempt, picturedInWords, showQuantity, type Plan, type RunEvent, type RunState, routeOf } from '@grellin/core';

/** What the person said last in the attempt that is open. */
export interface LastSaid {
  readonly event: string;
  readonly words: string;
}

const statements: ReadonlySet<RunEvent['kind']> = new Set(['marked', 'answered', 'spotted', 'reading', 'disturbed', 'pictured']);

function saidInWords(plan: Plan, e: RunEvent): string {
  const stages = plan.stages;
  switch (e.kind) {
    case 'answered':
      return `“${askedItem(plan, e.item)?.text ?? e.item}”: ${{ yes: 'yes', no: 'no', notApplicable: 'does not apply', watch: 'watch it' }[e.answer]}`;
    case 'spotted':
      return `“${stages.flatMap((s) => routeOf(s.method)).find((i) => i.id === e.spot)?.text ?? e.spot}”: ${gradeInWords(e.grade)}`;
    case 'reading':
      return `${plan.procedure.channels[e.channel]?.title ?? e.channel} ${showQuantity(e.quantity)}`;
    case 'pictured':
      return picturedInWords(plan, e);
    case 'marked':
      return stages.flatMap((s) => s.steps).find((s) => s.id === e.mark)?.text ?? (e.mark === 'start' ? 'the start' : e.mark);
    default:
      return 'note' in e ? e.note : e.kind;
  }
}

/** The last thing that a person said in the open attempt and has not taken back. */
export function lastSaidOf(plan: Plan, state: RunState): LastSaid | null {
  const open = openAttempt(state);
  if (!open) return null;
  const seen = new Set<string>();
  for (let trail = state.history; trail; trail = trail.before) {
    const e = trail.item;
    if (e.at < open.beganAt || e.kind === 'began') return null;
    if (e.kind === 'withdrawn') seen.add(e.event);
    else if (statements.has(e.kind) && !seen.has(e.id) && !state.withdrawn.has(e.id)) return { event: e.id, words: saidInWords(plan, e) };
  }
  return null;
}
