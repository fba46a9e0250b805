import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { Drawing } from '@grellin/core';

/** What a hand does, drawn: what moves is in the accent colour, in whatever light. */
@Component({
  selector: 'gr-hand-drawing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <figure>
      <svg viewBox="0 0 240 160" role="img" [attr.aria-label]="drawing().words">
        @for (s of drawing().strokes; track $index) {
          <path [class]="s.as" [attr.d]="s.d" />
        }
        @for (l of drawing().labels; track $index) {
          <text [attr.x]="l.x" [attr.y]="l.y" [attr.text-anchor]="l.anchor ?? 'middle'">{{ l.text }}</text>
        }
      </svg>
      <figcaption>{{ drawing().title }}</figcaption>
    </figure>
  `,
  styles: `
    figure {
      margin: var(--space-4) 0 0;
      max-width: 30rem;
    }
    svg {
      display: block;
      width: 100%;
      border: var(--line) solid var(--rule);
      background: var(--panel);
    }
    path {
      fill: none;
      stroke: var(--ink);
      stroke-width: 3;
      stroke-linecap: round;
      stroke-linejoin: round;
    }
    .moving {
      fill: color-mix(in srgb, var(--accent) 25%, transparent);
      stroke: var(--accent);
      stroke-width: 5;
    }
    .arrow {
      stroke: var(--accent);
      stroke-width: 4;
    }
    .faint {
      stroke: var(--faint);
      stroke-width: 1.5;
      stroke-dasharray: 4 4;
    }
    text {
      font: 600 0.6875rem var(--text);
      fill: var(--ink);
    }
    figcaption {
      font-size: var(--type-small);
      color: var(--faint);
    }
  `,
})
export class HandDrawing {
  readonly drawing = input.required<Drawing>();
}
