import { inject, Injectable } from '@angular/core';
import { createEffect, ofType } from '@ngrx/effects';
import { concatMap, defer, filter, interval, map, of, retry, switchMap, takeUntil, type Observable } from 'rxjs';
import { BenchClock, type Sync } from './benchClock';
import { AGAIN_MS, BenchContext } from './benchContext';
import { BenchActions } from './benchStore';

const TICK_MS = 250;
/** How often it is looked whether the machine has slept. */
const LOOK_MS = 1000;
/** A tick and a wall clock that part by more than this tell of a machine that slept. */
const PARTED_MS = 1000;

/** The run’s clock on the bench: its ticks, its comparison with the server, and a machine that slept. */
@Injectable()
export class ClockEffects {
  private readonly clock = inject(BenchClock);
  private readonly context = inject(BenchContext);

  readonly tick = createEffect(() => {
    return this.context.actions.pipe(
      ofType(BenchActions.opened),
      switchMap(() =>
        interval(TICK_MS).pipe(
          map(() => BenchActions.ticked({ tickMs: this.clock.tick() })),
          takeUntil(this.context.left),
        ),
      ),
    );
  });

  /** The comparison of the clocks, asked for until the server answers: without it no minute of the run can pass. */
  private compared(): Observable<Sync> {
    return defer(() => this.clock.sync(this.context.bench().id ?? '')).pipe(retry({ delay: AGAIN_MS }), takeUntil(this.context.left));
  }

  /** Compares the clocks when a run without a streaming gauge is opened, and again after the machine has slept. */
  readonly sync = createEffect(() => {
    return this.context.actions.pipe(
      ofType(BenchActions.leaseFound),
      filter(() => !this.context.streams()),
      switchMap(() => this.compared()),
      map((sync) => BenchActions.clockSynced({ sync })),
    );
  });

  readonly noteSync = createEffect(() => {
    return this.context.actions.pipe(
      ofType(BenchActions.clockSynced),
      filter(() => this.context.mine()),
      map(({ sync }) => BenchActions.stated({ body: { kind: 'synced', ...sync } })),
    );
  });

  readonly watchSleep = createEffect(() => {
    return this.context.actions.pipe(
      ofType(BenchActions.opened),
      switchMap(() => {
        let parted = this.clock.wall() - this.clock.tick();
        return interval(LOOK_MS).pipe(
          map(() => {
            const now = this.clock.wall() - this.clock.tick();
            const slept = now - parted;
            parted = now;
            return slept;
          }),
          filter((slept) => Math.abs(slept) > PARTED_MS && !this.context.streams()),
          concatMap((slept) =>
            this.compared().pipe(
              concatMap((sync) =>
                of(
                  BenchActions.clockSynced({ sync }),
                  BenchActions.stated({ body: { kind: 'gap', wallMs: Math.round(Math.max(slept, 0)), tickMs: Math.round(Math.max(-slept, 0)) } }),
                ),
              ),
            ),
          ),
          takeUntil(this.context.left),
        );
      }),
    );
  });
}
