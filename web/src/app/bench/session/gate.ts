import { computed, untracked, type Signal } from '@angular/core';
import { may, openAttempt, readingsOf, refusalInWords, type EventBody, type RunState } from '@grellin/core';
import type { BenchState } from './benchStore';

/** An instrument that sends faster than a screen is drawn, ms between its values. */
const FAST_MS = 20;
/** A trace of more values than this is looked through when somebody presses, and not ahead of it: a lift takes a fifth of it. */
const LONG_TRACE = 40_000;

/** The values of a fast trace since the open attempt began; zero where none streams. */
function traceLength(run: RunState): number {
  const fast = Object.entries(run.chunks).find(([, { item }]) => !item.typed && item.everyMs < FAST_MS);
  const open = openAttempt(run);
  return fast && open ? readingsOf(run, fast[0]).between(open.beganAt, Number.POSITIVE_INFINITY).length : 0;
}

/** Why something may not be said now, in words; null when it may. */
export function refusalOf({ plan, run, held }: BenchState, now: number, body: EventBody): string | null {
  if (!plan || !held) return 'This tab only looks on.';
  const last = run.sources[held.source];
  const refused = may(plan, run, { id: 'probe', source: held.source, n: (last?.n ?? 0) + 1, at: Math.max(now, last?.at ?? 0), ...body });
  return refused && refusalInWords(refused);
}

/**
 * Why the primary action is not open yet; null when it is. It is asked anew whenever anything comes. The answer may need all of a trace: while a fast one
 * streams it is asked once a second, and at once when something was said; of a very long one, when it is pressed.
 */
export function gateOf(bench: Signal<BenchState>, body: Signal<EventBody | null>, now: Signal<number>): Signal<string | null> {
  const asks = computed(
    () => {
      const { run, plan, held, tickMs } = bench();
      const length = traceLength(run);
      const when = length === 0 ? run : Math.floor(tickMs / 1000);
      return { body: JSON.stringify(body()), said: run.history, plan, held, when, now: length === 0 ? now() : 0, long: length > LONG_TRACE };
    },
    { equal: (a, b) => (['body', 'said', 'plan', 'held', 'now', 'long'] as const).every((k) => a[k] === b[k]) && (b.long || a.when === b.when) },
  );
  return computed(() => {
    const { long } = asks();
    return untracked(() => {
      const wanted = body();
      return wanted && !long ? refusalOf(bench(), now(), wanted) : null;
    });
  });
}
