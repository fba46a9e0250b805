import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { curveInWords, inBox, svgPath, verdictSentence } from '@grellin/core';
import { Store } from '@ngrx/store';
import { accountFeature } from '../account/accountStore';
import type { AssetView } from '@grellin/contract';
import { StationDay } from '../account/stationDay';
import { Api } from '../api/api';
import { LeakMap } from '../leak/leakMap';
import { FindingCard } from '../mark/findingCard';
import { Seal } from '../mark/seal';
import { KeptPicture } from '../picture/keptPicture';
import { BeyondUseForm } from './beyondUse';
import { LiftForm } from './liftForm';
import { RecordActions, logFeature } from './logStore';

/** The box that a curve is drawn in. */
const STRIP = { width: 600, height: 80, margin: 4 } as const;

/** One record, as it was sealed, and its certificate. */
@Component({
  selector: 'gr-record-screen',
  imports: [RouterLink, Seal, FindingCard, KeptPicture, LeakMap, LiftForm, BeyondUseForm],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './recordScreen.html',
  styleUrl: './recordScreen.css',
})
export class RecordScreen {
  protected readonly day = inject(StationDay);
  private readonly store = inject(Store);
  private readonly api = inject(Api);
  readonly number = input.required<string>();
  private readonly loaded = this.store.selectSignal(logFeature.selectRecord);
  protected readonly record = computed(() => this.loaded().value);
  protected readonly problem = computed(() => this.loaded().problem);
  protected readonly procedure = computed(() => this.record()?.document);
  protected readonly condemned = computed(() => this.record()?.condemns ?? false);
  protected readonly officer = computed(() => this.store.selectSignal(accountFeature.selectMe)()?.role === 'officer');
  protected readonly mayMark = computed(() => this.store.selectSignal(accountFeature.selectMe)()?.role !== 'reader');
  /** The item, with the leaks marked on it; fetched where the record blocks it. */
  protected readonly item = signal<AssetView | null>(null);
  protected readonly sentence = computed(() => {
    const r = this.record();
    return r ? verdictSentence(r.tag, r.verdict, r.word) : '';
  });
  /** What the gauges went through, each as an SVG path in its box. */
  protected readonly curves = computed(() =>
    (this.record()?.curves ?? []).map((c) => ({ title: c.title, ends: curveInWords(c), path: svgPath(inBox(c.points, STRIP)) })),
  );

  constructor() {
    effect(() => this.store.dispatch(RecordActions.opened({ number: this.number() })));
    effect(() => {
      if (this.record()?.blocks) this.reload();
    });
  }

  protected again(): void {
    this.store.dispatch(RecordActions.opened({ number: this.number() }));
  }

  protected reload(): void {
    const asset = this.record()?.asset;
    if (asset) this.api.asset(asset).subscribe({ next: (item) => this.item.set(item), error: () => this.item.set(null) });
  }
}
