import { inject, Injectable } from '@angular/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, map, of, switchMap } from 'rxjs';
import { Api, problemOf } from '../api/api';
import { TodayActions } from './todayStore';

@Injectable()
export class TodayEffects {
  private readonly actions = inject(Actions);
  private readonly api = inject(Api);

  readonly load = createEffect(() => {
    return this.actions.pipe(
      ofType(TodayActions.opened),
      switchMap(() =>
        this.api.today().pipe(
          map((today) => TodayActions.arrived({ today })),
          catchError((error: unknown) => of(TodayActions.failed({ problem: problemOf(error) }))),
        ),
      ),
    );
  });
}
