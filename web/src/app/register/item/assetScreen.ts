import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { AssetChange } from '@grellin/contract';
import { assetClass, attributeInWords, daysBetween, INSTRUMENT_CLASS, type OccasionKind } from '@grellin/core';
import { Store } from '@ngrx/store';
import { accountFeature } from '../../account/accountStore';
import { Api } from '../../api/api';
import { LeakMap } from '../../leak/leakMap';
import { Allowance } from '../../mark/allowance';
import { Seal, type SealKind } from '../../mark/seal';
import { standingSeal } from '../../mark/standingSeal';
import { Undo } from '../../undo/undo';
import { Happened } from '../entry/happened';
import { ChangeItem } from './changeItem';
import { History } from './history';
import { Owes } from '../owe/owes';
import { readinessHeading } from '../list/readinessWords';
import { AssetPageActions, registerFeature } from '../list/registerStore';
import { StartForm } from '../start/startForm';
import { AwayDoor } from '../../door/awayDoor';
import { StationDay } from '../../account/stationDay';

/** One item: who it is, what it owes, whether it may be used, its records, and the way to its next check. */
@Component({
  selector: 'gr-asset-screen',
  imports: [RouterLink, ChangeItem, Happened, Seal, Allowance, LeakMap, StartForm, History, Owes],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './assetScreen.html',
  styleUrl: './assetScreen.css',
})
export class AssetScreen {
  protected readonly day = inject(StationDay);
  private readonly store = inject(Store);
  private readonly door = inject(AwayDoor);
  /** Away from it the register is read and not written to. */
  protected readonly atServer = computed(() => this.door.station() === null);
  readonly id = input.required<string>();
  /** The failed run that a check started here is the retest of. */
  readonly retest = input<string>();
  private readonly loaded = this.store.selectSignal(registerFeature.selectPage);
  protected readonly page = computed(() => (this.loaded().value?.asset.id === this.id() ? this.loaded().value : null));
  protected readonly problem = computed(() => this.loaded().problem);
  protected readonly mayRun = computed(() => this.store.selectSignal(accountFeature.selectMe)()?.role !== 'reader');
  protected readonly sealKind = computed((): SealKind => {
    const asset = this.page()?.asset;
    return asset ? standingSeal(asset.readiness) : 'none';
  });
  protected readonly stateWords = computed(() => {
    const asset = this.page()?.asset;
    return asset ? `${readinessHeading[asset.readiness]}${asset.archived ? '; put away' : ''}` : '';
  });
  protected readonly attributes = computed(() => {
    const asset = this.page()?.asset;
    const rows = assetClass(asset?.class ?? '')?.attributes ?? [];
    return rows.flatMap((r) => {
      const value = asset?.attributes[r.id];
      return value === undefined ? [] : [{ title: r.title, value: attributeInWords(r, value) }];
    });
  });
  protected readonly isInstrument = computed(() => this.page()?.asset.class === INSTRUMENT_CLASS);
  protected readonly isTested = computed(
    () =>
      this.page()?.procedures.some((p) => Object.values(p.document.roles).some((r) => !r.optional && r.classes.includes(this.page()?.asset.class ?? ''))) ??
      false,
  );

  protected readonly today = this.day.today();
  protected readonly officer = computed(() => this.store.selectSignal(accountFeature.selectMe)()?.role === 'officer');
  protected readonly editing = signal(false);
  /** What can be noted of it: filling and emptying only where a rule asks for them. */
  protected readonly occasions = computed((): readonly { readonly id: OccasionKind; readonly title: string }[] => {
    const filled = this.page()?.asset.obligations.some((o) => o.filled !== null) ?? false;
    return [
      { id: 'received', title: 'came in' },
      { id: 'used', title: 'was used' },
      { id: 'repaired', title: 'was repaired' },
      { id: 'delivered', title: 'had a delivery' },
      { id: 'fumigated', title: 'was fumigated' },
      ...(filled
        ? [
            { id: 'filled' as const, title: 'was filled' },
            { id: 'emptied' as const, title: 'was emptied' },
          ]
        : []),
    ];
  });
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);

  constructor() {
    effect(() => this.store.dispatch(AssetPageActions.opened({ id: this.id() })));
  }

  protected again(): void {
    this.store.dispatch(AssetPageActions.opened({ id: this.id() }));
  }

  /** How old it is, in whole years. */
  protected age(madeOn: string): string {
    const years = Math.floor(daysBetween(madeOn.length === 7 ? `${madeOn}-01` : madeOn, this.today) / 365.25);
    return years < 1 ? '' : `, ${String(years)} ${years === 1 ? 'year' : 'years'} old`;
  }

  protected note(kind: OccasionKind): void {
    const words = this.occasions().find((o) => o.id === kind)?.title ?? '';
    this.undo.do(
      this.api.noteOccasion({ assets: [this.id()], kind }),
      () => `Noted: it ${words}`,
      () => this.again(),
    );
  }

  private change(change: Omit<AssetChange, 'revision'>, words: string): void {
    const asset = this.page()?.asset;
    if (!asset) return;
    this.undo.do(
      this.api.changeAsset(asset.id, { revision: asset.revision, ...change }),
      () => words,
      () => this.again(),
    );
  }

  protected putAway(): void {
    const asset = this.page()?.asset;
    if (asset) this.change({ archived: !asset.archived }, `${asset.tag} ${asset.archived ? 'taken back into use' : 'put away'}`);
  }
}
