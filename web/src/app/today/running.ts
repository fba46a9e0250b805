import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Seal } from '../mark/seal';
import { TodayActions, todayFeature } from './todayStore';

/** The benches: every run that is still open, to be gone on with. */
@Component({
  selector: 'gr-running',
  imports: [RouterLink, DatePipe, Seal],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="screen">
      <header class="screen-head">
        <h1>Bench</h1>
        <p class="faint">Runs that are still open</p>
      </header>
      @for (run of runs(); track run.id) {
        <a class="run" [routerLink]="['/bench', run.id]">
          <gr-seal [kind]="run.blocks ? 'fail' : 'none'" [size]="28" />
          <span class="tag">{{ run.tag }}</span>
          <span class="what"
            >{{ run.title
            }}<span class="faint"
              >{{ run.ruleSet }} · begun {{ run.startedAt | date: 'd MMM HH:mm' }} by {{ run.by }}{{ run.clock === 'simulated' ? ' · simulated' : '' }}</span
            ></span
          >
          <span class="go">Go on</span>
        </a>
      } @empty {
        <p>No run is open. Start one from <a routerLink="/today">Today</a> or from an item in the <a routerLink="/register">register</a>.</p>
      }
    </div>
  `,
  styles: `
    .run {
      display: grid;
      grid-template-columns: 32px 80px 1fr 110px;
      gap: 16px;
      align-items: center;
      padding: 12px 0;
      border-bottom: 1px solid var(--rule);
      color: inherit;
      text-decoration: none;
      max-width: 900px;
    }
    .what .faint {
      display: block;
      font-size: 13px;
    }
    .go {
      border: 1px solid var(--accent);
      border-radius: 4px;
      color: var(--accent);
      font-weight: 600;
      text-align: center;
      padding: 10px;
    }
    .run:hover .go {
      background: var(--accent);
      color: var(--on-accent);
    }
  `,
})
export class Running {
  private readonly store = inject(Store);
  private readonly today = this.store.selectSignal(todayFeature.selectValue);
  protected readonly runs = computed(() => this.today()?.running ?? []);

  constructor() {
    this.store.dispatch(TodayActions.opened());
  }
}
