import type { Provider, Type } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { RunView } from '@grellin/contract';
import { provideMockActions } from '@ngrx/effects/testing';
import { provideState, provideStore, Store } from '@ngrx/store';
import { defer, map, of, Subject, throwError, type Observable } from 'rxjs';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { accountFeature } from '../../account/accountStore';
import { Api } from '../../api/api';
import { ClockEffects } from './clockEffects';
import { RunEffects } from './runEffects';
import { BenchActions, benchFeature, OutboxActions, StreamActions } from './benchStore';
import { Outbox, type Queued } from './outbox';
import { StatementEffects } from './statementEffects';

/** A server that cannot be reached at first. */
const awayFor = <T>(times: number, answer: T): { readonly ask: () => Observable<T>; readonly asked: () => number } => {
  let asked = 0;
  return { ask: () => defer(() => (++asked <= times ? throwError(() => new Error('away')) : of(answer))), asked: () => asked };
};

describe('the bench, while the server cannot be reached', () => {
  const actions = new Subject<unknown>();
  beforeEach(() => vi.useFakeTimers());
  afterEach(() => vi.useRealTimers());

  const effectsWith = <E>(kind: Type<E>, api: Partial<Record<keyof Api, unknown>>, more: readonly Provider[] = []): E => {
    TestBed.configureTestingModule({
      providers: [kind, provideMockActions(() => actions), provideStore(), provideState(accountFeature), provideState(benchFeature), { provide: Api, useValue: api }, ...more],
    }); // prettier-ignore
    const store = TestBed.inject(Store);
    store.dispatch(BenchActions.opened({ id: 'r' }));
    store.dispatch(BenchActions.runArrived({ view: { id: 'r', record: null, instruments: {} } as unknown as RunView }));
    return TestBed.inject(kind);
  };

  it('asks for a closed run’s record until it has it: nothing else would ask again', async () => {
    const server = awayFor(3, { id: 'r', closed: true, record: 'GR-1' } as unknown as RunView);
    const heard: unknown[] = [];
    effectsWith(RunEffects, { run: server.ask }).closing.subscribe((a) => heard.push(a));
    actions.next(StreamActions.arrived({ run: 'r', lease: 1, closed: true, events: [] }));
    await vi.advanceTimersByTimeAsync(2500);
    expect(heard).toEqual([]);
    await vi.advanceTimersByTimeAsync(1000);
    expect(heard).toMatchObject([{ view: { record: 'GR-1' } }]);
    expect(server.asked()).toBe(4);
  });

  it('asks for the run’s clock until it has it: without one no minute passes', async () => {
    const server = awayFor(2, { clockMs: 5000 });
    const heard: unknown[] = [];
    effectsWith(ClockEffects, { runClock: server.ask }).sync.subscribe((a) => heard.push(a));
    actions.next(BenchActions.leaseFound({ held: null, elsewhere: false }));
    await vi.advanceTimersByTimeAsync(1500);
    expect(heard).toEqual([]);
    await vi.advanceTimersByTimeAsync(1000);
    expect(heard).toMatchObject([{ sync: { halfTripMs: 0 } }]);
  });

  it('asks for the record of its own run alone', async () => {
    const server = awayFor(0, { id: 'r', closed: true, record: 'GR-1' } as unknown as RunView);
    const heard: unknown[] = [];
    effectsWith(RunEffects, { run: server.ask }).closing.subscribe((a) => heard.push(a));
    actions.next(StreamActions.arrived({ run: 'another', lease: 1, closed: true, events: [] }));
    await vi.advanceTimersByTimeAsync(100);
    expect([heard, server.asked()]).toEqual([[], 0]);
    actions.next(StreamActions.arrived({ run: 'r', lease: 1, closed: true, events: [] }));
    await vi.advanceTimersByTimeAsync(100);
    expect(heard).toMatchObject([{ view: { record: 'GR-1' } }]);
  });

  it('asks for the record once what ended the run is stored, though the stream is lost, and again until it is closed', async () => {
    const answers = [{ id: 'r', closed: false, record: null }, { id: 'r', closed: true, record: 'GR-1' }]; // prettier-ignore
    let asked = 0;
    const heard: unknown[] = [];
    const effects = effectsWith(RunEffects, { run: () => defer(() => of(answers[Math.min(asked++, 1)])) });
    effects.closing.subscribe((a) => heard.push(a));
    const said = (kind: 'sealed' | 'disturbed', n: number): void =>
      TestBed.inject(Store).dispatch(OutboxActions.queued({ event: { id: `e${String(n)}`, source: 's', n, at: n, kind, note: 'x' } }));
    said('disturbed', 1);
    actions.next(OutboxActions.sent({ ids: ['e1'] }));
    await vi.advanceTimersByTimeAsync(100);
    expect(asked).toBe(0);
    said('sealed', 2);
    actions.next(OutboxActions.sent({ ids: ['e2'] }));
    await vi.advanceTimersByTimeAsync(100);
    expect([heard, asked]).toEqual([[], 1]);
    await vi.advanceTimersByTimeAsync(1000);
    expect(heard).toMatchObject([{ view: { record: 'GR-1' } }]);
  });

  it('sends what is said while a word is under way at once after it, and forgets what another tab has sent', async () => {
    const queue: Queued[] = [];
    const outbox = { of: () => Promise.resolve([...queue]), put: () => undefined, remove: (_: string, ids: ReadonlySet<string>) => Promise.resolve(queue.splice(0, queue.length, ...queue.filter((q) => !ids.has(q.event.id)))) }; // prettier-ignore
    const answers: Subject<readonly { id: string }[]>[] = [];
    const append = (_run: string, _lease: unknown, events: readonly { id: string }[]): Observable<unknown> => {
      const answer = new Subject<readonly { id: string }[]>();
      answers.push(answer);
      return answer.pipe(map(() => events.map((e) => ({ id: e.id }))));
    };
    const effects = effectsWith(StatementEffects, { append }, [{ provide: Outbox, useValue: outbox }]);
    const store = TestBed.inject(Store);
    effects.send.subscribe((a) => store.dispatch(a));
    const waiting = (): readonly string[] => store.selectSignal(benchFeature.selectBenchState)().waiting;
    const say = (id: string, n: number, kept = true): void => {
      const event = { id, source: 's', n, at: n, kind: 'disturbed' as const, note: 'x' };
      if (kept) queue.push({ run: 'r', account: '', lease: 1, event });
      const action = OutboxActions.queued({ event });
      store.dispatch(action);
      actions.next(action);
    };
    say('e1', 1);
    await vi.advanceTimersByTimeAsync(1);
    say('e2', 2);
    await vi.advanceTimersByTimeAsync(1);
    expect([answers.length, waiting()]).toEqual([1, ['e1', 'e2']]);
    answers[0]?.next([]);
    await vi.advanceTimersByTimeAsync(1);
    expect([answers.length, waiting()]).toEqual([2, ['e2']]);
    queue.length = 0; // the other tab had it
    answers[1]?.error(new Error('away'));
    await vi.advanceTimersByTimeAsync(1);
    say('e3', 3, false);
    await vi.advanceTimersByTimeAsync(1);
    expect(waiting()).toEqual([]);
  });
});
