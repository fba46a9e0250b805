import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import type { AssetRow } from '@grellin/contract';
import { units, unitRow, valuesOf, type AttributeRow, type AttributeValue, type Procedure } from '@grellin/core';
import { ButtonModule } from 'primeng/button';
import { SelectModule } from 'primeng/select';
import { Api } from '../../api/api';
import { Field } from '../../form/field';
import { QuantityField } from '../../form/quantityField';
import { Undo } from '../../undo/undo';
import { attributeControls, attributeOf, type AskedAttribute } from '../entry/itemForm';

/** What a rule set hangs on and nobody has said of an item: asked before a run is opened, and written on the item with its undo. */
@Component({
  selector: 'gr-unknown-facts',
  imports: [ReactiveFormsModule, ButtonModule, SelectModule, Field, QuantityField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <fieldset [formGroup]="form()">
      <legend i18n>Not yet known of this item</legend>
      @for (r of asked(); track r.id) {
        <gr-field [label]="r.title" [for]="'fact-' + r.id">
          @if (r.type.kind === 'quantity') {
            <gr-quantity [inputId]="'fact-' + r.id" [formControlName]="r.id" [name]="r.title" [units]="r.units" />
          } @else {
            <p-select
              [inputId]="'fact-' + r.id"
              [formControlName]="r.id"
              [options]="r.choices"
              optionLabel="title"
              optionValue="value"
              placeholder="Choose one"
              i18n-placeholder
              [ariaLabel]="r.title"
            />
          }
        </gr-field>
      }
      <button i18n pButton type="button" severity="secondary" [disabled]="!complete()" (click)="keep()">Write it on the item</button>
    </fieldset>
  `,
  styles: `
    fieldset {
      border: var(--line) solid currentColor;
      margin-block: var(--space-3);
      padding: var(--space-3);
    }
    p-select,
    button {
      min-height: var(--touch);
    }
    p-select {
      align-items: center;
    }
  `,
})
export class UnknownFacts {
  readonly asset = input.required<AssetRow>();
  readonly procedure = input.required<Procedure>();
  readonly role = input.required<string>();
  readonly rows = input.required<readonly AttributeRow[]>();
  readonly kept = output();
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);

  private readonly fields = inject(NonNullableFormBuilder);
  protected readonly asked = computed(() =>
    this.rows().map((r): AskedAttribute & { readonly choices: { readonly value: string | boolean; readonly title: string }[] } => {
      const { type } = r;
      const values = type.kind === 'yesNo' ? [true, false] : [...valuesOf(this.procedure(), `${this.role()}.${r.id}`), 'other'];
      return {
        ...r,
        units: type.kind === 'quantity' ? units.filter((u) => unitRow(u.code)?.dimension === type.dimension).map((u) => u.code) : [],
        choices: values.map((value) => ({ value, title: value === true ? $localize`yes` : value === false ? $localize`no` : value })),
      };
    }),
  );
  protected readonly form = computed(() => attributeControls(this.fields, this.asked()));

  private said(): readonly (readonly [string, AttributeValue])[] {
    return Object.entries(this.form().getRawValue()).flatMap(([id, held]) => {
      const value = attributeOf(held);
      return value === null ? [] : [[id, value] as const];
    });
  }

  protected complete(): boolean {
    return this.said().length === this.asked().length;
  }

  protected keep(): void {
    const asset = this.asset();
    this.undo.do(
      this.api.changeAsset(asset.id, { revision: asset.revision, attributes: { ...asset.attributes, ...Object.fromEntries(this.said()) } }),
      () => $localize`Written on ${asset.tag}:tag:`,
      () => this.kept.emit(),
    );
  }
}
