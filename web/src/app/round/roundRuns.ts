import { inject, Injectable } from '@angular/core';
import { Router } from '@angular/router';
import type { NewRound, OpenedRun, RoundItem } from '@grellin/contract';
import { Store } from '@ngrx/store';
import { catchError, switchMap, tap, throwError, type Observable } from 'rxjs';
import { accountFeature } from '../account/accountStore';
import { Api } from '../api/api';
import { Leases } from '../run/lease';

/** Opens runs of a round: whoever opens one holds its first lease, in this browser and no other. */
@Injectable({ providedIn: 'root' })
export class RoundRuns {
  private readonly api = inject(Api);
  private readonly leases = inject(Leases);
  private readonly router = inject(Router);
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);

  /** The run of the next item, by what was scanned or typed from it; the bench is on it then. */
  next(round: string, item: RoundItem): Observable<unknown> {
    return this.api.nextInRound(round, item).pipe(
      tap((run) => {
        this.leases.hold(this.me()?.id ?? '', run.id, run.lease, run.secret);
        void this.router.navigate(['/bench', run.id]);
      }),
    );
  }

  /** A round with its first item. Where that is refused there is no round either. */
  begin(round: NewRound, code: string): Observable<OpenedRun> {
    return this.api
      .openRound(round)
      .pipe(
        switchMap(({ id }) =>
          this.api.nextInRound(id, { code }).pipe(catchError((refused: unknown) => this.api.endRound(id).pipe(switchMap(() => throwError(() => refused))))),
        ),
      );
  }
}
