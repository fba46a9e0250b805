import { inject, Injectable } from '@angular/core';
import { may, refusalInWords, type EventBody, type RunEvent } from '@grellin/core';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import {
  catchError,
  concatMap,
  defer,
  EMPTY,
  exhaustMap,
  filter,
  firstValueFrom,
  from,
  interval,
  map,
  merge,
  of,
  retry,
  type Observable,
  switchMap,
  takeUntil,
  tap,
} from 'rxjs';
import { v7 } from 'uuid';
import { accountFeature } from '../../account/accountStore';
import { Api, problemOf } from '../../api/api';
import { BenchClock, type Sync } from './benchClock';
import { BenchActions, benchFeature, OutboxActions, StreamActions } from './benchStore';
import { Leases } from '../../run/lease';
import { Outbox } from './outbox';
import { runStream } from '../../run/runStream';

const TICK_MS = 250;
const RESEND_MS = 1000;
/** After the server did not answer. */
const AGAIN_MS = 1000;
/** A tick and a wall clock that part by more than this tell of a machine that slept. */
const PARTED_MS = 1000;

@Injectable()
export class BenchEffects {
  private readonly actions = inject(Actions);
  private readonly store = inject(Store);
  private readonly api = inject(Api);
  private readonly outbox = inject(Outbox);
  private readonly leases = inject(Leases);
  private readonly clock = inject(BenchClock);

  private readonly left = this.actions.pipe(ofType(BenchActions.left));
  private readonly account = (): string => this.store.selectSignal(accountFeature.selectMe)()?.id ?? '';
  private readonly bench = this.store.selectSignal(benchFeature.selectBenchState);

  readonly load = createEffect(() => {
    return this.actions.pipe(
      ofType(BenchActions.opened),
      switchMap(({ id }) =>
        this.api.run(id).pipe(
          map((view) => BenchActions.runArrived({ view })),
          catchError((error: unknown) => of(BenchActions.runFailed({ problem: problemOf(error) }))),
          takeUntil(this.left),
        ),
      ),
    );
  });

  /** The lease that this browser has kept, unless another tab of it is at work on the run. */
  readonly findLease = createEffect(() => {
    return this.actions.pipe(
      ofType(BenchActions.runArrived),
      concatMap(async ({ view }) => {
        const free = await this.leases.enter(view.id);
        return BenchActions.leaseFound({ held: free ? this.leases.held(this.account(), view.id) : null, elsewhere: !free });
      }),
    );
  });

  readonly findQueue = createEffect(() => {
    return this.actions.pipe(
      ofType(StreamActions.arrived),
      // Once, when the history is there to fold onto.
      filter(() => !this.queueRead),
      concatMap(async () => {
        this.queueRead = true;
        const run = this.bench().id ?? '';
        const queued = await this.outbox.of(run, this.account());
        return OutboxActions.found({ events: queued.map((q) => q.event) });
      }),
    );
  });
  private queueRead = false;

  readonly stream = createEffect(() => {
    return this.actions.pipe(
      ofType(BenchActions.runArrived),
      tap(() => (this.queueRead = false)),
      switchMap(({ view }) =>
        runStream(() => ({ [view.id]: this.bench().seq })).pipe(
          map((message) => (message ? StreamActions.arrived(message) : StreamActions.lost())),
          takeUntil(this.left),
        ),
      ),
    );
  });

  /** The record's number comes with the closing, so the run is asked for once more. */
  readonly closing = createEffect(() => {
    return this.actions.pipe(
      ofType(StreamActions.arrived),
      filter(({ closed }) => closed && this.bench().view?.record === null),
      exhaustMap(() =>
        this.api.run(this.bench().id ?? '').pipe(
          map((view) => BenchActions.runClosed({ view })),
          // Nothing comes down the stream of a closed run that would ask again.
          retry({ delay: AGAIN_MS }),
          takeUntil(this.left),
        ),
      ),
    );
  });

  /** After a refusal the history is read anew from its beginning. */
  readonly reread = createEffect(() => {
    return this.actions.pipe(
      ofType(OutboxActions.serverRefused),
      concatMap(async () => {
        const state = this.bench();
        const run = state.id ?? '';
        const all = await this.outbox.of(run, this.account());
        await this.outbox.remove(run, new Set(all.map((q) => q.event.id)));
        // A refused event has left a hole in this source's count: go on under a new one.
        if (state.held) this.leases.hold(this.account(), run, state.held.lease, state.held.secret);
        return BenchActions.opened({ id: run });
      }),
    );
  });

  readonly tick = createEffect(() => {
    return this.actions.pipe(
      ofType(BenchActions.opened),
      switchMap(() =>
        interval(TICK_MS).pipe(
          map(() => BenchActions.ticked({ tickMs: this.clock.tick() })),
          takeUntil(this.left),
        ),
      ),
    );
  });

  /** The comparison of the clocks, asked for until the server answers: without it no minute of the run can pass. */
  private compared(): Observable<Sync> {
    return defer(() => this.clock.sync(this.bench().id ?? '')).pipe(retry({ delay: AGAIN_MS }), takeUntil(this.left));
  }

  /** Compares the clocks when a run without a streaming gauge is opened, and again after the machine has slept. */
  readonly sync = createEffect(() => {
    return this.actions.pipe(
      ofType(BenchActions.leaseFound),
      filter(() => !this.streams()),
      switchMap(() => this.compared()),
      map((sync) => BenchActions.clockSynced({ sync })),
    );
  });

  readonly noteSync = createEffect(() => {
    return this.actions.pipe(
      ofType(BenchActions.clockSynced),
      filter(() => this.store.selectSignal(benchFeature.selectMine)()),
      map(({ sync }) => BenchActions.stated({ body: { kind: 'synced', ...sync } })),
    );
  });

  readonly watchSleep = createEffect(() => {
    return this.actions.pipe(
      ofType(BenchActions.opened),
      switchMap(() => {
        let parted = this.clock.wall() - this.clock.tick();
        return interval(RESEND_MS).pipe(
          map(() => {
            const now = this.clock.wall() - this.clock.tick();
            const slept = now - parted;
            parted = now;
            return slept;
          }),
          filter((slept) => Math.abs(slept) > PARTED_MS && !this.streams()),
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
          takeUntil(this.left),
        );
      }),
    );
  });

  /** A statement becomes an event: asked of `may` first, kept in this browser, and only then drawn. */
  readonly state = createEffect(() => {
    return this.actions.pipe(
      ofType(BenchActions.stated),
      concatMap(({ body }) => this.event(body)),
    );
  });

  /** Readings from a file become events of a source of their own: their times are the logger's, not the hand's. */
  readonly takeFile = createEffect(() => {
    return this.actions.pipe(
      ofType(BenchActions.fileTaken),
      concatMap(async ({ readings }) => {
        const source = `csv:${v7()}`;
        const events: RunEvent[] = [];
        for (const reading of readings) {
          const { plan, held, id } = this.bench();
          const { at, ...body } = reading;
          const event: RunEvent = { id: v7(), source, n: events.length + 1, at, ...body };
          if (!plan || !held || !id) return [BenchActions.statementRefused({ message: 'This tab only looks on.' })];
          await this.outbox.put({ run: id, account: this.account(), lease: held.lease, secret: held.secret, event });
          events.push(event);
        }
        return events.map((event) => OutboxActions.queued({ event }));
      }),
      concatMap((actions) => from(actions)),
    );
  });

  private streams(): boolean {
    return Object.values(this.bench().view?.instruments ?? {}).some((i) => i.streams);
  }

  private async event(body: EventBody) {
    const { plan, run, held, id } = this.bench();
    if (!plan || !held || !id || !this.store.selectSignal(benchFeature.selectMine)())
      return BenchActions.statementRefused({ message: 'This tab only looks on.' });
    const last = run.sources[held.source];
    const now = Math.max(this.store.selectSignal(benchFeature.selectNow)(), last?.at ?? 0);
    const event: RunEvent = { id: v7(), source: held.source, n: (last?.n ?? 0) + 1, at: now, ...body };
    const refusal = may(plan, run, event);
    if (refusal) return BenchActions.statementRefused({ message: refusalInWords(refusal) });
    await this.outbox.put({ run: id, account: this.account(), lease: held.lease, secret: held.secret, event });
    return OutboxActions.queued({ event });
  }

  /** Sends what is queued, in order, until nothing is left; while the server is away it is tried again every second. */
  readonly send = createEffect(() => {
    return merge(
      this.actions.pipe(ofType(OutboxActions.queued, OutboxActions.found)),
      this.actions.pipe(
        ofType(BenchActions.opened),
        switchMap(() => interval(RESEND_MS).pipe(takeUntil(this.left))),
      ),
    ).pipe(
      exhaustMap(() => from(this.flush()).pipe(catchError(() => EMPTY))),
      filter((action) => action !== null),
    );
  });

  private async flush() {
    const run = this.bench().id;
    if (run === null) return null;
    const queued = await this.outbox.of(run, this.account());
    const first = queued[0];
    if (!first) return null;
    const batch = queued.filter((q) => q.lease === first.lease).slice(0, 100);
    try {
      const stored = await firstValueFrom(
        this.api.append(
          run,
          { lease: first.lease, secret: first.secret },
          batch.map((q) => q.event),
        ),
      );
      const ids = stored.map((s) => s.id);
      await this.outbox.remove(run, new Set(ids));
      return OutboxActions.sent({ ids });
    } catch (error) {
      const problem = problemOf(error);
      const final = [
        'run.refused',
        'event.ahead',
        'event.otherContent',
        'event.twice',
        'lease.newer',
        'lease.notYours',
        'malformed',
        'role.tooLow',
        'source.reserved',
      ].includes(problem.code);
      return final ? OutboxActions.serverRefused({ problem }) : OutboxActions.serverAway();
    }
  }

  readonly takeOver = createEffect(() => {
    return this.actions.pipe(
      ofType(BenchActions.takeOverPressed),
      map(() => this.bench().id ?? ''),
      exhaustMap((id) =>
        this.api.takeOver(id).pipe(
          map(({ lease, secret }) => BenchActions.leaseFound({ held: this.leases.hold(this.account(), id, lease, secret), elsewhere: false })),
          catchError((error: unknown) => of(BenchActions.statementRefused({ message: problemOf(error).message }))),
        ),
      ),
    );
  });

  readonly leave = createEffect(
    () => {
      return this.actions.pipe(
        ofType(BenchActions.left),
        tap(() => this.entered.forEach((run) => this.leases.leave(run))),
      );
    },
    { dispatch: false },
  );
  private readonly entered = new Set<string>();

  readonly noteEntered = createEffect(
    () => {
      return this.actions.pipe(
        ofType(BenchActions.opened),
        tap(({ id }) => {
          // From one run straight to another: the first is left to whoever comes next.
          for (const other of [...this.entered].filter((run) => run !== id)) {
            this.leases.leave(other);
            this.entered.delete(other);
          }
          this.entered.add(id);
        }),
      );
    },
    { dispatch: false },
  );
}
