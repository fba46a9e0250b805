import { computed, inject, Injectable } from '@angular/core';
import { Actions, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { accountFeature } from '../../account/accountStore';
import { BenchActions, benchFeature } from './benchStore';

/** After the server did not answer, ms. */
export const AGAIN_MS = 1000;

/** What the effects of the bench all look at. */
@Injectable({ providedIn: 'root' })
export class BenchContext {
  private readonly store = inject(Store);
  private readonly me = this.store.selectSignal(accountFeature.selectMe);
  readonly actions = inject(Actions);
  /** The bench is left. */
  readonly left = this.actions.pipe(ofType(BenchActions.left));
  /** The bench is left, or another run is put on it: what is still under way belongs to the one before. */
  readonly changed = this.actions.pipe(ofType(BenchActions.left, BenchActions.opened));
  readonly bench = this.store.selectSignal(benchFeature.selectBenchState);
  readonly mine = this.store.selectSignal(benchFeature.selectMine);
  readonly now = this.store.selectSignal(benchFeature.selectNow);
  readonly account = computed(() => this.me()?.id ?? '');
  /** Some gauge of the run streams: its clock is the run's then. */
  readonly streams = computed(() => Object.values(this.bench().view?.instruments ?? {}).some((i) => i.streams));
}
