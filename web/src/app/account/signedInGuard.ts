import { HttpErrorResponse } from '@angular/common/http';
import { inject } from '@angular/core';
import { Router, type CanActivateFn } from '@angular/router';
import { Store } from '@ngrx/store';
import type { SignedIn } from '@grellin/contract';
import { catchError, map, of, switchMap, take } from 'rxjs';
import { AwayDoor } from '../door/awayDoor';
import { AccountActions, accountFeature } from './accountStore';
import { WhoAmI } from './whoAmI';

/** Lets a signed-in person through; asks the server once after a reload. */
export const signedInGuard: CanActivateFn = (_route, state) => {
  const store = inject(Store);
  const who = inject(WhoAmI);
  const router = inject(Router);
  const door = inject(AwayDoor);
  return store.select(accountFeature.selectMe).pipe(
    take(1),
    switchMap((me) => {
      // A password that was given for once is changed before anything else.
      const through = (known: SignedIn) => (known.mustChange && state.url !== '/account' ? router.createUrlTree(['/account']) : true);
      if (me) return of(through(me));
      return who.ask().pipe(
        map((known) => {
          store.dispatch(AccountActions.known({ me: known }));
          return through(known);
        }),
        catchError((error: unknown) => {
          // Without the server there is what was taken along, for whoever has its PIN.
          const gone = error instanceof HttpErrorResponse && (error.status === 0 || error.status >= 502);
          if (gone && door.onDevice()) return of(router.createUrlTree(['/away']));
          return of(router.createUrlTree(['/sign-in'], state.url === '/' ? {} : { queryParams: { next: state.url } }));
        }),
      );
    }),
  );
};
