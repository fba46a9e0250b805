import { inject, Injectable, signal } from '@angular/core';
import type { Observable } from 'rxjs';
import { Api, problemOf } from '../api/api';

/** How long what was done can be taken back from where it was done, ms. The server keeps the change longer. */
const OFFERED_MS = 30_000;

interface Offer {
  readonly change: string | null;
  readonly words: string;
  readonly refused: boolean;
  readonly after: () => void;
}

/** What was done last, with the way back. */
@Injectable({ providedIn: 'root' })
export class Undo {
  private readonly api = inject(Api);
  readonly offer = signal<Offer | null>(null);
  private timer: ReturnType<typeof setTimeout> | undefined;

  private show(offer: Offer): void {
    clearTimeout(this.timer);
    this.offer.set(offer);
    this.timer = setTimeout(() => this.offer.set(null), OFFERED_MS);
  }

  /** @param after what has to be looked at again once it was taken back */
  done(change: string | null, words: string, after: () => void): void {
    this.show({ change, words, refused: false, after });
  }

  /** What the server would not do, in its words. */
  refused(error: unknown): void {
    this.show({ change: null, words: problemOf(error).message, refused: true, after: () => undefined });
  }

  /**
   * Asks for something that can be taken back; says what was done, or why not.
   * @param words what was done, in words, by what the server answered
   * @param again what has to be looked at anew, after it and after it was taken back
   */
  do<T extends { readonly change: string | null }>(asked: Observable<T>, words: (done: T) => string, again: () => void): void {
    asked.subscribe({
      next: (done) => {
        this.done(done.change, words(done), again);
        again();
      },
      error: (error: unknown) => this.refused(error),
    });
  }

  takeBack(): void {
    const offer = this.offer();
    if (!offer?.change) return;
    this.api.undo(offer.change).subscribe({
      next: () => {
        this.show({ change: null, words: `Taken back: ${offer.words}`, refused: false, after: () => undefined });
        offer.after();
      },
      error: (error: unknown) => this.refused(error),
    });
  }

  close(): void {
    this.offer.set(null);
  }
}
