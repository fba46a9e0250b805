import type { PositionedEvent, Problem, RunView } from '@grellin/contract';
import { emptyRun, fold, planOfRun, type EventBody, type Plan, type RunEvent, type RunState } from '@grellin/core';
import { createActionGroup, createFeature, createReducer, createSelector, emptyProps, on, props } from '@ngrx/store';
import type { Sync } from './benchClock';
import type { Held } from '../../run/lease';
import { trimmed } from '../../run/trimmed';

export const BenchActions = createActionGroup({
  source: 'Bench',
  events: {
    opened: props<{ id: string }>(),
    left: emptyProps(),
    'run arrived': props<{ view: RunView }>(),
    'run closed': props<{ view: RunView }>(),
    'run failed': props<{ problem: Problem }>(),
    'lease found': props<{ held: Held | null; elsewhere: boolean }>(),
    'clock synced': props<{ sync: Sync }>(),
    ticked: props<{ tickMs: number }>(),
    stated: props<{ body: EventBody }>(),
    /** Readings of a logger's file, each with its own time. */
    'file taken': props<{ readings: readonly (EventBody & { readonly at: number })[] }>(),
    'statement refused': props<{ message: string }>(),
    'take over pressed': emptyProps(),
    'refusal read': emptyProps(),
  },
});

export const OutboxActions = createActionGroup({
  source: 'Outbox',
  events: {
    queued: props<{ event: RunEvent }>(),
    found: props<{ events: readonly RunEvent[] }>(),
    sent: props<{ ids: readonly string[] }>(),
    'server away': emptyProps(),
    'server refused': props<{ problem: Problem }>(),
  },
});

export const StreamActions = createActionGroup({
  source: 'Run stream',
  events: {
    arrived: props<{ run: string; lease: number; closed: boolean; events: readonly PositionedEvent[] }>(),
    lost: emptyProps(),
  },
});

export interface BenchState {
  readonly id: string | null;
  readonly view: RunView | null;
  readonly plan: Plan | null;
  readonly run: RunState;
  readonly seq: number;
  readonly lease: number;
  readonly held: Held | null;
  /** Whether it is known who holds the run. */
  readonly sought: boolean;
  /** Another tab of this browser works on the run. */
  readonly elsewhere: boolean;
  /** Ids of what was said here and is not stored at the server yet. */
  readonly waiting: readonly string[];
  readonly sync: Sync | null;
  readonly tickMs: number;
  readonly streaming: boolean;
  readonly away: boolean;
  readonly refusal: string | null;
  readonly problem: Problem | null;
}

const initial: BenchState = {
  id: null,
  view: null,
  plan: null,
  run: emptyRun,
  seq: 0,
  lease: 0,
  held: null,
  sought: false,
  elsewhere: false,
  waiting: [],
  sync: null,
  tickMs: 0,
  streaming: false,
  away: false,
  refusal: null,
  problem: null,
};

function planOf(view: RunView, opened: RunEvent | undefined): Plan | null {
  if (opened?.kind !== 'opened') return null;
  const made = planOfRun(view.document, opened);
  return made.ok ? made.plan : null;
}

function folded(state: BenchState, events: readonly RunEvent[]): BenchState {
  const fresh: RunEvent[] = [];
  let run = state.run;
  for (const e of events) {
    // A source counts its events: one that was said here and comes back from the server counts once.
    if (e.n <= (run.sources[e.source]?.n ?? 0)) continue;
    fresh.push(e);
    run = fold(run, e);
  }
  if (fresh.length === 0) return state;
  run = trimmed(state.run, run);
  const plan =
    state.plan ??
    (state.view &&
      planOf(
        state.view,
        fresh.find((e) => e.kind === 'opened'),
      ));
  return { ...state, run, plan };
}

/** Back to what the server knows: after a refusal what was drawn ahead of it is taken off again. */
function restarted(state: BenchState): BenchState {
  return { ...state, run: emptyRun, plan: null, seq: 0, waiting: [] };
}

export const benchFeature = createFeature({
  name: 'bench',
  reducer: createReducer(
    initial,
    on(BenchActions.opened, (_state, { id }): BenchState => ({ ...initial, id })),
    on(BenchActions.left, (): BenchState => initial),
    on(BenchActions.runArrived, (state, { view }): BenchState => ({ ...state, view, lease: view.lease })),
    on(BenchActions.runClosed, (state, { view }): BenchState => ({ ...state, view })),
    on(BenchActions.runFailed, (state, { problem }): BenchState => ({ ...state, problem })),
    on(BenchActions.leaseFound, (state, { held, elsewhere }): BenchState => {
      // A look that was begun before the run was taken over comes to nothing, and may come late.
      if (state.held && (held?.lease ?? 0) < state.held.lease) return state;
      return { ...state, held, elsewhere, sought: true, lease: Math.max(state.lease, held?.lease ?? 0) };
    }),
    on(BenchActions.clockSynced, (state, { sync }): BenchState => ({ ...state, sync })),
    on(BenchActions.ticked, (state, { tickMs }): BenchState => ({ ...state, tickMs })),
    on(BenchActions.statementRefused, (state, { message }): BenchState => ({ ...state, refusal: message })),
    on(BenchActions.refusalRead, BenchActions.stated, (state): BenchState => ({ ...state, refusal: null })),
    on(OutboxActions.queued, (state, { event }): BenchState => ({ ...folded(state, [event]), waiting: [...state.waiting, event.id] })),
    on(OutboxActions.found, (state, { events }): BenchState => ({
      ...folded(state, events),
      waiting: [...new Set([...state.waiting, ...events.map((e) => e.id)])],
    })),
    on(OutboxActions.sent, (state, { ids }): BenchState => ({ ...state, waiting: state.waiting.filter((w) => !ids.includes(w)), away: false })),
    on(OutboxActions.serverAway, StreamActions.lost, (state): BenchState => ({ ...state, away: true })),
    on(OutboxActions.serverRefused, (state, { problem }): BenchState => ({ ...restarted(state), refusal: problem.message })),
    on(StreamActions.arrived, (state, { run, lease, events }): BenchState => {
      // A message of the run that stood here before can still be under way: it is nothing of this one.
      if (run !== state.id) return state;
      const next = folded(
        state,
        events.filter((e) => !e.late).map((e) => e.event),
      );
      // A lease is only ever raised: a message that was under way while the run was taken over here takes nothing back.
      return { ...next, lease: Math.max(state.lease, lease), seq: events.at(-1)?.seq ?? state.seq, streaming: true, away: false };
    }),
  ),
  extraSelectors: ({ selectHeld, selectLease, selectElsewhere, selectView, selectRun, selectSync, selectTickMs }) => ({
    /** Whether this tab may say anything: it holds the newest lease. */
    selectMine: createSelector(selectHeld, selectLease, selectElsewhere, (held, lease, elsewhere) => held !== null && held.lease === lease && !elsewhere),
    /**
     * The run's clock, ms. It follows the instrument where one streams; otherwise this browser's tick, mapped to the server's. Every timer on the
     * screen is derived from it.
     */
    selectNow: createSelector(selectView, selectRun, selectSync, selectTickMs, (view, run, sync, tickMs) => {
      const streams = Object.values(view?.instruments ?? {}).some((i) => i.streams);
      if (streams || !sync || !run.opened) return run.at;
      return Math.max(run.at, Math.round(tickMs + sync.offsetMs));
    }),
  }),
});
