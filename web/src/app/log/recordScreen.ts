import { ChangeDetectionStrategy, Component, computed, effect, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { procedureById } from '@grellin/core';
import { Store } from '@ngrx/store';
import { FindingCard } from '../mark/findingCard';
import { Seal } from '../mark/seal';
import { RecordActions, logFeature } from './logStore';

/** One record, as it was sealed, and its certificate. */
@Component({
  selector: 'gr-record-screen',
  imports: [RouterLink, Seal, FindingCard],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './recordScreen.html',
  styleUrl: './recordScreen.css',
})
export class RecordScreen {
  private readonly store = inject(Store);
  readonly number = input.required<string>();
  private readonly loaded = this.store.selectSignal(logFeature.selectRecord);
  protected readonly record = computed(() => this.loaded().value);
  protected readonly problem = computed(() => this.loaded().problem);
  protected readonly procedure = computed(() => procedureById(this.record()?.procedure ?? ''));
  /** The hold as an SVG path in a box of 600 × 80. */
  protected readonly strip = computed(() => {
    const points = this.record()?.strip ?? [];
    if (points.length < 2) return null;
    const values = points.map((p) => p[1]);
    const [t0, t1] = [points[0]?.[0] ?? 0, points.at(-1)?.[0] ?? 1];
    const low = Math.min(...values);
    const span = Math.max(Math.max(...values) - low, 1e-9);
    const path = points
      .map(([t, v], i) => `${i === 0 ? 'M' : 'L'}${(((t - t0) / (t1 - t0)) * 600).toFixed(1)} ${(76 - ((v - low) / span) * 72).toFixed(1)}`)
      .join('');
    return { path, from: values[0]?.toFixed(2) ?? '', to: values.at(-1)?.toFixed(2) ?? '' };
  });

  constructor() {
    effect(() => this.store.dispatch(RecordActions.opened({ number: this.number() })));
  }
}
