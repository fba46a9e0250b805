import { TestBed } from '@angular/core/testing';
import { Store } from '@ngrx/store';
import { BehaviorSubject, type Observable } from 'rxjs';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { sentBefore } from './sentBefore';

describe('leaving the bench', () => {
  const state = new BehaviorSubject({ waiting: ['seal'] as readonly string[], away: false });
  const nowhere = undefined as never;
  const left = (): { done: boolean } => {
    const seen = { done: false };
    TestBed.runInInjectionContext(() => (sentBefore(null, nowhere, nowhere, nowhere) as Observable<boolean>).subscribe((may) => (seen.done = may)));
    return seen;
  };
  beforeEach(() => {
    vi.useFakeTimers();
    state.next({ waiting: ['seal'], away: false });
    TestBed.configureTestingModule({ providers: [{ provide: Store, useValue: { select: () => state } }] });
  });
  afterEach(() => vi.useRealTimers());

  it('waits for what was said last to be stored', () => {
    const seen = left();
    expect(seen.done).toBe(false);
    state.next({ waiting: [], away: false });
    expect(seen.done).toBe(true);
  });
  it('holds nobody while the server is away: what was said is kept in this browser', () => {
    const seen = left();
    state.next({ waiting: ['seal'], away: true });
    expect(seen.done).toBe(true);
  });
  it('nor for longer than a breath', () => {
    const seen = left();
    vi.advanceTimersByTime(4900);
    expect(seen.done).toBe(false);
    vi.advanceTimersByTime(200);
    expect(seen.done).toBe(true);
  });
});
