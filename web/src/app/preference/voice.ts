import { DOCUMENT, inject, Injectable, signal } from '@angular/core';

const KEY = 'grellin.voice';

/** Says aloud what comes next and what the clock shows, for whoever has both hands at the item. It is off until somebody wants it, and the choice is kept in this browser. */
@Injectable({ providedIn: 'root' })
export class Voice {
  private readonly document = inject(DOCUMENT);
  private readonly window = this.document.defaultView;
  /** Whether this browser has a voice at all: where it has none, tones are all there is. */
  readonly can = this.speech() !== undefined;
  readonly on = signal(this.can && localStorage.getItem(KEY) === 'on');

  toggle(): void {
    this.on.update((on) => !on);
    localStorage.setItem(KEY, this.on() ? 'on' : 'off');
    if (this.on()) this.say($localize`This is how it sounds.`);
    else this.speech()?.cancel();
  }

  /** Says it now: what was being said of something that is over is left off. */
  say(words: string): void {
    const speech = this.speech();
    const { window } = this;
    if (!this.on() || !speech || !window || words === '') return;
    speech.cancel();
    const spoken = new window.SpeechSynthesisUtterance(words);
    spoken.lang = this.document.documentElement.lang;
    speech.speak(spoken);
  }

  private speech(): SpeechSynthesis | undefined {
    return this.window && 'speechSynthesis' in this.window ? this.window.speechSynthesis : undefined;
  }
}
