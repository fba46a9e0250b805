import { Injectable } from '@angular/core';
import { v7 } from 'uuid';

export interface Held {
  readonly lease: number;
  /** What the server gave it out with: it is worth something in this browser alone. */
  readonly secret: string;
  /** The source under which this browser counts its events. */
  readonly source: string;
}

const key = (account: string, run: string): string => `grellin.lease.${account}.${run}`;

/**
 * Which lease of a run this browser holds. It outlives the tab, so that a killed tab can be gone on with; the browser's own lock sees to it that no
 * two tabs use it at once.
 */
@Injectable({ providedIn: 'root' })
export class Leases {
  private releases = new Map<string, () => void>();

  held(account: string, run: string): Held | null {
    const text = localStorage.getItem(key(account, run));
    if (text === null) return null;
    try {
      const value: unknown = JSON.parse(text);
      if (
        typeof value === 'object' &&
        value !== null &&
        'lease' in value &&
        'source' in value &&
        'secret' in value &&
        typeof value.lease === 'number' &&
        typeof value.source === 'string' &&
        typeof value.secret === 'string'
      )
        return { lease: value.lease, source: value.source, secret: value.secret };
    } catch {
      // Not ours: as good as none.
    }
    return null;
  }

  hold(account: string, run: string, lease: number, secret: string): Held {
    const held = { lease, secret, source: `bench:${v7()}` };
    localStorage.setItem(key(account, run), JSON.stringify(held));
    return held;
  }

  forget(account: string, run: string): void {
    localStorage.removeItem(key(account, run));
  }

  /** Takes the run's lock in this browser; false when another tab has it. Kept until `leave` or the tab's end. */
  enter(run: string): Promise<boolean> {
    return new Promise((resolve) => {
      void navigator.locks.request(`grellin.run.${run}`, { ifAvailable: true }, (lock) => {
        resolve(lock !== null);
        if (lock === null) return undefined;
        return new Promise<void>((release) => this.releases.set(run, release));
      });
    });
  }

  leave(run: string): void {
    this.releases.get(run)?.();
    this.releases.delete(run);
  }
}
