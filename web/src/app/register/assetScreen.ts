import { ChangeDetectionStrategy, Component, computed, effect, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { assetClass, showQuantity, type AttributeValue } from '@grellin/core';
import { Store } from '@ngrx/store';
import { accountFeature } from '../account/accountStore';
import { LeakMap } from '../leak/leakMap';
import { Allowance } from '../mark/allowance';
import { Seal, type SealKind } from '../mark/seal';
import { AssetPageActions, registerFeature } from './registerStore';
import { StartForm } from './startForm';

/** One item: who it is, what it owes, whether it may be used, its records, and the way to its next check. */
@Component({
  selector: 'gr-asset-screen',
  imports: [RouterLink, Seal, Allowance, LeakMap, StartForm],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './assetScreen.html',
  styleUrl: './assetScreen.css',
})
export class AssetScreen {
  private readonly store = inject(Store);
  readonly id = input.required<string>();
  /** The failed run that a check started here is the retest of. */
  readonly retest = input<string>();
  private readonly loaded = this.store.selectSignal(registerFeature.selectPage);
  protected readonly page = computed(() => (this.loaded().value?.asset.id === this.id() ? this.loaded().value : null));
  protected readonly problem = computed(() => this.loaded().problem);
  protected readonly mayRun = computed(() => this.store.selectSignal(accountFeature.selectMe)()?.role !== 'reader');
  protected readonly sealKind = computed((): SealKind => {
    const asset = this.page()?.asset;
    return asset?.readiness === 'blocked' ? 'fail' : (asset?.last?.verdict ?? 'none');
  });
  protected readonly stateWords = computed(() => {
    const asset = this.page()?.asset;
    if (!asset) return '';
    return {
      blocked: 'Not to be used',
      overdue: 'Check is late',
      checkFirst: 'Check before use',
      due: 'Check falls due',
      ready: 'Ready',
      neverTested: 'Never tested',
    }[asset.readiness];
  });
  protected readonly attributes = computed(() => {
    const asset = this.page()?.asset;
    const rows = assetClass(asset?.class ?? '')?.attributes ?? [];
    return rows.filter((r) => asset?.attributes[r.id] !== undefined).map((r) => ({ title: r.title, value: this.show(asset?.attributes[r.id]) }));
  });
  protected readonly isTested = computed(
    () =>
      this.page()?.procedures.some((p) => Object.values(p.document.roles).some((r) => !r.optional && r.classes.includes(this.page()?.asset.class ?? ''))) ??
      false,
  );

  constructor() {
    effect(() => this.store.dispatch(AssetPageActions.opened({ id: this.id() })));
  }

  private show(value: AttributeValue | undefined): string {
    if (value === undefined) return '';
    if (typeof value === 'boolean') return value ? 'yes' : 'no';
    return typeof value === 'string' ? value : showQuantity(value);
  }

  protected procedureTitle(id: string): string {
    return this.page()?.procedures.find((p) => p.document.id === id)?.document.title ?? id;
  }

  protected every(interval: string): string {
    return { P1Y: 'every year', P1M: 'every month', P1W: 'every week' }[interval] ?? `every ${interval}`;
  }
}
