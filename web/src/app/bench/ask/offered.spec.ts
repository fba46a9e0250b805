import type { RunView } from '@grellin/contract';
import { catalogue, emptyRun, fold, may, type EventOf, type RunEvent, type RunState } from '@grellin/core';
import { practiceRun, rigFor, truthOf } from '@grellin/core/practice';
import { describe, expect, it } from 'vitest';
import { benchView } from './benchView';
import { typedChannelsOf } from './facts';

/**
 * By typed readings alone nobody comes to a dead end: a reading without which what comes next is refused has a field, called by what it is, at the moment when it
 * is wanted. Taken from what a hand that reads everything by eye writes down: each reading is left out in turn, and where that shuts the next thing, its field has
 * to stand there.
 */
const eye = { streams: false } as RunView['instruments'][string];

function fieldsOf(procedure: string, ruleSet: string): { readonly missing: readonly string[]; readonly waitedFor: readonly string[] } {
  const { plan, events } = practiceRun(procedure, ruleSet, rigFor(procedure) ?? '', 'none', { readings: 'typed' });
  const opened = events[0] as EventOf<'opened'>;
  const instruments = Object.fromEntries(Object.keys(opened.instruments).map((channel) => [channel, eye]));
  const missing = new Set<string>();
  const waitedFor = new Set<string>();
  let state: RunState = emptyRun;
  let read: (RunEvent & { readonly kind: 'reading' })[] = [];
  const withReadings = (from: RunState, all: typeof read): RunState => all.reduce((s, e) => fold(s, e), from);
  for (const e of events) {
    if (e.kind === 'reading') {
      read.push(e);
      continue;
    }
    if (e.kind === 'marked' || e.kind === 'answered' || e.kind === 'ended') {
      const whole = withReadings(state, read);
      for (const channel of new Set(read.map((r) => r.channel))) {
        const without = withReadings(state, read.filter((r) => r.channel !== channel)); // prettier-ignore
        const other = { ...e, n: (without.sources[e.source]?.n ?? 0) + 1 };
        if (may(plan, without, other) === null || may(plan, whole, e) !== null) continue;
        waitedFor.add(channel);
        const offered = typedChannelsOf(benchView(plan, without, e.at), instruments, without).find((g) => g.channel === channel);
        if (!offered || offered.title.trim() === '')
          missing.add(`${e.kind} ${'mark' in e ? e.mark : 'item' in e ? e.item : 'stage' in e ? e.stage : ''}: ${channel}`);
      }
    }
    state = fold(withReadings(state, read), e);
    read = [];
  }
  return { missing: [...missing], waitedFor: [...waitedFor].sort() };
}

describe('what is read by eye and typed', () => {
  const cases = catalogue.filter((p) => p.id !== 'valve.relief').flatMap((p) => p.ruleSets.filter((r) => truthOf(p.id, r.id)['none'] === 'pass').map((r) => [p.id, r.id] as const)); // prettier-ignore
  it.each(cases)('%s, %s: each reading that is waited for has its field', { timeout: 120_000 }, (procedure, ruleSet) => {
    const { missing, waitedFor } = fieldsOf(procedure, ruleSet);
    expect(missing).toEqual([]);
    // What is judged on a gauge cannot be had without it: were nothing waited for, nothing would have been tried.
    const judged = catalogue
      .find((p) => p.id === procedure)
      ?.ruleSets.find((r) => r.id === ruleSet)
      ?.limits.some((l) => ['loss', 'end', 'percent', 'ratio'].includes(l.of));
    expect(judged && waitedFor.length === 0).toBeFalsy();
  });
  it('is every gauge of the vehicle that both thumbs are at, and the pressure and the water of a cylinder', () => {
    expect(fieldsOf('cyl.water-jacket', 'us-metal').waitedFor).toEqual(['pressure', 'water']);
    expect(fieldsOf('brakes.whole', 'fire-apparatus').waitedFor).toEqual(expect.arrayContaining(['engine', 'primary', 'secondary']));
  });
});
