import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { OccasionKind } from '@grellin/core';
import { MenuModule } from 'primeng/menu';

/** Notes what happened to an item, or to several: each thing that makes a check owed is one press of a list. */
@Component({
  selector: 'gr-happened',
  imports: [MenuModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button i18n type="button" class="control" aria-haspopup="menu" (click)="menu.toggle($event)">Note what happened</button>
    <p-menu #menu [model]="items()" [popup]="true" appendTo="body" />
  `,
})
export class Happened {
  /** What can have happened, as it is said of what it happened to. */
  readonly occasions = input.required<readonly { readonly id: OccasionKind; readonly title: string }[]>();
  readonly happened = output<OccasionKind>();
  protected readonly items = computed(() => this.occasions().map((o) => ({ label: o.title, command: () => this.happened.emit(o.id) })));
}
