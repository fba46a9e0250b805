import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Undo } from './undo';

/** Says what was done, and takes it back. */
@Component({
  selector: 'gr-undo-bar',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (undo.offer(); as o) {
      <div class="bar" [attr.role]="o.refused ? 'alert' : 'status'" [class.refused]="o.refused">
        <span>{{ o.words }}</span>
        @if (o.change) {
          <button i18n type="button" class="control" (click)="undo.takeBack()">Take it back</button>
        }
        <button type="button" class="control" aria-label="Close this line" i18n-aria-label (click)="undo.close()">×</button>
      </div>
    }
  `,
  styles: `
    :host {
      position: fixed; /* outside the shell's grid */
      inset: auto var(--gutter) calc(var(--space-5) + var(--bar)) auto;
      z-index: 20;
    }
    .bar {
      display: flex;
      gap: var(--space-3);
      align-items: center;
      max-width: 60ch;
      padding: var(--space-2) var(--space-2) var(--space-2) var(--space-4);
      border: var(--line) solid var(--ink);
      border-radius: var(--radius);
      background: var(--panel);
      box-shadow: var(--lifted);
    }
    .refused {
      border-color: var(--leaks);
      color: var(--leaks);
    }
  `,
})
export class UndoBar {
  protected readonly undo = inject(Undo);
}
