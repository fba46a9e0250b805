import { ChangeDetectionStrategy, Component, input, signal } from '@angular/core';

/** What narrows a list: in the row of its tools where there is room, and folded away under one key in the hand, which says how much of it is in force. */
@Component({
  selector: 'gr-fold',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button type="button" class="control fold" [attr.aria-expanded]="open()" aria-controls="folded" (click)="open.set(!open())">
      <ng-container i18n>Narrow</ng-container>
      @if (inForce() > 0) {
        &ngsp;({{ inForce() }})
      }
    </button>
    <div id="folded" class="folded" [class.open]="open()"><ng-content /></div>
  `,
  styles: `
    :host,
    .folded {
      display: contents;
    }
    .fold {
      display: none;
    }
    @media (width < 48rem) {
      .fold {
        display: inline-flex;
      }
      .folded {
        display: none;
      }
      .folded.open {
        display: flex;
        flex-wrap: wrap;
        flex-basis: 100%;
        gap: var(--space-2);
      }
    }
  `,
})
export class Fold {
  /** How many of the things that it folds away narrow the list now. */
  readonly inForce = input.required<number>();
  protected readonly open = signal(false);
}
