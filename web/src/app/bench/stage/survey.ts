import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { SurveyView } from './surveyView';

/** The item drawn, with the route on it: tap the place that is soaped now, or one that has grown worse. */
@Component({
  selector: 'gr-survey',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg viewBox="0 0 640 450" role="group" [attr.aria-label]="view().outline?.title ?? 'The places'">
      @for (d of view().outline?.paths ?? []; track $index) {
        <path class="line" [attr.d]="d" />
      }
      @for (d of view().outline?.thin ?? []; track $index) {
        <path class="thin" [attr.d]="d" />
      }
      @for (c of view().outline?.captions ?? []; track c.text) {
        <text class="caption" [attr.x]="c.x" [attr.y]="c.y">{{ c.text }}</text>
      }
      @for (p of view().places; track p.id) {
        <g
          class="place"
          [class.here]="p.here"
          [class.dry]="p.grade === 'none'"
          [class.wet]="p.grade !== null && p.grade !== 'none'"
          role="button"
          tabindex="0"
          [attr.aria-label]="p.n + '. ' + p.text + ': ' + p.words"
          (click)="tapped.emit(p.id)"
          (keydown.enter)="tapped.emit(p.id)"
        >
          <circle class="reach" [attr.cx]="p.x" [attr.cy]="p.y" r="26" />
          <circle class="ring" [attr.cx]="p.x" [attr.cy]="p.y" r="14" />
          @if (p.grade !== null && p.grade !== 'none') {
            <circle class="bubble" [attr.cx]="p.x + 16" [attr.cy]="p.y - 16" r="6" />
            <circle class="bubble" [attr.cx]="p.x + 26" [attr.cy]="p.y - 28" r="4" />
          }
          <text [attr.x]="p.x" [attr.y]="p.y + 5">{{ p.n }}</text>
        </g>
      }
    </svg>
    <ol tabindex="0" aria-label="The route" i18n-aria-label>
      @for (p of view().places; track p.id) {
        <li [class.here]="p.here" [class.wet]="p.grade !== null && p.grade !== 'none'">
          <span>{{ p.text }}</span> <span class="faint">{{ p.grade === null ? '' : p.words }}</span>
        </li>
      }
    </ol>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1.6fr) minmax(12.5rem, 1fr);
      gap: var(--space-5);
      flex: 1;
      min-height: 0;
    }
    svg {
      width: 100%;
      max-height: 100%;
    }
    .line,
    .thin {
      fill: none;
      stroke: var(--ink);
      stroke-width: 3;
      stroke-linejoin: round;
      stroke-linecap: round;
    }
    .line {
      fill: var(--panel);
    }
    .thin {
      stroke: var(--faint);
      stroke-width: 1.5;
    }
    .caption {
      font: 500 var(--type-small) var(--text);
      fill: var(--faint);
      text-anchor: middle;
    }
    .place {
      cursor: pointer;
      outline: none;
    }
    .reach {
      fill: transparent;
    }
    .ring {
      fill: var(--panel);
      stroke: var(--faint);
      stroke-width: 2;
    }
    .place text {
      font: 700 var(--type-small) var(--figures);
      fill: var(--ink);
      text-anchor: middle;
    }
    .here .ring {
      stroke: var(--accent);
      stroke-width: 6;
    }
    .place:focus-visible .reach {
      stroke: var(--accent);
      stroke-width: 3;
    }
    .dry .ring {
      stroke: var(--tight);
      stroke-width: 3;
    }
    .wet .ring {
      stroke: var(--leaks);
      stroke-width: 4;
      stroke-dasharray: 60 12;
    }
    .bubble {
      fill: none;
      stroke: var(--leaks);
      stroke-width: 2.5;
    }
    ol {
      margin: 0;
      padding-left: var(--space-6);
      overflow: auto;
    }
    li {
      padding: var(--space-1) 0;
      border-bottom: var(--line) solid var(--rule);
    }
    li .faint {
      display: block;
      font-size: var(--type-label);
    }
    li.here {
      font-weight: 600;
    }
    li.wet .faint {
      color: var(--leaks);
      font-weight: 600;
    }
    @media (width <= 62.5rem) {
      :host {
        grid-template-columns: 1fr;
      }
    }
  `,
})
export class Survey {
  readonly view = input.required<SurveyView>();
  readonly tapped = output<string>();
}
