import { inject, Injectable } from '@angular/core';
import { firstValueFrom } from 'rxjs';
import { Api } from '../../api/api';

export interface Sync {
  /** What to add to this browser's tick to get the run's clock at the server, ms. */
  readonly offsetMs: number;
  /** Half the quickest round trip: the most that the offset can be out, ms. */
  readonly halfTripMs: number;
}

const TRIES = 3;

/** A run's clock at the server, as this browser can know it: its own tick plus an offset found by asking. The wall clock is never used for timing. */
@Injectable({ providedIn: 'root' })
export class BenchClock {
  private readonly api = inject(Api);

  tick(): number {
    return performance.now();
  }

  wall(): number {
    return Date.now();
  }

  /** Asks a few times and keeps the answer with the quickest trip. */
  async sync(run: string): Promise<Sync> {
    let best: Sync | null = null;
    for (let i = 0; i < TRIES; i++) {
      const sent = this.tick();
      const { clockMs } = await firstValueFrom(this.api.runClock(run));
      const received = this.tick();
      const halfTripMs = (received - sent) / 2;
      if (!best || halfTripMs < best.halfTripMs) best = { offsetMs: clockMs - (sent + halfTripMs), halfTripMs };
    }
    if (!best) throw new Error('the clock was never compared');
    return { offsetMs: Math.round(best.offsetMs), halfTripMs: Math.ceil(best.halfTripMs) };
  }
}
