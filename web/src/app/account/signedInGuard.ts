import { inject } from '@angular/core';
import { Router, type CanActivateFn } from '@angular/router';
import { Store } from '@ngrx/store';
import type { SignedIn } from '@grellin/contract';
import { catchError, map, of, switchMap, take } from 'rxjs';
import { Api } from '../api/api';
import { AccountActions, accountFeature } from './accountStore';

/** Lets a signed-in person through; asks the server once after a reload. */
export const signedInGuard: CanActivateFn = (_route, state) => {
  const store = inject(Store);
  const api = inject(Api);
  const router = inject(Router);
  return store.select(accountFeature.selectMe).pipe(
    take(1),
    switchMap((me) => {
      // A password that was given for once is changed before anything else.
      const through = (known: SignedIn) => (known.mustChange && state.url !== '/account' ? router.createUrlTree(['/account']) : true);
      if (me) return of(through(me));
      return api.me().pipe(
        map((known) => {
          store.dispatch(AccountActions.known({ me: known }));
          return through(known);
        }),
        catchError(() => of(router.createUrlTree(['/sign-in'], state.url === '/' ? {} : { queryParams: { next: state.url } }))),
      );
    }),
  );
};
