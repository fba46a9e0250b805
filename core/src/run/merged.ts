import type { EventOf, RunEvent } from './event';

/** Most values that one event may carry. */
const MOST_VALUES = 20_000;

/** Whether a chunk goes on exactly where another ended. */
function follows(a: EventOf<'samples'>, b: EventOf<'samples'>): boolean {
  return (
    a.source === b.source &&
    a.channel === b.channel &&
    a.unit === b.unit &&
    a.everyMs === b.everyMs &&
    b.at === a.at + a.values.length * a.everyMs &&
    a.values.length + b.values.length <= MOST_VALUES
  );
}

/**
 * The same history with chunks of samples that follow one another put together, and each source's count made anew. Only for files: a stored run keeps the
 * chunks that its instrument sent.
 * @returns events that fold to the same readings
 * @example ((r) => merged(r.events).length < r.events.length)(exampleOf('suit.inflation', 'inflate')) // true
 */
export function merged(events: readonly RunEvent[]): readonly RunEvent[] {
  const out: RunEvent[] = [];
  // By source, where the chunk that may still grow stands; anything that a person says ends them all.
  let open = new Map<string, number>();
  for (const e of events) {
    if (e.kind !== 'samples') {
      open = new Map();
      out.push(e);
      continue;
    }
    const place = open.get(e.source);
    const before = place === undefined ? undefined : out[place];
    if (place !== undefined && before?.kind === 'samples' && follows(before, e)) out[place] = { ...before, values: [...before.values, ...e.values] };
    else {
      open.set(e.source, out.length);
      out.push(e);
    }
  }
  const counts = new Map<string, number>();
  return out.map((e) => {
    const n = (counts.get(e.source) ?? 0) + 1;
    counts.set(e.source, n);
    return { ...e, n };
  });
}
