import { inject, Injectable } from '@angular/core';
import { Router } from '@angular/router';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { catchError, exhaustMap, filter, map, of, tap } from 'rxjs';
import { Api, problemOf } from '../api/api';
import { Store } from '@ngrx/store';
import { AwayDoor } from '../door/awayDoor';
import { AccountActions, accountFeature, SignInActions } from './accountStore';

@Injectable()
export class AccountEffects {
  private readonly actions = inject(Actions);
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly door = inject(AwayDoor);
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);

  readonly signIn = createEffect(() => {
    return this.actions.pipe(
      ofType(SignInActions.submitted),
      exhaustMap(({ name, password }) =>
        this.api.signIn(name, password).pipe(
          map((me) => AccountActions.signedIn({ me })),
          catchError((error: unknown) => of(AccountActions.refused({ problem: problemOf(error) }))),
        ),
      ),
    );
  });

  readonly enter = createEffect(
    () => {
      return this.actions.pipe(
        ofType(AccountActions.signedIn),
        tap(
          () =>
            void this.router.navigateByUrl(
              this.router.parseUrl(this.router.url).queryParams['next'] === undefined
                ? '/today'
                : String(this.router.parseUrl(this.router.url).queryParams['next']),
            ),
        ),
      );
    },
    { dispatch: false },
  );

  readonly signOut = createEffect(() => {
    return this.actions.pipe(
      ofType(AccountActions.signOutPressed),
      // What was done away and is not handed in is the signer's own: it is not left behind for the next one.
      filter(() => {
        const held = this.door.onDevice();
        if (!held || held.unsent === 0 || held.account !== this.me()?.id) return true;
        void this.router.navigateByUrl('/along');
        return false;
      }),
      exhaustMap(() =>
        this.api.signOut().pipe(
          map(() => AccountActions.signedOut()),
          catchError(() => of(AccountActions.signedOut())),
        ),
      ),
    );
  });

  readonly leave = createEffect(
    () => {
      return this.actions.pipe(
        ofType(AccountActions.signedOut),
        tap(() => {
          // Whoever comes next finds nothing open.
          this.door.shut();
          void this.router.navigateByUrl('/sign-in');
        }),
      );
    },
    { dispatch: false },
  );
}
