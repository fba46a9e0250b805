import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { ExpansionView } from './expansionView';

/** A cylinder in its jacket: water and pressure rise, and the parts of the expansion stand beside them as they come. */
@Component({
  selector: 'gr-expansion',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <ol>
      @for (s of view().steps; track s.id) {
        <li [class]="s.state">
          {{ s.words }}<span class="visually-hidden">: {{ s.state }}</span>
        </li>
      }
    </ol>
    <div class="row">
      <svg viewBox="0 0 330 400" role="img" aria-label="The cylinder in its jacket, the water scale and the pressure" i18n-aria-label>
        <path class="jacket" d="M60 70v300q0 16 16 16h108q16 0 16-16V70M44 70h172" />
        <rect class="water" x="62" y="76" width="136" height="306" />
        <path class="cylinder" d="M98 168q0-34 32-40V84h0v44q32 6 32 40v180q0 16-16 16h-32q-16 0-16-16z" />
        <path class="pipe" d="M130 84V40h112" />
        <rect class="tube" x="238" y="60" width="26" height="320" />
        <rect class="level" x="238" width="26" [attr.y]="380 - 320 * (view().water ?? 0)" [attr.height]="320 * (view().water ?? 0)" />
        <text i18n x="251" y="398">water</text>
        <rect class="tube" x="292" y="60" width="26" height="320" />
        <rect class="pressure" x="292" width="26" [attr.y]="380 - 320 * (view().pressure ?? 0)" [attr.height]="320 * (view().pressure ?? 0)" />
        <path class="test" [attr.d]="'M284 ' + (380 - 320 / 1.1) + 'h42'" />
        <text i18n x="305" y="398">pressure</text>
      </svg>
      <dl>
        @for (f of view().figures; track f.title) {
          <dt>{{ f.title }}</dt>
          <dd>
            <strong>{{ f.shown ?? '–' }}</strong>
            @if (f.limit) {
              <span>{{ f.limit }}</span>
            }
          </dd>
        }
      </dl>
    </div>
  `,
  styles: `
    :host {
      display: block;
      flex: 1;
    }
    ol {
      display: flex;
      gap: var(--space-2);
      list-style: none;
      margin: 0 0 var(--space-3);
      padding: 0;
    }
    li {
      border-bottom: var(--space-1) solid var(--rule);
      color: var(--faint);
      flex: 1;
      padding: var(--space-1) 0;
      font-weight: 500;
    }
    li.here {
      border-color: var(--accent);
      color: var(--ink);
      font-weight: 600;
    }
    li.done {
      border-color: var(--ink);
      color: var(--ink);
    }
    .row {
      display: flex;
      gap: var(--space-6);
      align-items: center;
    }
    svg {
      flex: 1;
      max-height: 27.5rem;
    }
    .jacket,
    .cylinder,
    .pipe,
    .tube {
      fill: none;
      stroke: var(--ink);
      stroke-width: 3;
    }
    .cylinder {
      fill: var(--panel);
    }
    .water {
      fill: var(--accent);
      opacity: 0.12;
    }
    .level,
    .pressure {
      fill: var(--accent);
      opacity: 0.55;
    }
    .pressure {
      fill: var(--ink);
    }
    .test {
      stroke: var(--ink);
      stroke-width: 4;
    }
    text {
      font: 500 var(--type-label) var(--text);
      fill: var(--faint);
      text-anchor: middle;
    }
    dl {
      flex: 1;
      margin: 0;
    }
    dt {
      color: var(--faint);
    }
    dd {
      margin: 0 0 var(--space-3);
      display: flex;
      gap: var(--space-4);
      align-items: baseline;
    }
    dd strong {
      font: 700 2.125rem var(--figures);
    }
    dd span {
      color: var(--faint);
    }
  `,
})
export class Expansion {
  readonly view = input.required<ExpansionView>();
}
