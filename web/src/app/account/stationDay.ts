import { inject, Injectable } from '@angular/core';
import { stationDay, stationTime } from '@grellin/core';
import { Store } from '@ngrx/store';
import { accountFeature } from './accountStore';

/** Days and hours as the station's clocks have them, wherever this browser is. */
@Injectable({ providedIn: 'root' })
export class StationDay {
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);

  private zone(): string {
    return this.me()?.zone ?? 'UTC';
  }

  /** ISO date. */
  today(): string {
    return stationDay(Date.now(), this.zone());
  }

  /** ISO date of an instant. */
  of(at: string): string {
    return stationDay(Date.parse(at), this.zone());
  }

  /** An ISO instant, to the minute. */
  time(at: string): string {
    return stationTime(Date.parse(at), this.zone());
  }
}
