import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
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
      @if (!alone()) {
        <h2 i18n>Rounds</h2>
      }
      <ul>
        @for (r of rounds.value(); track r.id) {
          <li>
            <a [routerLink]="['/rounds', r.id]">{{ r.title }}</a>
            <span>{{ r.ruleSetTitle }}</span>
            <span class="faint">{{ stands(r) }}</span>
          </li>
        }
      </ul>
    } @else if (alone() && rounds.value()) {
      <p i18n class="faint">No round is under way.</p>
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
  /** They are all that a screen shows, and it names them. */
  readonly alone = input(false);
  private readonly days = inject(StationDay);
  private readonly api = inject(Api);
  protected readonly rounds = new Loader<readonly RoundRow[]>();

  constructor() {
    this.again();
  }

  again(): void {
    this.rounds.load(this.api.rounds());
  }

  protected stands({ counts, closedAt, openedAt }: RoundRow): string {
    const done = counts.pass + counts.fail + counts.other;
    const since = this.days.time(openedAt);
    return closedAt === null
      ? $localize`${String(done)}:DONE: done, ${String(counts.fail)}:FAILED: failed, ${String(counts.left)}:LEFT: left, begun ${since}:SINCE:`
      : $localize`ended: ${String(done)}:DONE: done, ${String(counts.fail)}:FAILED: failed`;
  }
}
