import type { RunView } from '@grellin/contract';
import { foldAll, type RunEvent } from '@grellin/core';
import { practiceRun } from '@grellin/core/practice';
import { describe, expect, it } from 'vitest';
import { benchView } from './benchView';
import { typedChannelsOf } from './facts';

/** A field says which reading it wants: a lift has two, and they are not told from one another afterwards. */
describe('what is typed of a lift', () => {
  const { plan, events } = practiceRun('valve.relief', 'asme', 'relief-bench', 'none');
  const lift = events.findIndex((e) => e.kind === 'marked' && e.mark === 'lift-1');
  const eye = { streams: false } as RunView['instruments'][string];
  const titles = (more: readonly RunEvent[]): readonly string[] => {
    const state = foldAll([...events.slice(0, lift + 1).filter((e) => e.kind !== 'samples'), ...more]);
    return typedChannelsOf(benchView(plan, state, state.at), { pressure: eye }, state).map((g) => g.title);
  };
  const read = (k: number): RunEvent => ({ id: `r${String(k)}`, source: 'eye', n: k, at: (events[lift]?.at ?? 0) + 1000 * k, kind: 'reading', channel: 'pressure', quantity: { value: 100, unit: '[psi]' } }); // prettier-ignore

  it('is first where it opened, then where it shut', () => {
    expect(titles([])).toEqual(['Test gauge, where it opened']);
    expect(titles([read(1)])).toEqual(['Test gauge, where it shut']);
  });
});
