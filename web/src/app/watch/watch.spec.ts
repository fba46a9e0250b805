import type { PositionedEvent, RunView } from '@grellin/contract';
import { describe, expect, it } from 'vitest';
import { suitRun } from '../../testing/scriptedRun';
import { WatchActions, watchFeature, type WatchState } from './watchStore';
import { watchRow } from './watchView';

const run = suitRun();
const view = {
  id: 'r', tag: 'GS-01', title: 'Gas-tight suit', clock: 'simulated', document: run.plan.procedure, instruments: { suit: { streams: true } },
} as unknown as RunView; // prettier-ignore
const positioned: readonly PositionedEvent[] = run.events.map((event, i) => ({ seq: i + 1, lease: 1, late: false, event }));
const reduce = (...actions: Parameters<typeof watchFeature.reducer>[1][]): WatchState =>
  actions.reduce<WatchState>((s, a) => watchFeature.reducer(s, a), watchFeature.reducer(undefined, { type: 'init' }));
const upTo = (kind: string, id: string): readonly PositionedEvent[] =>
  positioned.slice(0, positioned.findIndex(({ event: e }) => e.kind === kind && (('mark' in e && e.mark === id) || ('stage' in e && e.stage === id))) + 1);
const arrived = (events: readonly PositionedEvent[], closed = false) => WatchActions.eventsArrived({ run: 'r', closed, events });
const rowOf = (state: WatchState) => {
  const watched = state.runs['r'];
  if (!watched) throw new Error('not watched');
  return watchRow(watched, 0, true);
};

describe('runs that are watched beside one another', () => {
  it('are folded once each, however often their events come', () => {
    const some = upTo('marked', 'fill');
    const once = reduce(WatchActions.viewArrived({ view }), arrived(some));
    const twice = reduce(WatchActions.viewArrived({ view }), arrived(some), arrived(some));
    expect(twice.runs['r']?.seq).toBe(once.runs['r']?.seq);
    expect(Object.keys(twice.runs['r']?.run.attempts ?? {})).toEqual(Object.keys(once.runs['r']?.run.attempts ?? {}));
  });
  it('say what goes on and how long it takes, and when a hand is wanted', () => {
    const settling = rowOf(reduce(WatchActions.viewArrived({ view }), arrived(upTo('marked', 'fill'))));
    expect(settling).toMatchObject({ doing: 'settling', wantsHand: false, simulated: true });
    expect(settling.left).toMatch(/^\d+:\d\d$/);
    expect(settling.path).toMatch(/^M[\d. L-]+$/);
    const between = rowOf(reduce(WatchActions.viewArrived({ view }), arrived(upTo('ended', 'inflate'))));
    expect(between).toMatchObject({ doing: 'next stage', wantsHand: true, left: null });
  });
  it('are gone when they are closed, when the server lists them no more, and when nobody watches', () => {
    const watched = [WatchActions.opened(), WatchActions.viewArrived({ view }), arrived(positioned.slice(0, 5))] as const;
    expect(reduce(...watched, arrived([], true)).runs).toEqual({});
    expect(reduce(...watched, WatchActions.listed({ runs: [], tickMs: 5 }))).toMatchObject({ runs: {}, offsets: {}, tickMs: 5 });
    expect(reduce(...watched, WatchActions.left()).runs).toEqual({});
    expect(Object.keys(reduce(WatchActions.opened(), ...watched, WatchActions.left()).runs)).toEqual(['r']);
  });
  it('leave what came under an old lease out', () => {
    const late = positioned.map((p) => (p.event.kind === 'opened' ? p : { ...p, late: true }));
    expect(reduce(WatchActions.viewArrived({ view }), arrived(late)).runs['r']?.run.attempts).toEqual({});
  });
});
