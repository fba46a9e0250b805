import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Verdict } from '@grellin/core';

export type SealKind = Verdict | 'condemned' | 'late' | 'none';

/** The verdict seal: a closed ring, a ring with a gap, a dashed ring, a ring struck through, one that is crossed out for ever; one whose last quarter has run out where a check is late; a thin ring where nothing is known yet. Always beside the word. */
@Component({
  selector: 'gr-seal',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.width]="size()" [attr.height]="size()" viewBox="0 0 24 24" fill="none" aria-hidden="true" [style.color]="colour()">
      @switch (kind()) {
        @case ('pass') {
          <circle cx="12" cy="12" r="8.5" stroke="currentColor" stroke-width="3.4" />
        }
        @case ('fail') {
          <path d="M15.5 4.2a8.5 8.5 0 1 0 4.6 5.2" stroke="currentColor" stroke-width="3.4" />
          <path d="M17.2 6.6l3.6-4.6" stroke="currentColor" stroke-width="2" stroke-dasharray="2 1.6" />
        }
        @case ('undecided') {
          <circle cx="12" cy="12" r="8.5" stroke="currentColor" stroke-width="3.4" stroke-dasharray="4.9 4" />
        }
        @case ('void') {
          <circle cx="12" cy="12" r="8.5" stroke="currentColor" stroke-width="2.4" />
          <path d="M5 19L19 5" stroke="currentColor" stroke-width="2.4" />
        }
        @case ('condemned') {
          <circle cx="12" cy="12" r="9.5" stroke="currentColor" stroke-width="1.8" />
          <path d="M5.5 5.5l13 13M18.5 5.5l-13 13" stroke="currentColor" stroke-width="3.4" />
        }
        @case ('late') {
          <circle cx="12" cy="12" r="8.5" stroke="currentColor" stroke-width="1.4" />
          <path d="M12 3.5a8.5 8.5 0 1 1 -8.5 8.5" stroke="currentColor" stroke-width="3.4" />
        }
        @default {
          <circle cx="12" cy="12" r="8.5" stroke="currentColor" stroke-width="1.4" />
        }
      }
    </svg>
  `,
  styles: `
    :host {
      display: inline-flex;
      flex: none;
    }
  `,
})
export class Seal {
  readonly kind = input.required<SealKind>();
  readonly size = input(22);
  protected readonly colour = computed(
    () =>
      ({
        pass: 'var(--tight)',
        fail: 'var(--leaks)',
        condemned: 'var(--leaks)',
        undecided: 'var(--undecided)',
        late: 'var(--undecided)',
        void: 'var(--void)',
        none: 'var(--faint)',
      })[this.kind()],
  );
}
