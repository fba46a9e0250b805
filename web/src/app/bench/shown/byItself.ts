import { effect, inject, untracked } from '@angular/core';
import type { EventBody } from '@grellin/core';
import { Chime } from '../../preference/chime';
import type { BenchView } from '../ask/benchView';
import { BenchRun } from './benchRun';

/** What only needs time, once the time is over. */
function overdue(view: BenchView | null, now: number): EventBody | null {
  const n = view?.next;
  if (n?.kind === 'wait' && n.strayed === null && n.unlike === null && now >= n.until) return { kind: 'marked', mark: n.step.id };
  if (n?.kind === 'hold' && now >= n.until) return { kind: 'ended', stage: n.stage.id, attempt: n.attempt };
  if (n?.kind === 'end') return { kind: 'ended', stage: n.stage.id, attempt: n.attempt };
  return null;
}

/** What needs nobody: the program says once that a wait or hold is over, and a timer or prompt is heard. Called where a run is shown. */
export function goesOnByItself(): void {
  const run = inject(BenchRun);
  const chime = inject(Chime);
  let timed = false;
  let prompted = 0;
  effect(() => {
    const view = run.view();
    const waits = view?.next.kind === 'wait' || view?.next.kind === 'hold';
    if ((timed && !waits) || (view?.prompt?.n ?? 0) > prompted) chime.sound();
    timed = waits;
    prompted = waits ? Math.max(prompted, view.prompt?.n ?? 0) : 0;
  });
  let said = '';
  effect(() => {
    const body = overdue(run.view(), run.now());
    const next = run.view()?.next;
    // Once for each attempt of each run: the same words are due again when a stage is done anew, or another run stands on the bench.
    const mark = JSON.stringify([run.bench().id, next && 'attempt' in next ? [next.stage.id, next.attempt] : null, body]);
    if (body === null || mark === said || !run.works()) return;
    if (run.refusal(body) !== null) return;
    said = mark;
    untracked(() => run.say(body));
  });
}
