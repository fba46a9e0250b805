import type { OpenRunRow, PositionedEvent, RunView } from '@grellin/contract';
import { emptyRun, fold, planOfRun, type Plan, type RunState } from '@grellin/core';
import { createActionGroup, createFeature, createReducer, createSelector, emptyProps, on, props } from '@ngrx/store';
import { trimmed } from '../run/trimmed';

export const WatchActions = createActionGroup({
  source: 'Watch',
  events: {
    opened: emptyProps(),
    left: emptyProps(),
    /** One run has the screen to itself: its readings need not be kept twice. */
    spared: props<{ run: string | null }>(),
    /** The open runs, as the server lists them. */
    listed: props<{ runs: readonly OpenRunRow[]; tickMs: number }>(),
    'view arrived': props<{ view: RunView }>(),
    'events arrived': props<{ run: string; closed: boolean; events: readonly PositionedEvent[] }>(),
    ticked: props<{ tickMs: number }>(),
  },
});

/** One run that is watched beside others. */
export interface Watched {
  readonly view: RunView;
  readonly plan: Plan | null;
  readonly run: RunState;
  readonly seq: number;
}

export interface WatchState {
  readonly watchers: number;
  readonly runs: Readonly<Record<string, Watched>>;
  readonly spared: string | null;
  /** What to add to this browser's tick to get each run's clock, ms. */
  readonly offsets: Readonly<Record<string, number>>;
  readonly tickMs: number;
}

const initial: WatchState = { watchers: 0, runs: {}, spared: null, offsets: {}, tickMs: 0 };

function withEvents(watched: Watched, events: readonly PositionedEvent[]): Watched {
  const fresh = events.filter((e) => e.seq > watched.seq);
  let { run, plan } = watched;
  for (const { event, late } of fresh) {
    if (late) continue;
    run = fold(run, event);
    if (event.kind !== 'opened') continue;
    const made = planOfRun(watched.view.document, event);
    plan = made.ok ? made.plan : null;
  }
  run = trimmed(watched.run, run);
  return { ...watched, run, plan, seq: fresh.at(-1)?.seq ?? watched.seq };
}

export const watchFeature = createFeature({
  name: 'watch',
  reducer: createReducer(
    initial,
    on(WatchActions.opened, (state): WatchState => ({ ...state, watchers: state.watchers + 1 })),
    on(WatchActions.left, (state): WatchState => (state.watchers <= 1 ? initial : { ...state, watchers: state.watchers - 1 })),
    on(WatchActions.spared, (state, { run }): WatchState => ({
      ...state,
      spared: run,
      runs: Object.fromEntries(Object.entries(state.runs).filter(([id]) => id !== run)),
    })),
    on(WatchActions.listed, (state, { runs, tickMs }): WatchState => {
      const open = new Set(runs.map((r) => r.id));
      const offsets = Object.fromEntries(runs.map((r) => [r.id, r.clockMs - tickMs]));
      return { ...state, offsets, tickMs, runs: Object.fromEntries(Object.entries(state.runs).filter(([id]) => open.has(id))) };
    }),
    on(WatchActions.viewArrived, (state, { view }): WatchState =>
      state.runs[view.id] || view.id === state.spared ? state : { ...state, runs: { ...state.runs, [view.id]: { view, plan: null, run: emptyRun, seq: 0 } } },
    ),
    on(WatchActions.eventsArrived, (state, { run, closed, events }): WatchState => {
      const watched = state.runs[run];
      if (!watched) return state;
      if (!closed) return { ...state, runs: { ...state.runs, [run]: withEvents(watched, events) } };
      return { ...state, runs: Object.fromEntries(Object.entries(state.runs).filter(([id]) => id !== run)) };
    }),
    on(WatchActions.ticked, (state, { tickMs }): WatchState => ({ ...state, tickMs })),
  ),
  extraSelectors: ({ selectWatchers, selectRuns }) => ({
    selectWatched: createSelector(selectWatchers, (n) => n > 0),
    /** The runs in sight, as one word: it changes only when one comes or goes. */
    selectWatchedIds: createSelector(selectRuns, (runs) => Object.keys(runs).sort().join()),
  }),
});
