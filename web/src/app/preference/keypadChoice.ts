import { Injectable, signal } from '@angular/core';

const KEY = 'grellin.keypad';

/** Whether figures are typed on keys of our own, which a glove hits: wherever a finger points, unless somebody has said otherwise on this device. */
@Injectable({ providedIn: 'root' })
export class KeypadChoice {
  private readonly chosen = localStorage.getItem(KEY);
  readonly on = signal(
    this.chosen === null ? ((globalThis as Partial<typeof globalThis>).matchMedia?.('(pointer: coarse)').matches ?? false) : this.chosen === 'on',
  );

  toggle(): void {
    this.on.update((on) => !on);
    localStorage.setItem(KEY, this.on() ? 'on' : 'off');
  }
}
