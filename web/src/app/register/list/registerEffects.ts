import { mainRole } from '@grellin/core';
import { inject, Injectable } from '@angular/core';
import { Router } from '@angular/router';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import type { AssetRow, NewRound, NewRun } from '@grellin/contract';
import { catchError, EMPTY, exhaustMap, forkJoin, map, of, switchMap, takeUntil, tap, type Observable } from 'rxjs';
import { Store } from '@ngrx/store';
import { accountFeature } from '../../account/accountStore';
import { Api, problemOf, type PublishedView } from '../../api/api';
import { RoundRuns } from '../../round/roundRuns';
import { Leases } from '../../run/lease';
import { AssetPageActions, RegisterActions, registerFeature } from './registerStore';

/** What is the same for every item of a round that begins with this run. */
function roundOf({ procedure, ruleSet, instruments, rig }: NewRun): NewRound {
  return { procedure, ruleSet, instruments, ...(rig === undefined ? {} : { rig }) };
}

@Injectable()
export class RegisterEffects {
  private readonly actions = inject(Actions);
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly leases = inject(Leases);
  private readonly rounds = inject(RoundRuns);
  private readonly state = inject(Store).selectSignal(registerFeature.selectRegisterState);
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);

  readonly load = createEffect(() => {
    return this.actions.pipe(
      ofType(RegisterActions.asked),
      switchMap(({ query }) =>
        this.api.assets(query).pipe(
          map((page) => RegisterActions.arrived({ page })),
          catchError((error: unknown) => of(RegisterActions.failed({ problem: problemOf(error) }))),
        ),
      ),
    );
  });

  readonly loadMore = createEffect(() => {
    return this.actions.pipe(
      ofType(RegisterActions.moreAsked),
      exhaustMap(() => {
        const after = this.state().list.value?.next;
        if (!after) return EMPTY;
        return this.api.assets({ ...this.state().query, after }).pipe(
          map((page) => RegisterActions.moreArrived({ page })),
          catchError((error: unknown) => of(RegisterActions.failed({ problem: problemOf(error) }))),
          // The rest of an older question does not follow the first page of a newer one.
          takeUntil(this.actions.pipe(ofType(RegisterActions.asked))),
        );
      }),
    );
  });

  readonly loadPage = createEffect(() => {
    return this.actions.pipe(
      ofType(AssetPageActions.opened),
      switchMap(({ id }) =>
        forkJoin({ asset: this.api.asset(id), instruments: this.api.instruments(), procedures: this.api.procedures() }).pipe(
          switchMap((page) => this.coupled(page.asset.class, page.procedures).pipe(map((assets) => AssetPageActions.arrived({ ...page, assets })))),
          catchError((error: unknown) => of(AssetPageActions.failed({ problem: problemOf(error) }))),
        ),
      ),
    );
  });

  /** Items that could take another role beside one of a class: what a truck can pull. */
  private coupled(kind: string, procedures: readonly PublishedView[]): Observable<readonly AssetRow[]> {
    const tests = procedures.filter((p) => p.document.roles[mainRole(p.document)]?.classes.includes(kind));
    const classes = [
      ...new Set(
        tests.flatMap((p) =>
          Object.entries(p.document.roles)
            .filter(([role]) => role !== mainRole(p.document))
            .flatMap(([, r]) => r.classes),
        ),
      ),
    ];
    if (classes.length === 0) return of([]);
    return forkJoin(classes.map((c) => this.api.assets({ class: c, limit: '200' }))).pipe(map((pages) => pages.flatMap((p) => p.rows)));
  }

  readonly start = createEffect(() => {
    return this.actions.pipe(
      ofType(AssetPageActions.startPressed),
      exhaustMap(({ run, round }) =>
        (round === null ? this.api.openRun(run) : this.rounds.begin(roundOf(run), round)).pipe(
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
          this.leases.hold(this.me()?.id ?? '', run.id, run.lease, run.secret);
          void this.router.navigate(['/bench', run.id]);
        }),
      );
    },
    { dispatch: false },
  );
}
