import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { ChangeRow } from '@grellin/contract';
import { Store } from '@ngrx/store';
import { accountFeature } from '../../account/accountStore';
import { StationDay } from '../../account/stationDay';
import { Api } from '../../api/api';
import { Loader } from '../../api/loader';
import { Undo } from '../../undo/undo';

/** What was changed in the register lately, newest first, each with its way back. */
@Component({
  selector: 'gr-changes',
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="screen">
      <header class="screen-head">
        <h1 i18n>What was changed</h1>
        <a i18n class="control" routerLink="/register">Register</a>
      </header>
      <p i18n class="faint">The newest first. A later change of the same thing has to be taken back before an earlier one.</p>
      @if (list.problem(); as p) {
        <p class="problem" role="alert">{{ p.message }}</p>
      }
      @for (c of list.value() ?? []; track c.id) {
        <p class="change">
          <span class="faint">{{ day.time(c.at) }}</span>
          <span
            >{{ c.what }}<span class="faint"> · {{ c.by }}</span></span
          >
          @if (officer()) {
            <button i18n type="button" class="control" [attr.aria-label]="'Take back: ' + c.what" (click)="back(c)">Take back</button>
          }
        </p>
      } @empty {
        <p class="faint">{{ list.loading() ? 'Reading…' : 'Nothing was changed that could be taken back.' }}</p>
      }
    </div>
  `,
  styles: `
    header + p {
      margin-bottom: var(--space-3);
    }
    .change {
      display: grid;
      grid-template-columns: 9.375rem minmax(0, 1fr) auto;
      gap: var(--space-4);
      align-items: center;
      max-width: 56.25rem;
      border-bottom: var(--line) solid var(--rule);
      padding: var(--space-1) 0;
    }
  `,
})
export class Changes {
  protected readonly day = inject(StationDay);
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);
  protected readonly officer = computed(() => this.me()?.role === 'officer');
  protected readonly list = new Loader<readonly ChangeRow[]>();

  constructor() {
    this.again();
  }

  private again(): void {
    this.list.load(this.api.changes());
  }

  protected back(change: ChangeRow): void {
    this.api.undo(change.id).subscribe({
      next: ({ what }) => {
        this.undo.done(null, `Taken back: ${what}`, () => undefined);
        this.again();
      },
      error: (e: unknown) => this.undo.refused(e),
    });
  }
}
