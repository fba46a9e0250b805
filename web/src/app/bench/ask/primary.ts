import { decimalIn, reasonInWords, showClock, showQuantity, type EventBody, type Next, type Reason, factsOf, mendOf } from '@grellin/core';

/** The one primary action, bound to Space. */
export interface Primary {
  readonly label: string;
  /** What pressing it says; null while it only shows what is going on. */
  readonly body: EventBody | null;
}

/** What brings a pressure back that has left its window while it settles. */
function backInWords(strayed: Reason): string {
  if (strayed.code !== 'leftWindow') return $localize`It will not settle`;
  const { value, low } = strayed.values;
  return decimalIn(value, low.unit).lt(low.value) ? $localize`Out of its window: top it up` : $localize`Out of its window: let it down`;
}

export function primaryOf(n: Next, now: number): Primary {
  switch (n.kind) {
    case 'begin':
      return {
        label: n.attempt > 1 ? `Begin again: ${n.stage.title}` : n.stage.title,
        body: { kind: 'began', stage: n.stage.id, attempt: n.attempt, ...(n.attempt > 1 ? { reason: 'broken off before' } : {}) },
      };
    case 'answer':
      return { label: 'Yes', body: { kind: 'answered', item: n.item.id, answer: 'yes' } };
    case 'spot':
      return { label: 'Nothing here', body: { kind: 'spotted', spot: n.spot.id, grade: 'none' } };
    case 'read':
      return { label: 'Read it and write it down', body: null };
    case 'act':
      // What the method itself waits for is caught the moment it comes; what a person does, a step or something of the set-up, is done.
      return { label: mendOf(n.step.id) || n.stage.steps.some((s) => s.id === n.step.id) ? 'Done' : 'Now', body: { kind: 'marked', mark: n.step.id } };
    case 'reach':
      return { label: 'It stands in the window', body: { kind: 'marked', mark: n.step.id } };
    case 'wait':
      return {
        label: n.strayed ? backInWords(n.strayed) : n.unlike && now >= n.until ? $localize`Not yet` : `Settling · ${showClock(n.until - now)} left`,
        body: null,
      };
    case 'start':
      return { label: 'Start the hold', body: { kind: 'marked', mark: 'start' } };
    case 'hold':
      return now < n.until ? { label: `Holding · ${showClock(n.until - now)} left`, body: null } : { label: 'Time is up: read the gauge', body: null };
    case 'end':
      return { label: 'Judge it', body: { kind: 'ended', stage: n.stage.id, attempt: n.attempt } };
    case 'seal':
      return { label: 'Seal the record', body: { kind: 'sealed' } };
    case 'closed':
      return { label: 'The run is closed', body: null };
  }
}

/** What a person does now, in a line beside the key. */
export function instructionOf(n: Next, now: number): string {
  switch (n.kind) {
    case 'answer':
      return n.item.automatic ? 'A no here ends the test' : 'A no asks what is wrong';
    case 'spot':
      return `Soap it: ${n.spot.text}`;
    case 'read':
      return 'Type what it reads';
    case 'wait':
      return n.strayed ? reasonInWords(n.strayed) : n.unlike && now >= n.until ? reasonInWords(n.unlike) : n.step.text;
    case 'act':
    case 'reach':
      return n.step.text;
    case 'start':
      return `Trim it into ${showQuantity(n.low)} to ${showQuantity(n.high)}, hands off, then start`;
    case 'hold':
      return factsOf(n.stage.method).keptUp ? 'Hold the pressure until the clock stops' : 'Hands off until the clock stops';
    case 'begin':
      return `Next: ${n.stage.title}`;
    case 'end':
      return 'All said';
    case 'seal':
      return 'Everything is done. Sealing writes the record, and nothing in it can be changed afterwards.';
    case 'closed':
      return 'The record is written';
  }
}

/** Why it is done, in one line; null where nothing is written. */
export function whyOf(n: Next): string | null {
  if (n.kind === 'answer') return n.item.why ?? null;
  return 'step' in n ? (n.step.why ?? null) : null;
}
