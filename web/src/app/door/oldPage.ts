import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { PageEdition } from './edition';

/** Says that the server no longer understands this page. It is loaded anew by a hand and never by itself: a test may be under way. */
@Component({
  selector: 'gr-old-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (page.old()) {
      <p role="alert">
        <ng-container i18n>This page is older than the server understands. What you have said and is not sent yet stays on this device.</ng-container>
        <button i18n type="button" class="control" (click)="page.renew()">Load the newer one</button>
      </p>
    }
  `,
  styles: `
    p {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: var(--space-3);
      margin: 0;
      padding: var(--space-3) var(--gutter);
      background: var(--soft);
      border-bottom: var(--edge) solid var(--undecided);
      font-weight: 600;
    }
  `,
})
export class OldPage {
  protected readonly page = inject(PageEdition);
}
