import { DOCUMENT, inject, Injectable } from '@angular/core';

/**
 * Keeps the screen of this device lit while a clock runs, where the device lets it: a screen that goes dark in a hold hides the needle's last second. A device
 * takes it back whenever the page is out of sight, so it is asked for again when the page comes back.
 */
@Injectable({ providedIn: 'root' })
export class Awake {
  private readonly document = inject(DOCUMENT);
  private wanted = false;
  private held: WakeLockSentinel | null = null;
  private asking = false;

  constructor() {
    this.document.addEventListener('visibilitychange', () => void this.see());
  }

  keep(lit: boolean): void {
    if (this.wanted === lit) return;
    this.wanted = lit;
    void this.see();
  }

  private isLetGo(): boolean {
    return !this.wanted;
  }

  private async see(): Promise<void> {
    const lock = (this.document.defaultView?.navigator as Partial<Navigator> | undefined)?.wakeLock;
    if (!lock) return;
    if (!this.wanted) {
      const { held } = this;
      this.held = null;
      await held?.release().catch(() => undefined);
      return;
    }
    if (this.asking || this.document.visibilityState !== 'visible' || (this.held && !this.held.released)) return;
    this.asking = true;
    // A battery that is low refuses it: the test goes on in the dark.
    this.held = await lock.request('screen').catch(() => null);
    this.asking = false;
    // What was let go while it was asked for is let go now.
    if (this.isLetGo()) void this.see();
  }
}
