import { effect, inject, untracked } from '@angular/core';
import { originOf, type EventBody } from '@grellin/core';
import { movesAt } from '@grellin/core/practice';
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

/** In a round a stage begins without a press, where nothing is to be done at the simulated rig before it does. */
function flowsOn(run: BenchRun): EventBody | null {
  const view = run.view();
  const { view: shown } = run.bench();
  if (!view?.flows || view.next.kind !== 'begin' || !shown?.round) return null;
  const { stage, attempt } = view.next;
  const hands = shown.clock === 'simulated' && movesAt(shown.procedure, originOf(stage.id)).length > 0;
  return hands ? null : { kind: 'began', stage: stage.id, attempt };
}

/** What needs nobody: the program says once that a wait or hold is over, or that a stage of a round begins, and a timer or prompt is heard. Called where a run is shown. */
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
    const body = overdue(run.view(), run.now()) ?? flowsOn(run);
    const next = run.view()?.next;
    // Once for each attempt of each run: the same words are due again when a stage is done anew, or another run stands on the bench.
    const mark = JSON.stringify([run.bench().id, next && 'attempt' in next ? [next.stage.id, next.attempt] : null, body]);
    if (body === null || mark === said || !run.works()) return;
    if (run.refusal(body) !== null) return;
    said = mark;
    untracked(() => run.say(body));
  });
}
