import { DestroyRef, effect, inject } from '@angular/core';
import { Awake } from '../../preference/awake';
import { Voice } from '../../preference/voice';
import type { BenchView } from '../ask/benchView';
import { BenchRun } from './benchRun';

/** Seconds left at which the clock is said. */
const SAID_AT = [120, 60, 30, 10] as const;

/** What is said when something else comes next: the question, or what is to be done. */
export function spokenNext(view: BenchView): string {
  const { next } = view;
  if (next.kind === 'answer') return next.item.text;
  // What has left its window is said once, and not with every figure that its needle shows.
  if (next.kind === 'wait' && next.strayed) return view.primary.label;
  return view.instruction;
}

/**
 * What is said of a clock, where one of its marks has just been passed; null otherwise.
 * @param before seconds left when it was looked at last
 * @param left seconds left now
 */
export function spokenClock(before: number, left: number): string | null {
  const passed = SAID_AT.findLast((at) => before > at && left <= at);
  if (passed === undefined) return null;
  if (passed === 60) return $localize`1 minute left`;
  return passed > 60 ? $localize`${passed / 60}:minutes: minutes left` : $localize`${passed}:seconds: seconds left`;
}

/** Whoever has both hands at the item hears what comes next and what the clock shows, and the screen stays lit while a clock runs. Called where a run is shown. */
export function handsFree(): void {
  const run = inject(BenchRun);
  const awake = inject(Awake);
  const voice = inject(Voice);
  const left = (): number | null => {
    const next = run.view()?.next;
    return next?.kind === 'hold' || next?.kind === 'wait' ? Math.max(0, (next.until - run.now()) / 1000) : null;
  };
  effect(() => awake.keep(left() !== null && run.works()));
  let last = '';
  effect(() => {
    const view = run.view();
    if (!view || !run.works()) return;
    const words = spokenNext(view);
    if (words === last) return;
    last = words;
    voice.say(words);
  });
  let before = Number.POSITIVE_INFINITY;
  effect(() => {
    const now = left();
    const said = now === null || before === Number.POSITIVE_INFINITY ? null : spokenClock(before, now);
    before = now ?? Number.POSITIVE_INFINITY;
    if (said !== null && run.works()) voice.say(said);
  });
  inject(DestroyRef).onDestroy(() => awake.keep(false));
}
