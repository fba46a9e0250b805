import { ChangeDetectionStrategy, Component, input, output, signal } from '@angular/core';
import { oddAttributes, type Attributes, type OddAttribute } from '@grellin/core';
import { ButtonModule } from 'primeng/button';

/** Figures that nobody would expect of an item are asked about once more before they are sent; the server asks as well. */
export class OddFigures {
  /** What is being asked about. */
  readonly asked = signal<readonly OddAttribute[]>([]);
  private readonly meant = new Set<string>();

  /** Whether attributes can be sent as they are; where not, it is asked about them. A figure that is changed afterwards is asked about anew. */
  mayGo(kind: string, attributes: Attributes): boolean {
    const open = oddAttributes(kind, attributes).filter((o) => !this.meant.has(o.words));
    this.asked.set(open);
    return open.length === 0;
  }

  /** They are so. */
  areSo(): void {
    for (const o of this.asked()) this.meant.add(o.words);
    this.asked.set([]);
  }

  /** Ids of the odd attributes, all of which were said to be so, as the server wants them. */
  sure(kind: string, attributes: Attributes): { readonly sure?: string[] } {
    const ids = oddAttributes(kind, attributes).map((o) => o.id);
    return ids.length === 0 ? {} : { sure: ids };
  }
}

/** The question itself, where there is one. */
@Component({
  selector: 'gr-odd-figures',
  imports: [ButtonModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (odd().asked().length > 0) {
      <div class="odd" role="alert">
        @for (o of odd().asked(); track o.id) {
          <p>
            <strong>{{ o.words }}.</strong>
          </p>
        }
        <p i18n>Is that so? Look at the unit and the decimal point.</p>
        <button i18n pButton type="button" severity="secondary" (click)="say()">It is so</button>
      </div>
    }
  `,
  styles: `
    .odd {
      border-left: var(--edge) solid var(--undecided);
      padding: var(--space-2) var(--space-3);
      margin-block: var(--space-3);
    }
    p {
      margin: 0 0 var(--space-2);
    }
  `,
})
export class OddQuestion {
  readonly odd = input.required<OddFigures>();
  /** It is so: what was to be sent can go. */
  readonly said = output();

  protected say(): void {
    this.odd().areSo();
    this.said.emit();
  }
}
