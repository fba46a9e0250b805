import { ChangeDetectionStrategy, Component, computed, DOCUMENT, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { AssetRow, Readiness } from '@grellin/contract';
import { assetClass } from '@grellin/core';
import { Store } from '@ngrx/store';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { TableModule } from 'primeng/table';
import { csv, save } from '../api/csv';
import { Allowance } from '../mark/allowance';
import { Seal, type SealKind } from '../mark/seal';
import { RegisterActions, registerFeature } from './registerStore';

const readinessWords: Readonly<Record<Readiness, string>> = {
  blocked: 'blocked',
  overdue: 'late',
  checkFirst: 'check before use',
  due: 'due',
  ready: 'ready',
  neverTested: 'never tested',
};

/** The register as a table: sorted, filtered, exported. */
@Component({
  selector: 'gr-register',
  imports: [RouterLink, TableModule, ButtonModule, InputTextModule, Seal, Allowance],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './register.html',
  styles: `
    .tools {
      display: flex;
      gap: 10px;
      align-items: center;
      margin-bottom: 12px;
    }
    .tools input {
      min-height: 44px;
      width: 280px;
    }
    .state {
      display: flex;
      gap: 9px;
      align-items: center;
    }
    td .faint {
      display: block;
      font-size: 13px;
    }
    .problem {
      color: var(--leaks);
    }
  `,
})
export class Register {
  private readonly store = inject(Store);
  private readonly document = inject(DOCUMENT);
  private readonly loaded = this.store.selectSignal(registerFeature.selectAssets);
  protected readonly problem = computed(() => this.loaded().problem);
  protected readonly loading = computed(() => this.loaded().loading && this.loaded().value === null);
  protected readonly rows = computed(() =>
    (this.loaded().value ?? []).map((a) => ({
      ...a,
      className: assetClass(a.class)?.title ?? a.class,
      state: readinessWords[a.readiness],
      used: a.last?.allowancePercent ?? -1,
    })),
  );

  constructor() {
    this.store.dispatch(RegisterActions.opened());
  }

  protected sealOf(asset: AssetRow): SealKind {
    return asset.readiness === 'blocked' ? 'fail' : (asset.last?.verdict ?? 'none');
  }

  protected export(): void {
    const columns = ['tag', 'serial', 'class', 'title', 'place', 'state', 'due', 'last_record', 'last_verdict', 'allowance_percent'];
    const rows = this.rows().map((a) => [
      a.tag,
      a.serial,
      a.class,
      a.title,
      a.place,
      a.state,
      a.due,
      a.last?.record,
      a.last?.verdict,
      a.last?.allowancePercent,
    ]);
    save(this.document, 'register.csv', csv(columns, rows));
  }

  protected value(event: Event): string {
    return event.target instanceof HTMLInputElement ? event.target.value : '';
  }
}
