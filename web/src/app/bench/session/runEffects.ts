import { inject, Injectable } from '@angular/core';
import { createEffect, ofType } from '@ngrx/effects';
import { catchError, concatMap, exhaustMap, filter, map, of, retry, switchMap, takeUntil, tap } from 'rxjs';
import { Api, problemOf } from '../../api/api';
import { Leases } from '../../run/lease';
import { RunStreams } from '../../door/runStreams';
import { AGAIN_MS, BenchContext } from './benchContext';
import { BenchActions, OutboxActions, StreamActions } from './benchStore';

/** How the run comes to the bench and goes: its view, its lease, its stream, and the record at its end. */
@Injectable()
export class RunEffects {
  private readonly api = inject(Api);
  private readonly leases = inject(Leases);
  private readonly streams = inject(RunStreams);
  private readonly context = inject(BenchContext);

  readonly load = createEffect(() => {
    return this.context.actions.pipe(
      ofType(BenchActions.opened),
      switchMap(({ id }) =>
        this.api.run(id).pipe(
          map((view) => BenchActions.runArrived({ view })),
          catchError((error: unknown) => of(BenchActions.runFailed({ problem: problemOf(error) }))),
          takeUntil(this.context.left),
        ),
      ),
    );
  });

  /** The lease that this browser has kept, unless another tab of it is at work on the run. */
  readonly findLease = createEffect(() => {
    return this.context.actions.pipe(
      ofType(BenchActions.runArrived),
      concatMap(async ({ view }) => {
        const free = await this.leases.enter(view.id);
        const found = BenchActions.leaseFound({ held: free ? this.leases.held(this.context.account(), view.id) : null, elsewhere: !free });
        return this.context.bench().id === view.id ? found : null;
      }),
      filter((found) => found !== null),
    );
  });

  readonly stream = createEffect(() => {
    return this.context.actions.pipe(
      ofType(BenchActions.runArrived),
      switchMap(({ view }) =>
        this.streams
          .follow(() => ({ [view.id]: this.context.bench().seq }))
          .pipe(
            map((message) => (message ? StreamActions.arrived(message) : StreamActions.lost())),
            takeUntil(this.context.changed),
          ),
      ),
    );
  });

  /** Whether the run has come to its end: the stream says so, or what ended it was said here and has been stored. A stream that is lost then says nothing more. */
  private hasEnded(action: ReturnType<typeof StreamActions.arrived> | ReturnType<typeof OutboxActions.sent>): boolean {
    const { id, run } = this.context.bench();
    return 'closed' in action ? action.closed && action.run === id : run.sealed || run.abandoned !== null;
  }

  /** The record's number comes with the closing, so the run is asked for once more. */
  readonly closing = createEffect(() => {
    return this.context.actions.pipe(
      ofType(StreamActions.arrived, OutboxActions.sent),
      filter((action) => this.context.bench().view?.record === null && this.hasEnded(action)),
      exhaustMap(() =>
        this.api.run(this.context.bench().id ?? '').pipe(
          map((view) => {
            if (!view.closed) throw new Error('it is not closed yet');
            return BenchActions.runClosed({ view });
          }),
          // Nothing comes down the stream of a closed run that would ask again.
          retry({ delay: AGAIN_MS }),
          takeUntil(this.context.changed),
        ),
      ),
    );
  });

  readonly takeOver = createEffect(() => {
    return this.context.actions.pipe(
      ofType(BenchActions.takeOverPressed),
      map(() => this.context.bench().id ?? ''),
      exhaustMap((id) =>
        this.api.takeOver(id).pipe(
          map(({ lease, secret }) => BenchActions.leaseFound({ held: this.leases.hold(this.context.account(), id, lease, secret), elsewhere: false })),
          catchError((error: unknown) => of(BenchActions.statementRefused({ message: problemOf(error).message }))),
          takeUntil(this.context.changed),
        ),
      ),
    );
  });

  readonly leave = createEffect(
    () => {
      return this.context.actions.pipe(
        ofType(BenchActions.left),
        tap(() => this.entered.forEach((run) => this.leases.leave(run))),
      );
    },
    { dispatch: false },
  );
  private readonly entered = new Set<string>();

  readonly noteEntered = createEffect(
    () => {
      return this.context.actions.pipe(
        ofType(BenchActions.opened),
        tap(({ id }) => {
          // From one run straight to another: the first is left to whoever comes next.
          for (const other of [...this.entered].filter((run) => run !== id)) {
            this.leases.leave(other);
            this.entered.delete(other);
          }
          this.entered.add(id);
        }),
      );
    },
    { dispatch: false },
  );
}
