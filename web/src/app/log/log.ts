import { ChangeDetectionStrategy, Component, computed, DOCUMENT, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { TableModule } from 'primeng/table';
import { csv, save } from '../api/csv';
import { Allowance } from '../mark/allowance';
import { Seal } from '../mark/seal';
import { LogActions, logFeature } from './logStore';

/** The log: every run that came to its end, newest first. Nothing in it is edited. */
@Component({
  selector: 'gr-log',
  imports: [RouterLink, TableModule, ButtonModule, InputTextModule, Seal, Allowance],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="screen">
      <header class="screen-head">
        <h1 i18n>Log</h1>
        <p i18n class="faint">{{ rows().length }} records</p>
      </header>
      @if (problem(); as p) {
        <p role="alert" class="problem">{{ p.message }}</p>
      }
      <div class="tools">
        <input
          pInputText
          type="search"
          placeholder="Filter the log"
          i18n-placeholder
          aria-label="Filter the log"
          i18n-aria-label
          (input)="table.filterGlobal(value($event), 'contains')"
        />
        <button i18n pButton type="button" [outlined]="true" (click)="export()">Export CSV</button>
      </div>
      <p-table
        #table
        [value]="rows()"
        dataKey="number"
        sortField="sealedAt"
        [sortOrder]="-1"
        [globalFilterFields]="['number', 'tag', 'assetTitle', 'procedureTitle', 'word', 'by']"
        [tableStyle]="{ 'min-width': '56rem' }"
      >
        <ng-template #header>
          <tr>
            <th pSortableColumn="sealedAt" scope="col"><ng-container i18n>When (UTC)</ng-container>&ngsp; <p-sortIcon field="sealedAt" /></th>
            <th pSortableColumn="tag" scope="col"><ng-container i18n>Item</ng-container>&ngsp; <p-sortIcon field="tag" /></th>
            <th pSortableColumn="procedureTitle" scope="col"><ng-container i18n>Procedure</ng-container>&ngsp; <p-sortIcon field="procedureTitle" /></th>
            <th pSortableColumn="word" scope="col"><ng-container i18n>Verdict</ng-container>&ngsp; <p-sortIcon field="word" /></th>
            <th pSortableColumn="allowancePercent" scope="col">
              <ng-container i18n>Allowance used</ng-container>&ngsp; <p-sortIcon field="allowancePercent" />
            </th>
            <th pSortableColumn="nextDue" scope="col"><ng-container i18n>Next due</ng-container>&ngsp; <p-sortIcon field="nextDue" /></th>
            <th pSortableColumn="number" scope="col"><ng-container i18n>Record</ng-container>&ngsp; <p-sortIcon field="number" /></th>
          </tr>
        </ng-template>
        <ng-template #body let-r>
          <tr>
            <td>{{ r.when }}</td>
            <td>
              <span class="tag">{{ r.tag }}</span><span class="faint">{{ r.assetTitle }}</span>
            </td>
            <td>
              {{ r.procedureTitle }}<span class="faint">{{ r.ruleSetTitle }} · {{ r.by }}{{ r.simulated ? ' · simulated' : '' }}</span>
            </td>
            <td>
              <span class="state"><gr-seal [kind]="r.verdict" [size]="20" /> {{ r.word }}</span>
            </td>
            <td>
              @if (r.allowancePercent !== null) {
                <gr-allowance [percent]="r.allowancePercent" />
              }
            </td>
            <td>{{ r.nextDue ?? '–' }}</td>
            <td>
              <a [routerLink]="['/log', r.number]">{{ r.number }}</a>
            </td>
          </tr>
        </ng-template>
        <ng-template #emptymessage>
          <tr>
            <td i18n colspan="7">No record fits.</td>
          </tr>
        </ng-template>
      </p-table>
    </div>
  `,
  styles: `
    .tools {
      display: flex;
      gap: var(--space-3);
      margin-bottom: var(--space-3);
    }
    .tools input {
      min-height: var(--touch);
      width: 17.5rem;
    }
    td .faint {
      display: block;
      font-size: var(--type-label);
    }
    .state {
      display: flex;
      gap: var(--space-2);
      align-items: center;
    }
    .problem {
      color: var(--leaks);
    }
  `,
})
export class Log {
  private readonly store = inject(Store);
  private readonly document = inject(DOCUMENT);
  private readonly loaded = this.store.selectSignal(logFeature.selectRecords);
  protected readonly problem = computed(() => this.loaded().problem);
  protected readonly rows = computed(() => (this.loaded().value ?? []).map((r) => ({ ...r, when: r.sealedAt.slice(0, 16).replace('T', ' ') })));

  constructor() {
    this.store.dispatch(LogActions.opened());
  }

  protected export(): void {
    const columns = ['record', 'sealed_at', 'tag', 'procedure', 'rule_set', 'verdict', 'allowance_percent', 'simulated', 'by', 'next_due'];
    const rows = this.rows().map((r) => [
      r.number,
      r.sealedAt,
      r.tag,
      r.procedure,
      r.ruleSetTitle,
      r.verdict,
      r.allowancePercent,
      r.simulated,
      r.by,
      r.nextDue,
    ]);
    save(this.document, 'log.csv', csv(columns, rows));
  }

  protected value(event: Event): string {
    return event.target instanceof HTMLInputElement ? event.target.value : '';
  }
}
