import { inject, Injectable } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { catchError, EMPTY, filter, interval, map, mergeMap, startWith, switchMap, takeUntil } from 'rxjs';
import { Api } from '../api/api';
import { RunStreams } from '../door/runStreams';
import { WatchActions, watchFeature } from './watchStore';

/** New runs are looked for this often, and timers go on this often. */
const LIST_MS = 5000;
const TICK_MS = 500;
/** As many as one connection of the server's may follow. */
const MOST_RUNS = 12;

/** Keeps every open run in sight over one connection, as long as somebody watches. */
@Injectable()
export class WatchEffects {
  private readonly actions = inject(Actions);
  private readonly api = inject(Api);
  private readonly streams = inject(RunStreams);
  private readonly store = inject(Store);
  private readonly state = this.store.selectSignal(watchFeature.selectWatchState);
  private readonly watched$ = this.store.select(watchFeature.selectWatched);
  private readonly nobody$ = this.watched$.pipe(filter((on) => !on));

  readonly list = createEffect(() => {
    return this.watched$.pipe(
      filter((on) => on),
      switchMap(() =>
        interval(LIST_MS).pipe(
          startWith(0),
          switchMap(() =>
            this.api.runs().pipe(
              map((runs) => WatchActions.listed({ runs, tickMs: performance.now() })),
              catchError(() => EMPTY),
            ),
          ),
          takeUntil(this.nobody$),
        ),
      ),
    );
  });

  readonly fetch = createEffect(() => {
    return this.actions.pipe(
      ofType(WatchActions.listed),
      mergeMap(({ runs }) => {
        const { runs: known, spared } = this.state();
        return runs.filter((r) => !known[r.id] && r.id !== spared).slice(0, Math.max(0, MOST_RUNS - Object.keys(known).length));
      }),
      mergeMap(
        (r) =>
          this.api.run(r.id).pipe(
            map((view) => WatchActions.viewArrived({ view })),
            catchError(() => EMPTY),
          ),
        2,
      ),
    );
  });

  readonly stream = createEffect(() => {
    return this.store.select(watchFeature.selectWatchedIds).pipe(
      switchMap((ids) =>
        ids === ''
          ? EMPTY
          : this.streams
              .follow(() =>
                Object.fromEntries(
                  Object.entries(this.state().runs)
                    .slice(0, MOST_RUNS)
                    .map(([id, w]) => [id, w.seq]),
                ),
              )
              .pipe(
                filter((message) => message !== null),
                map(({ run, closed, events }) => WatchActions.eventsArrived({ run, closed, events })),
              ),
      ),
    );
  });

  readonly tick = createEffect(() => {
    return this.watched$.pipe(
      switchMap((on) => (on ? interval(TICK_MS) : EMPTY)),
      map(() => WatchActions.ticked({ tickMs: performance.now() })),
    );
  });
}
