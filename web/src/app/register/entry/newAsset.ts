import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { newAssetSchema } from '@grellin/contract';
import {
  assetClass,
  assetClasses,
  INSTRUMENT_CLASS,
  isNeeded,
  itemField,
  itemFieldNames,
  itemFields,
  units,
  usualChecksOf,
  type AttributeRow,
} from '@grellin/core';
import { ButtonModule } from 'primeng/button';
import { CheckboxModule } from 'primeng/checkbox';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { Api, problemOf } from '../../api/api';
import { byContract, refusedBy } from '../../form/byContract';
import { Field } from '../../form/field';
import { QuantityField } from '../../form/quantityField';
import { attributeControls, itemControls, itemOf, type HeldItem } from './itemForm';

/** Units of a kind of figure, for a person to choose from. What is counted has none. */
function unitsFor({ type }: AttributeRow): readonly string[] {
  if (type.kind !== 'quantity') return [];
  return type.dimension === 'number' ? ['1'] : units.filter((u) => u.dimension === type.dimension).map((u) => u.code);
}

/** The fields that are typed; the class and whether it is for practice are chosen. */
const facts = itemFieldNames
  .filter((name) => !['class', 'yesNo'].includes(itemFields[name].kind))
  .map((id) => ({ id, title: itemField(id).title, hint: itemField(id).hint ?? (isNeeded(id) ? null : $localize`nothing where it is not known`) }));

/** What may be answered about something that an item has or has not. */
const answers = [
  { value: null, title: $localize`not known` },
  { value: true, title: $localize`yes` },
  { value: false, title: $localize`no` },
];

const FIRST_CLASS = 'gas-tight-suit';

/** A new item: who it is, what its class is asked for, and its usual checks at one press. */
@Component({
  selector: 'gr-new-asset',
  imports: [ReactiveFormsModule, RouterLink, ButtonModule, CheckboxModule, InputTextModule, SelectModule, Field, QuantityField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './newAsset.html',
})
export class NewAssetScreen {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly fields = inject(NonNullableFormBuilder);
  protected readonly classes = assetClasses.filter((c) => c.id !== INSTRUMENT_CLASS).map(({ id, title }) => ({ id, title }));
  protected readonly facts = facts;
  protected readonly answers = answers;
  protected readonly attributes = signal(this.attributesOf(FIRST_CLASS));
  protected readonly usualCount = signal(usualChecksOf(FIRST_CLASS).length);
  protected readonly busy = signal(false);
  protected readonly problem = signal<string | null>(null);
  protected readonly form = this.fields.group(
    { ...itemControls(this.fields, FIRST_CLASS), usual: true, attributes: attributeControls(this.fields, this.attributes()) },
    { validators: byContract(newAssetSchema, { request: (held: HeldItem) => itemOf(held, this.attributes()) }) },
  );

  constructor() {
    this.form.controls.class.valueChanges.pipe(takeUntilDestroyed()).subscribe((kind) => {
      this.attributes.set(this.attributesOf(kind));
      this.usualCount.set(usualChecksOf(kind).length);
      this.form.setControl('attributes', attributeControls(this.fields, this.attributes()));
    });
  }

  private attributesOf(kind: string) {
    return (assetClass(kind)?.attributes ?? []).filter((a) => !a.asked).map((a) => ({ ...a, units: unitsFor(a) }));
  }

  protected add(): void {
    this.form.markAllAsTouched();
    if (this.form.invalid || this.busy()) return;
    const held = this.form.getRawValue();
    this.busy.set(true);
    this.problem.set(null);
    this.api.addAsset(itemOf(held, this.attributes())).subscribe({
      next: (made) => {
        const go = (): void => void this.router.navigate(['/register', made.id]);
        if (held.usual) this.api.oweUsual(made.id).subscribe({ next: go, error: go });
        else go();
      },
      error: (e: unknown) => {
        this.busy.set(false);
        const refused = problemOf(e);
        this.problem.set(refused.message);
        refusedBy(this.form, refused);
      },
    });
  }
}
