import { DOCUMENT, effect, inject, Injectable, signal } from '@angular/core';

const KEY = 'grellin.theme';

/** Light yard or dark bay: the person's choice, else the system's. */
@Injectable({ providedIn: 'root' })
export class ThemeChoice {
  private readonly document = inject(DOCUMENT);
  readonly dark = signal(this.initial());

  constructor() {
    effect(() => {
      const dark = this.dark();
      this.document.documentElement.classList.toggle('dark', dark);
      localStorage.setItem(KEY, dark ? 'dark' : 'light');
    });
  }

  private initial(): boolean {
    const kept = localStorage.getItem(KEY);
    return kept ? kept === 'dark' : (this.document.defaultView?.matchMedia('(prefers-color-scheme: dark)').matches ?? false);
  }

  toggle(): void {
    this.dark.update((d) => !d);
  }
}
