import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { SeriesView } from '@grellin/contract';
import { HEIGHT, historyView, WIDTH } from './historyView';

/** An item's past by one procedure: every deciding hold over the others, and what each test used of the allowance. */
@Component({
  selector: 'gr-history',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h3>{{ series().title }}</h3>
    <div class="pair">
      @if (view().strips.length > 0) {
        <figure>
          <svg [attr.viewBox]="box" role="img" [attr.aria-label]="'Holds over one another: ' + view().strips.length">
            <rect class="allowed" x="34" [attr.y]="view().allowanceY" width="320" [attr.height]="zero() - view().allowanceY" />
            <line class="limit" x1="34" x2="354" [attr.y1]="view().allowanceY" [attr.y2]="view().allowanceY" />
            <text x="2" [attr.y]="view().allowanceY + 4">100 %</text>
            @for (s of view().strips; track s.record) {
              <path [class.newest]="s.newest" [attr.d]="s.path" />
            }
            @for (t of view().stripTicks; track t.at) {
              <text [attr.x]="t.at" [attr.y]="height - 5" text-anchor="middle">{{ t.label }}</text>
            }
          </svg>
          <figcaption i18n>Loss in the hold, share of what is permitted; the newest is strong</figcaption>
        </figure>
      }
      <figure>
        <svg [attr.viewBox]="box" role="img" [attr.aria-label]="view().words">
          <line class="limit" x1="34" x2="354" [attr.y1]="view().allowanceY" [attr.y2]="view().allowanceY" />
          <text x="2" [attr.y]="view().allowanceY + 4">100 %</text>
          @if (view().crossing; as c) {
            <line class="span" [attr.x1]="c.low" [attr.x2]="c.high" [attr.y1]="view().allowanceY" [attr.y2]="view().allowanceY" />
          }
          @if (view().line; as l) {
            <path class="trend" [attr.d]="l" />
          }
          @for (p of view().points; track p.words) {
            <circle [class.failed]="p.failed" [attr.cx]="p.x" [attr.cy]="p.y" r="5">
              <title>{{ p.words }}</title>
            </circle>
          }
          @for (t of view().dateTicks; track t.at) {
            <text [attr.x]="t.at" [attr.y]="height - 5" text-anchor="middle">{{ t.label }}</text>
          }
        </svg>
        <figcaption i18n>Allowance used by each test</figcaption>
      </figure>
    </div>
    <p>{{ view().words }}</p>
  `,
  styles: `
    :host {
      display: block;
      margin-bottom: var(--space-4);
    }
    h3 {
      font: 600 var(--type-body) var(--text);
    }
    .pair {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(16.25rem, 1fr));
      gap: var(--space-4);
    }
    figure {
      margin: var(--space-2) 0;
    }
    svg {
      width: 100%;
      background: var(--panel);
      border: var(--line) solid var(--rule);
      border-radius: var(--radius);
    }
    figcaption {
      font-size: var(--type-label);
      color: var(--faint);
    }
    path {
      fill: none;
      stroke: var(--faint);
      stroke-width: 1.2;
      opacity: 0.7;
    }
    .newest {
      stroke: var(--accent);
      stroke-width: 3;
      opacity: 1;
    }
    .trend {
      stroke: var(--accent);
      stroke-width: 2;
      stroke-dasharray: 6 4;
      opacity: 1;
    }
    .allowed {
      fill: var(--wedge);
    }
    .limit {
      stroke: var(--leaks);
      stroke-width: 1.5;
    }
    .span {
      stroke: var(--leaks);
      stroke-width: 7;
      opacity: 0.35;
    }
    circle {
      fill: var(--panel);
      stroke: var(--accent);
      stroke-width: 3;
    }
    circle.failed {
      stroke: var(--leaks);
      stroke-dasharray: 8 4;
    }
    text {
      font: 400 var(--type-fine) var(--text);
      fill: var(--faint);
    }
  `,
})
export class History {
  readonly series = input.required<SeriesView>();
  readonly today = input.required<string>();
  protected readonly box = `0 0 ${String(WIDTH)} ${String(HEIGHT)}`;
  protected readonly height = HEIGHT;
  protected readonly view = computed(() => historyView(this.series(), this.today()));
  protected readonly zero = computed(() => HEIGHT - 22);
}
