import { inject, Injectable } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, map, of, switchMap } from 'rxjs';
import { Api, problemOf } from '../api/api';
import { LogActions, RecordActions } from './logStore';

@Injectable()
export class LogEffects {
  private readonly actions = inject(Actions);
  private readonly api = inject(Api);

  readonly load = createEffect(() => {
    return this.actions.pipe(
      ofType(LogActions.opened),
      switchMap(() =>
        this.api.records().pipe(
          map((records) => LogActions.arrived({ records })),
          catchError((error: unknown) => of(LogActions.failed({ problem: problemOf(error) }))),
        ),
      ),
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
