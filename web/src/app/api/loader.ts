import { signal } from '@angular/core';
import type { Observable, Subscription } from 'rxjs';
import { problemOf } from './api';
import { asking, failed, got, nothingYet, type Loaded } from './loading';

/** Something that one screen alone asks the server for: what was known stays while it is asked again, or could not be had. The newest question alone is answered. */
export class Loader<T> {
  private readonly state = signal<Loaded<T>>(nothingYet);
  readonly value = (): T | null => this.state().value;
  readonly problem = (): Loaded<T>['problem'] => this.state().problem;
  readonly loading = (): boolean => this.state().loading;

  private waiting: Subscription | undefined;

  load(asked: Observable<T>): void {
    this.waiting?.unsubscribe();
    this.state.update((s) => asking(s));
    this.waiting = asked.subscribe({
      next: (value) => this.state.set(got(value)),
      error: (error: unknown) => this.state.update((s) => failed(s, problemOf(error))),
    });
  }
}
