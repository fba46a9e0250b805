import { inject, Injectable } from '@angular/core';
import { Router } from '@angular/router';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, exhaustMap, forkJoin, map, of, switchMap, tap } from 'rxjs';
import { Store } from '@ngrx/store';
import { accountFeature } from '../account/accountStore';
import { Api, problemOf } from '../api/api';
import { Leases } from '../bench/lease';
import { AssetPageActions, RegisterActions } from './registerStore';

@Injectable()
export class RegisterEffects {
  private readonly actions = inject(Actions);
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly leases = inject(Leases);
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);

  readonly load = createEffect(() => {
    return this.actions.pipe(
      ofType(RegisterActions.opened),
      switchMap(() =>
        this.api.assets().pipe(
          map((assets) => RegisterActions.arrived({ assets })),
          catchError((error: unknown) => of(RegisterActions.failed({ problem: problemOf(error) }))),
        ),
      ),
    );
  });

  readonly loadPage = createEffect(() => {
    return this.actions.pipe(
      ofType(AssetPageActions.opened),
      switchMap(({ id }) =>
        forkJoin({ asset: this.api.asset(id), instruments: this.api.instruments(), procedures: this.api.procedures(), assets: this.api.assets() }).pipe(
          map((page) => AssetPageActions.arrived(page)),
          catchError((error: unknown) => of(AssetPageActions.failed({ problem: problemOf(error) }))),
        ),
      ),
    );
  });

  readonly start = createEffect(() => {
    return this.actions.pipe(
      ofType(AssetPageActions.startPressed),
      exhaustMap(({ run }) =>
        this.api.openRun(run).pipe(
          map((opened) => AssetPageActions.runOpened({ run: opened })),
          catchError((error: unknown) => of(AssetPageActions.startRefused({ problem: problemOf(error) }))),
        ),
      ),
    );
  });

  /** Whoever opened a run holds its first lease, in this browser and no other. */
  readonly toBench = createEffect(
    () => {
      return this.actions.pipe(
        ofType(AssetPageActions.runOpened),
        tap(({ run }) => {
          this.leases.hold(this.me()?.id ?? '', run.id, run.lease);
          void this.router.navigate(['/bench', run.id]);
        }),
      );
    },
    { dispatch: false },
  );
}
