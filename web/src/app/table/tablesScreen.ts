import { ChangeDetectionStrategy, Component, computed, DOCUMENT, inject, signal } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { TableRow } from '@grellin/contract';
import { showQuantity, tableKind } from '@grellin/core';
import { Store } from '@ngrx/store';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { TableModule } from 'primeng/table';
import { accountFeature } from '../account/accountStore';
import { Api } from '../api/api';
import { save } from '../api/csv';
import { Undo } from '../undo/undo';
import { KeptTables } from './keptTables';

/** What authorities lay down, an edition at a time: which holds today, who published it, and its lines. */
@Component({
  selector: 'gr-tables-screen',
  imports: [ReactiveFormsModule, RouterLink, ButtonModule, InputTextModule, TableModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="screen">
      <header class="screen-head">
        <h1 i18n>Tables</h1>
        <p i18n class="faint">Figures that an authority or a maker lays down. A run goes by the edition that holds on its day, and names it.</p>
        @if (officer()) {
          <a i18n pButton routerLink="/tables/new">New edition</a>
        }
      </header>
      @if (kept.problem(); as p) {
        <p class="problem" role="alert">{{ p.message }}</p>
      }
      @for (row of kept.rows(); track row.digest) {
        <section [class.gone]="row.withdrawn !== null" [attr.aria-labelledby]="'t-' + row.digest">
          <h2 [id]="'t-' + row.digest">
            {{ row.table.id }}, <ng-container i18n>edition {{ row.table.edition }}</ng-container> &ngsp;<span [class.holds]="row.inForce">{{
              standing(row)
            }}</span>
          </h2>
          <p>{{ row.table.title }}</p>
          <p class="faint small">
            {{ row.table.source.title }}{{ row.table.source.clause ? ', ' + row.table.source.clause : '' }} ·
            <ng-container i18n>published by {{ row.by }}</ng-container>
          </p>
          @if (row.withdrawn; as w) {
            <p class="problem" i18n>Withdrawn by {{ w.by }}: {{ w.why }}</p>
          }
          <p-table [value]="$any(linesOf(row))" [size]="'small'" [tableStyle]="{ 'max-width': '34rem' }">
            <ng-template #header>
              <tr>
                @for (h of headings(row); track h) {
                  <th scope="col">{{ h }}</th>
                }
              </tr>
            </ng-template>
            <ng-template #body let-line>
              <tr>
                @for (cell of line; track $index) {
                  <td>{{ cell }}</td>
                }
              </tr>
            </ng-template>
          </p-table>
          <p class="line">
            <button i18n pButton type="button" severity="secondary" (click)="file(row)">As JSON</button>
            <a i18n pButton severity="secondary" [href]="'/api/tables/' + row.digest + '/csv'" download>As CSV</a>
            @if (officer() && row.withdrawn === null) {
              <a i18n pButton severity="secondary" routerLink="/tables/new" [queryParams]="{ from: row.digest }">Next edition</a>
              <button i18n pButton type="button" severity="secondary" (click)="withdrawing.set(row.digest)">Withdraw</button>
            }
          </p>
          @if (withdrawing() === row.digest) {
            <form class="line" [formGroup]="reason" (ngSubmit)="withdraw(row)">
              <label i18n for="why">Why it is withdrawn</label>
              <input pInputText id="why" autocomplete="off" formControlName="why" />
              <button i18n pButton type="submit" [disabled]="reason.getRawValue().why.trim() === ''">Withdraw it</button>
              <button i18n pButton type="button" severity="secondary" (click)="withdrawing.set(null)">Leave it</button>
            </form>
          }
        </section>
      } @empty {
        <p class="faint">
          @if (kept.loading()) {
            <ng-container i18n>Reading…</ng-container>
          } @else {
            <ng-container i18n>No table is kept yet. A test whose figures an authority lays down is not begun without one.</ng-container>
          }
        </p>
      }
    </div>
  `,
  styles: `
    section {
      padding: var(--space-4) 0;
      border-bottom: var(--line) solid var(--rule);
    }
    h2 {
      font-size: var(--type-lead);
      margin: 0;
    }
    h2 span {
      font-weight: 400;
      color: var(--faint);
    }
    h2 span.holds {
      color: var(--tight);
      font-weight: 600;
    }
    p {
      margin: var(--space-1) 0;
    }
    .gone p-table {
      opacity: 0.55;
    }
    .line {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: var(--space-2);
      margin-top: var(--space-3);
    }
    .line input {
      flex: 1;
      min-width: 12rem;
    }
  `,
})
export class TablesScreen {
  protected readonly kept = inject(KeptTables);
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly document = inject(DOCUMENT);
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);
  protected readonly officer = computed(() => this.me()?.role === 'officer');
  protected readonly withdrawing = signal<string | null>(null);
  protected readonly reason = inject(NonNullableFormBuilder).group({ why: '' });

  constructor() {
    this.kept.fetch();
  }

  protected standing(row: TableRow): string {
    const { from, until } = row.table;
    if (row.withdrawn !== null) return $localize`withdrawn`;
    if (row.inForce) return until === undefined ? $localize`holds since ${from}:FROM:` : $localize`holds from ${from}:FROM: to ${until}:UNTIL:`;
    return until === undefined ? $localize`from ${from}:FROM:` : $localize`from ${from}:FROM: to ${until}:UNTIL:`;
  }

  protected headings(row: TableRow): readonly string[] {
    const kind = tableKind(row.table.kind);
    return kind ? [kind.by.title, ...kind.gives.map((g) => g.title)] : [];
  }

  protected linesOf(row: TableRow): readonly (readonly string[])[] {
    const gives = tableKind(row.table.kind)?.gives ?? [];
    return row.table.lines.map((l) => [showQuantity(l.upTo), ...gives.map((g) => (l.gives[g.id] ? showQuantity(l.gives[g.id] ?? l.upTo) : '–'))]);
  }

  protected file({ table }: TableRow): void {
    save(this.document, `${table.id}-${table.edition}.json`.replaceAll(' ', '-'), `${JSON.stringify(table, null, 2)}\n`, 'application/json');
  }

  protected withdraw(row: TableRow): void {
    this.api.withdrawTable(row.digest, this.reason.getRawValue().why.trim()).subscribe({
      next: () => {
        this.withdrawing.set(null);
        this.reason.reset();
        this.kept.fetch();
      },
      error: (e: unknown) => this.undo.refused(e),
    });
  }
}
