import { inject, Injectable } from '@angular/core';
import { may, refusalInWords, type EventBody, type RunEvent } from '@grellin/core';
import { createEffect, ofType } from '@ngrx/effects';
import { catchError, concatMap, EMPTY, exhaustMap, expand, filter, firstValueFrom, from, interval, merge, switchMap, take, takeUntil } from 'rxjs';
import { v7 } from 'uuid';
import { Api, problemOf } from '../../api/api';
import { Leases } from '../../run/lease';
import { BenchContext } from './benchContext';
import { BenchActions, OutboxActions, StreamActions } from './benchStore';
import { Outbox } from './outbox';

const RESEND_MS = 1000;

/** What is said at the bench: asked of `may`, kept in this browser, sent, and read anew where it was refused. */
@Injectable()
export class StatementEffects {
  private readonly api = inject(Api);
  private readonly outbox = inject(Outbox);
  private readonly leases = inject(Leases);
  private readonly context = inject(BenchContext);

  /** A statement becomes an event: asked of `may` first, kept in this browser, and only then drawn. */
  readonly state = createEffect(() => {
    return this.context.actions.pipe(
      ofType(BenchActions.stated),
      concatMap(({ body }) => this.event(body)),
    );
  });

  /** Readings from a file become events of a source of their own: their times are the logger's, not the hand's. */
  readonly takeFile = createEffect(() => {
    return this.context.actions.pipe(
      ofType(BenchActions.fileTaken),
      concatMap(async ({ readings }) => {
        const source = `csv:${v7()}`;
        const events: RunEvent[] = [];
        for (const reading of readings) {
          const { plan, held, id } = this.context.bench();
          const { at, ...body } = reading;
          const event: RunEvent = { id: v7(), source, n: events.length + 1, at, ...body };
          if (!plan || !held || !id) return [BenchActions.statementRefused({ message: 'This tab only looks on.' })];
          await this.outbox.put({ run: id, account: this.context.account(), lease: held.lease, secret: held.secret, event });
          events.push(event);
        }
        return events.map((event) => OutboxActions.queued({ event }));
      }),
      concatMap((actions) => from(actions)),
    );
  });

  private async event(body: EventBody) {
    const { plan, run, held, id } = this.context.bench();
    if (!plan || !held || !id || !this.context.mine()) return BenchActions.statementRefused({ message: 'This tab only looks on.' });
    const last = run.sources[held.source];
    const now = Math.max(this.context.now(), last?.at ?? 0);
    const event: RunEvent = { id: v7(), source: held.source, n: (last?.n ?? 0) + 1, at: now, ...body };
    const refusal = may(plan, run, event);
    if (refusal) return BenchActions.statementRefused({ message: refusalInWords(refusal) });
    await this.outbox.put({ run: id, account: this.context.account(), lease: held.lease, secret: held.secret, event });
    return OutboxActions.queued({ event });
  }

  /** Sends what is queued, in order, until nothing is left; while the server is away it is tried again every second. */
  readonly send = createEffect(() => {
    return merge(
      this.context.actions.pipe(ofType(OutboxActions.queued, OutboxActions.found)),
      this.context.actions.pipe(
        ofType(BenchActions.opened),
        switchMap(() => interval(RESEND_MS).pipe(takeUntil(this.context.left))),
      ),
    ).pipe(
      // What was said while the last was under way goes at once, and not with the next try.
      exhaustMap(() =>
        from(this.flush()).pipe(
          expand((did) => (did?.type === OutboxActions.sent.type ? this.flush() : EMPTY)),
          catchError(() => EMPTY),
        ),
      ),
      filter((action) => action !== null),
    );
  });

  private async flush() {
    const { id: run, waiting } = this.context.bench();
    if (run === null) return null;
    const queued = await this.outbox.of(run, this.context.account());
    const first = queued[0];
    // Whatever waited before the queue was read and is not in it has been sent: by another tab, or while the queue was looked for.
    if (!first) return waiting.length > 0 ? OutboxActions.sent({ ids: waiting }) : null;
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
        'picture.notKept',
      ].includes(problem.code);
      return final ? OutboxActions.serverRefused({ problem }) : OutboxActions.serverAway();
    }
  }

  /** What was said of a run and not sent: read once, when its history is there to fold onto. */
  readonly findQueue = createEffect(() => {
    return this.context.actions.pipe(
      ofType(BenchActions.runArrived),
      switchMap(({ view }) =>
        this.context.actions.pipe(
          ofType(StreamActions.arrived),
          filter(({ run }) => run === view.id),
          take(1),
          takeUntil(this.context.changed),
        ),
      ),
      concatMap(async ({ run }) => {
        const queued = await this.outbox.of(run, this.context.account());
        return this.context.bench().id === run ? OutboxActions.found({ events: queued.map((q) => q.event) }) : null;
      }),
      filter((found) => found !== null),
    );
  });

  /** After a refusal the history is read anew from its beginning. */
  readonly reread = createEffect(() => {
    return this.context.actions.pipe(
      ofType(OutboxActions.serverRefused),
      concatMap(async () => {
        const state = this.context.bench();
        const run = state.id ?? '';
        const all = await this.outbox.of(run, this.context.account());
        await this.outbox.remove(run, new Set(all.map((q) => q.event.id)));
        // A refused event has left a hole in this source's count: go on under a new one.
        if (state.held) this.leases.hold(this.context.account(), run, state.held.lease, state.held.secret);
        return BenchActions.opened({ id: run });
      }),
    );
  });
}
