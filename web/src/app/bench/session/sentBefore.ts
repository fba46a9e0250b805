import { inject } from '@angular/core';
import type { CanDeactivateFn } from '@angular/router';
import { Store } from '@ngrx/store';
import { filter, map, of, take, timeout } from 'rxjs';
import { benchFeature } from './benchStore';

/** So long a bench that is left waits for its last words to be sent, ms: a seal that was pressed a moment before would lie in this browser until somebody came back. */
const WAITS_MS = 5000;

/** Leaves the bench once everything that was said is stored. While the server is away it is kept here, and nobody is held. */
export const sentBefore: CanDeactivateFn<unknown> = () =>
  inject(Store)
    .select(benchFeature.selectBenchState)
    .pipe(
      filter(({ waiting, away }) => waiting.length === 0 || away),
      map(() => true),
      take(1),
      timeout({ first: WAITS_MS, with: () => of(true) }),
    );
