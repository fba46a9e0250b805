import { inject, Injectable } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { catchError, EMPTY, exhaustMap, map, of, switchMap, takeUntil } from 'rxjs';
import { Api, problemOf } from '../api/api';
import { LogActions, logFeature, RecordActions } from './logStore';

@Injectable()
export class LogEffects {
  private readonly actions = inject(Actions);
  private readonly api = inject(Api);

  private readonly state = inject(Store).selectSignal(logFeature.selectLogState);

  readonly load = createEffect(() => {
    return this.actions.pipe(
      ofType(LogActions.asked),
      switchMap(({ query }) =>
        this.api.records(query).pipe(
          map((page) => LogActions.arrived({ page })),
          catchError((error: unknown) => of(LogActions.failed({ problem: problemOf(error) }))),
        ),
      ),
    );
  });

  /** The next page; another question that is asked meanwhile is answered alone. */
  readonly loadMore = createEffect(() => {
    return this.actions.pipe(
      ofType(LogActions.moreAsked),
      exhaustMap(() => {
        const { query, list } = this.state();
        const after = list.value?.next;
        if (!after) return EMPTY;
        return this.api.records({ ...query, after }).pipe(
          map((page) => LogActions.moreArrived({ page })),
          catchError((error: unknown) => of(LogActions.failed({ problem: problemOf(error) }))),
          takeUntil(this.actions.pipe(ofType(LogActions.asked))),
        );
      }),
    );
  });

  readonly loadOne = createEffect(() => {
    return this.actions.pipe(
      ofType(RecordActions.opened),
      switchMap(({ number }) =>
        this.api.record(number).pipe(
          map((record) => RecordActions.arrived({ record })),
          catchError((error: unknown) => of(RecordActions.failed({ problem: problemOf(error) }))),
        ),
      ),
    );
  });
}
