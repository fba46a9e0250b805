import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { RoundRow } from '@grellin/contract';
import { Api } from '../api/api';
import { Loader } from '../api/loader';
import { StationDay } from '../account/stationDay';

/** Rounds that are under way, and those of the last days. */
@Component({
  selector: 'gr-round-rows',
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if ((rounds.value() ?? []).length > 0) {
      <h2 i18n>Rounds</h2>
      <ul>
        @for (r of rounds.value(); track r.id) {
          <li>
            <a [routerLink]="['/rounds', r.id]">{{ r.title }}</a>
            <span>{{ r.ruleSetTitle }}</span>
            <span class="faint">{{ stands(r) }}</span>
          </li>
        }
      </ul>
    }
  `,
  styles: `
    h2 {
      font-size: var(--type-lead);
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    li {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-1) var(--space-4);
      align-items: baseline;
      padding: var(--space-2) 0;
      border-bottom: var(--line) solid var(--rule);
    }
    a {
      display: inline-flex;
      align-items: center;
      min-height: var(--touch);
      font-weight: 600;
    }
  `,
})
export class RoundRows {
  private readonly days = inject(StationDay);
  protected readonly rounds = new Loader<readonly RoundRow[]>();

  constructor() {
    this.rounds.load(inject(Api).rounds());
  }

  protected stands({ counts, closedAt, openedAt }: RoundRow): string {
    const done = counts.pass + counts.fail + counts.other;
    const since = this.days.time(openedAt);
    return closedAt === null
      ? $localize`${String(done)}:DONE: done, ${String(counts.fail)}:FAILED: failed, begun ${since}:SINCE:`
      : $localize`ended: ${String(done)}:DONE: done, ${String(counts.fail)}:FAILED: failed`;
  }
}
