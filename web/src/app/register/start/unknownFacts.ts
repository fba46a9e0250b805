import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import type { AssetRow } from '@grellin/contract';
import type { AttributeRow, Attributes } from '@grellin/core';
import { ButtonModule } from 'primeng/button';
import { Api } from '../../api/api';
import { Undo } from '../../undo/undo';
import { AttributeField } from '../entry/attributeField';
import { askedAttribute, attributeControls, saidIn } from '../entry/itemForm';
import { OddFigures, OddQuestion } from '../entry/oddFigures';

/** What a rule set hangs on and nobody has said of an item: asked before a run is opened, and written on the item with its undo. */
@Component({
  selector: 'gr-unknown-facts',
  imports: [ReactiveFormsModule, ButtonModule, AttributeField, OddQuestion],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <fieldset [formGroup]="form()">
      <legend i18n>Not yet known of this item</legend>
      @for (r of asked(); track r.id) {
        <gr-attribute [row]="r" [control]="form().controls[r.id]!" />
      }
      <gr-odd-figures [odd]="odd" (said)="keep()" />
      <button i18n pButton type="button" severity="secondary" [disabled]="!complete()" (click)="keep()">Write it on the item</button>
    </fieldset>
  `,
  styles: `
    fieldset {
      border: var(--line) solid currentColor;
      margin-block: var(--space-3);
      padding: var(--space-3);
    }
    button {
      min-height: var(--touch);
    }
  `,
})
export class UnknownFacts {
  readonly asset = input.required<AssetRow>();
  readonly rows = input.required<readonly AttributeRow[]>();
  readonly kept = output();
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);

  private readonly fields = inject(NonNullableFormBuilder);
  protected readonly asked = computed(() => this.rows().map(askedAttribute));
  protected readonly odd = new OddFigures();
  protected readonly form = computed(() => attributeControls(this.fields, this.asked()));

  private said(): Attributes {
    return saidIn(this.form().getRawValue(), this.asked());
  }

  protected complete(): boolean {
    return Object.keys(this.said()).length === this.asked().length;
  }

  protected keep(): void {
    const asset = this.asset();
    const said = this.said();
    if (!this.odd.mayGo(asset.class, said)) return;
    this.undo.do(
      this.api.changeAsset(asset.id, { revision: asset.revision, attributes: { ...asset.attributes, ...said }, ...this.odd.sure(asset.class, said) }),
      () => $localize`Written on ${asset.tag}:tag:`,
      () => this.kept.emit(),
    );
  }
}
