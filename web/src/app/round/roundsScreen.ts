import { ChangeDetectionStrategy, Component, inject, signal, viewChild } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { DayWork } from '@grellin/contract';
import { Store } from '@ngrx/store';
import { accountFeature } from '../account/accountStore';
import { RoundRows } from './roundRows';
import { StartDay } from './startDay';

/** The rounds, how the day's work is started and another round begun; and what of the day is begun by itself. */
@Component({
  selector: 'gr-rounds-screen',
  imports: [RouterLink, RoundRows, StartDay],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="screen">
      <header class="screen-head">
        <h1 i18n>Rounds</h1>
        @if (me()?.role !== 'reader') {
          <gr-start-day (started)="started($event)" />
          <a i18n class="control" routerLink="/rounds/new">New round</a>
        }
      </header>
      <p i18n class="faint">Items one after another by the same rules on the same gauges: the rig is proved once, each item has a record of its own.</p>
      <gr-round-rows [alone]="true" />
      @if (day(); as d) {
        @if (d.rounds.length === 0 && d.alone.length === 0) {
          <p i18n role="status">Nothing is owed today.</p>
        }
        @if (d.alone.length > 0) {
          <section aria-labelledby="alone">
            <h2 i18n id="alone">Begun by themselves</h2>
            <ul>
              @for (a of d.alone; track a.asset + a.title) {
                <li>
                  <a [routerLink]="['/register', a.asset]" fragment="start"
                    ><strong>{{ a.tag }}</strong> {{ a.title }}</a
                  >
                  <span class="faint">{{ a.why }}</span>
                </li>
              }
            </ul>
          </section>
        }
      }
    </div>
  `,
  styles: `
    h2 {
      margin-top: var(--space-6);
      font-size: var(--type-lead);
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    li {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      align-items: center;
      gap: var(--space-1) var(--space-4);
      min-height: var(--touch);
      border-bottom: var(--line) solid var(--rule);
    }
    @media (width < 48rem) {
      li {
        grid-template-columns: minmax(0, 1fr);
        padding: var(--space-2) 0;
      }
    }
  `,
})
export class RoundsScreen {
  protected readonly me = inject(Store).selectSignal(accountFeature.selectMe);
  private readonly rows = viewChild.required(RoundRows);
  /** What starting the day came to, where this screen was come to by it. */
  protected readonly day = signal((history.state as { day?: DayWork } | null)?.day ?? null);

  protected started(day: DayWork): void {
    this.day.set(day);
    this.rows().again();
  }
}
