import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Chime } from '../preference/chime';
import { WatchActions, watchFeature } from './watchStore';
import { watchRow } from './watchView';

/** The open runs as running strips, each with its timer. One that wants a hand says so, in words and by sound. */
@Component({
  selector: 'gr-watch-rows',
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (r of rows(); track r.id) {
      <a [routerLink]="['/bench', r.id]" [class.hand]="r.wantsHand" [attr.data-run]="r.id">
        <strong>{{ r.tag }}</strong>
        <span class="what"
          >{{ r.stage }}<span class="faint">{{ big() ? r.title + (r.simulated ? ' · simulated' : '') : '' }}</span></span
        >
        <svg viewBox="0 0 200 44" aria-hidden="true"><path [attr.d]="r.path" /></svg>
        <span class="time">{{ r.left ?? '' }}</span>
        <span class="doing">{{ r.wantsHand ? 'wants a hand: ' : '' }}{{ r.doing }}</span>
      </a>
    } @empty {
      @if (big()) {
        <p i18n>No run is open. Start one from <a routerLink="/today">Today</a> or from an item in the <a routerLink="/register">register</a>.</p>
      }
    }
  `,
  styles: `
    :host {
      display: flex;
      gap: var(--space-2);
      overflow-x: auto;
    }
    a[data-run] {
      display: grid;
      grid-template-columns: auto 1fr auto;
      gap: 0 var(--space-3);
      align-items: center;
      border: var(--edge) solid var(--rule);
      border-radius: var(--radius);
      background: var(--panel);
      color: var(--ink);
      text-decoration: none;
      padding: var(--space-2) var(--space-3);
      min-height: 3rem;
      min-width: 16.25rem;
    }
    a.hand {
      border-color: var(--undecided);
      border-style: dashed;
    }
    strong {
      font: 700 var(--type-lead) var(--figures);
    }
    .what {
      white-space: nowrap;
      overflow: hidden;
      text-overflow: ellipsis;
    }
    .what .faint {
      display: block;
      font-size: var(--type-label);
    }
    .time {
      font: 700 var(--type-figure) var(--figures);
    }
    .doing {
      grid-column: 1 / -1;
      font-size: var(--type-label);
      color: var(--faint);
    }
    .hand .doing {
      color: var(--undecided);
      font-weight: 600;
    }
    svg {
      display: none;
    }
    path {
      fill: none;
      stroke: var(--ink);
      stroke-width: 2;
    }
    :host(.big) {
      flex-direction: column;
    }
    :host(.big) a[data-run] {
      grid-template-columns: 8.125rem minmax(10rem, 1fr) 15rem 6.875rem 14.375rem;
      min-height: 4.75rem;
    }
    :host(.big) svg {
      display: block;
      height: 3.25rem;
    }
    :host(.big) .doing {
      grid-column: auto;
      font-size: var(--type-body);
    }
    @media (width <= 62.5rem) {
      :host(.big) a[data-run] {
        grid-template-columns: 6.875rem 1fr auto;
      }
      :host(.big) svg {
        display: none;
      }
    }
  `,
  host: { '[class.big]': 'big()', 'aria-label': 'Open runs', role: 'region' },
})
export class WatchRows {
  private readonly store = inject(Store);
  private readonly chime = inject(Chime);
  /** One under the other with their strips, or small and side by side. */
  readonly big = input(false);
  /** The run that has the screen already. */
  readonly except = input<string | null>(null);
  private readonly state = this.store.selectSignal(watchFeature.selectWatchState);
  protected readonly rows = computed(() => {
    const { runs, tickMs, offsets } = this.state();
    return Object.values(runs)
      .map((w) => watchRow(w, tickMs + (offsets[w.view.id] ?? -tickMs), this.big()))
      .sort((a, b) => a.tag.localeCompare(b.tag));
  });

  constructor() {
    this.store.dispatch(WatchActions.opened());
    inject(DestroyRef).onDestroy(() => this.store.dispatch(WatchActions.left()));
    effect(() => this.store.dispatch(WatchActions.spared({ run: this.except() })));
    // A run that was left to itself and now wants a hand is heard once.
    let waiting = new Set<string>();
    effect(() => {
      const rows = this.rows();
      if (rows.some((r) => r.wantsHand && waiting.has(r.id))) this.chime.sound();
      waiting = new Set(rows.filter((r) => !r.wantsHand).map((r) => r.id));
    });
  }
}
