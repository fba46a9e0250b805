import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { StrokeAxle } from './strokeView';

/** Axle by axle: two wheels, two chambers, and how far each push-rod came out against the limit of its chamber. */
@Component({
  selector: 'gr-stroke',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (a of axles(); track a.id) {
      <section>
        <h3>
          {{ a.title }} <span>{{ a.chamber }}</span>
          @if (a.difference !== null) {
            <span i18n>difference {{ a.difference }}</span>
          }
        </h3>
        <div class="sides">
          @for (s of a.sides; track s.channel) {
            <div class="side" [class.here]="s.here" [class.over]="s.over">
              <svg viewBox="0 0 300 70" aria-hidden="true">
                <rect class="can" x="8" y="14" width="56" height="42" rx="10" />
                <rect class="rod" x="64" y="30" [attr.width]="8 + 200 * (s.share ?? 0)" height="10" />
                @if (s.limitShare !== null) {
                  <path class="limit" [attr.d]="'M' + (72 + 200 * s.limitShare) + ' 8v54'" />
                }
                <circle class="wheel" cx="286" cy="35" r="12" />
              </svg>
              <p>
                {{ s.title }}: <strong>{{ s.shown ?? '–' }}</strong> <span>{{ s.limit }}</span>
                @if (s.over) {
                  <span i18n class="word">too long</span>
                }
              </p>
            </div>
          }
        </div>
      </section>
    }
  `,
  styles: `
    :host {
      display: block;
      flex: 1;
    }
    h3 {
      font: 600 var(--type-lead) var(--text);
      margin: var(--space-3) 0 var(--space-1);
      display: flex;
      gap: var(--space-4);
    }
    h3 span,
    p span {
      color: var(--faint);
      font-weight: 400;
    }
    .sides {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: var(--space-5);
    }
    .side {
      border: var(--edge) solid var(--rule);
      border-radius: var(--radius);
      padding: var(--space-1) var(--space-3);
    }
    .side.here {
      border-color: var(--accent);
    }
    .side.over {
      border-color: var(--leaks);
    }
    svg {
      width: 100%;
      max-height: 4.875rem;
    }
    .can,
    .wheel {
      fill: none;
      stroke: var(--ink);
      stroke-width: 3;
    }
    .rod {
      fill: var(--accent);
    }
    .over .rod {
      fill: var(--leaks);
    }
    .limit {
      stroke: var(--ink);
      stroke-width: 3;
      stroke-dasharray: 6 4;
    }
    p {
      margin: 0 0 var(--space-2);
      display: flex;
      gap: var(--space-2);
      align-items: baseline;
    }
    strong {
      font: 700 var(--type-figure) var(--figures);
    }
    p .word {
      color: var(--leaks);
      font-weight: 600;
    }
  `,
})
export class Stroke {
  readonly axles = input.required<readonly StrokeAxle[]>();
}
