import { inject, Injectable } from '@angular/core';
import type { Observable } from 'rxjs';
import { AwayDoor } from './awayDoor';
import { runStream, type StreamSignal } from '../run/runStream';

/** The events of runs, from whoever has them: the server, or this device while it is away. */
@Injectable({ providedIn: 'root' })
export class RunStreams {
  private readonly door = inject(AwayDoor);

  /** @param wanted the position to go on from, by run */
  follow(wanted: () => Readonly<Record<string, number>>): Observable<StreamSignal> {
    return this.door.station()?.follow(wanted) ?? runStream(wanted);
  }
}
