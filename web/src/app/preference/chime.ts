import { Injectable, signal } from '@angular/core';

const KEY = 'grellin.sound';

/** A sound, and a tremble, that ask for a hand. It can be off, and the choice is kept in this browser. */
@Injectable({ providedIn: 'root' })
export class Chime {
  readonly on = signal(localStorage.getItem(KEY) !== 'off');
  private context: AudioContext | null = null;

  toggle(): void {
    this.on.update((on) => !on);
    localStorage.setItem(KEY, this.on() ? 'on' : 'off');
    if (this.on()) this.sound();
  }

  /** Two short tones, the second higher: heard over a compressor. */
  sound(): void {
    if (!this.on()) return;
    // Felt in a pocket, where the device can.
    (navigator as Partial<Navigator>).vibrate?.([180, 90, 180]);
    if (!('AudioContext' in globalThis)) return;
    this.context ??= new AudioContext();
    const { context } = this;
    [660, 990].forEach((pitch, i) => {
      const tone = context.createOscillator();
      const loudness = context.createGain();
      const at = context.currentTime + i * 0.22;
      tone.frequency.value = pitch;
      loudness.gain.setValueAtTime(0.0001, at);
      loudness.gain.exponentialRampToValueAtTime(0.25, at + 0.02);
      loudness.gain.exponentialRampToValueAtTime(0.0001, at + 0.2);
      tone.connect(loudness).connect(context.destination);
      tone.start(at);
      tone.stop(at + 0.21);
    });
  }
}
