import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { showQuantity } from '@grellin/core';
import { Store } from '@ngrx/store';
import { TableModule } from 'primeng/table';
import { accountFeature } from '../account/accountStore';
import { Api } from '../api/api';
import { Loader } from '../api/loader';
import type { InstrumentRow } from '@grellin/contract';
import { StationDay } from '../account/stationDay';

/** Every instrument: what it can tell apart, and how long its calibration stands. */
@Component({
  selector: 'gr-instruments',
  imports: [RouterLink, TableModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="screen">
      <header class="screen-head">
        <h1 i18n>Instruments</h1>
        <p i18n class="faint">{{ rows().length }}, {{ out() }} out of calibration</p>
        @if (officer()) {
          <a i18n class="control main" routerLink="/instruments/new">New instrument</a>
        }
      </header>
      @if (list.problem(); as p) {
        <p class="problem" role="alert">{{ p.message }}</p>
      }
      <p-table [value]="rows()" dataKey="id" sortField="due" [sortOrder]="1" [tableStyle]="{ 'min-width': '48rem' }">
        <ng-template #header>
          <tr>
            <th scope="col" pSortableColumn="tag"><ng-container i18n>Tag</ng-container>&ngsp; <p-sortIcon field="tag" /></th>
            <th scope="col" pSortableColumn="title"><ng-container i18n>Instrument</ng-container>&ngsp; <p-sortIcon field="title" /></th>
            <th i18n scope="col">Range</th>
            <th i18n scope="col">Steps</th>
            <th i18n scope="col">Limits of error</th>
            <th scope="col" pSortableColumn="due"><ng-container i18n>Calibration</ng-container>&ngsp; <p-sortIcon field="due" /></th>
          </tr>
        </ng-template>
        <ng-template #body let-i>
          <tr>
            <td>
              <a class="tag" [routerLink]="['/instruments', i.id]">{{ i.tag }}</a>
            </td>
            <td>
              {{ i.title }}<span class="faint">{{ i.how }}</span>
            </td>
            <td>{{ i.range }}</td>
            <td>{{ i.steps }}</td>
            <td>±{{ i.error }}</td>
            <td [class.out]="i.late">{{ i.calibration }}</td>
          </tr>
        </ng-template>
        <ng-template #emptymessage>
          <tr>
            <td colspan="6">{{ list.loading() ? 'Reading…' : 'There is no instrument yet.' }}</td>
          </tr>
        </ng-template>
      </p-table>
    </div>
  `,
  styles: `
    td .faint {
      display: block;
      font-size: var(--type-label);
    }
    .out {
      color: var(--leaks);
      font-weight: 600;
    }
  `,
})
export class Instruments {
  private readonly api = inject(Api);
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);
  protected readonly officer = computed(() => this.me()?.role === 'officer');
  private readonly today = inject(StationDay).today();
  protected readonly list = new Loader<readonly InstrumentRow[]>();
  protected readonly rows = computed(() =>
    (this.list.value() ?? []).map((i) => {
      const late = i.fittedTo === null && (i.calibrationDue ?? '') < this.today;
      return {
        ...i,
        late,
        due: i.fittedTo === null ? (i.calibrationDue ?? '') : '9999',
        range: `${showQuantity({ ...i.low, unit: '1' })} to ${showQuantity(i.high)}`,
        steps: showQuantity(i.resolution),
        error: showQuantity(i.accuracy),
        how: [i.fittedTo === null ? null : 'fitted to its item', i.simulated ? 'simulated' : i.streams ? 'sends its readings' : 'read by eye']
          .filter((w) => w !== null)
          .join(', '),
        calibration:
          i.fittedTo !== null ? 'exempt: fitted' : i.calibrationDue === null ? 'none' : late ? `ran out ${i.calibrationDue}` : `to ${i.calibrationDue}`,
      };
    }),
  );
  protected readonly out = computed(() => this.rows().filter((r) => r.late).length);

  constructor() {
    this.list.load(this.api.instruments());
  }
}
