import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { newAssetSchema } from '@grellin/contract';
import { assetClass, assetClasses, INSTRUMENT_CLASS, isNeeded, itemField, itemFieldNames, itemFields, usualChecksOf } from '@grellin/core';
import { ButtonModule } from 'primeng/button';
import { CheckboxModule } from 'primeng/checkbox';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { Api, problemOf } from '../../api/api';
import { byContract, refusedBy } from '../../form/byContract';
import { Field } from '../../form/field';
import { AttributeField } from './attributeField';
import { askedAttribute, attributeControls, itemControls, itemOf, type HeldItem } from './itemForm';
import { OddFigures, OddQuestion } from './oddFigures';

/** The fields that are typed; the class and whether it is for practice are chosen. */
const facts = itemFieldNames
  .filter((name) => !['class', 'yesNo'].includes(itemFields[name].kind))
  .map((id) => ({ id, title: itemField(id).title, hint: itemField(id).hint ?? (isNeeded(id) ? null : $localize`nothing where it is not known`) }));

const FIRST_CLASS = 'gas-tight-suit';

/** A new item: who it is, what its class is asked for, and its usual checks at one press. */
@Component({
  selector: 'gr-new-asset',
  imports: [ReactiveFormsModule, RouterLink, ButtonModule, CheckboxModule, InputTextModule, SelectModule, Field, AttributeField, OddQuestion],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './newAsset.html',
})
export class NewAssetScreen {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly fields = inject(NonNullableFormBuilder);
  protected readonly classes = assetClasses.filter((c) => c.id !== INSTRUMENT_CLASS).map(({ id, title }) => ({ id, title }));
  protected readonly facts = facts;
  protected readonly odd = new OddFigures();
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
      this.form.setControl('attributes', attributeControls(this.fields, this.attributes()));
    });
    // What it owes hangs on what it is.
    this.form.valueChanges.pipe(takeUntilDestroyed()).subscribe(() => {
      const item = itemOf(this.form.getRawValue(), this.attributes());
      this.usualCount.set(usualChecksOf(item.class, item.attributes).length);
    });
  }

  private attributesOf(kind: string) {
    return (assetClass(kind)?.attributes ?? []).filter((a) => !a.asked).map(askedAttribute);
  }

  protected add(): void {
    this.form.markAllAsTouched();
    if (this.form.invalid || this.busy()) return;
    const held = this.form.getRawValue();
    const item = itemOf(held, this.attributes());
    if (!this.odd.mayGo(item.class, item.attributes)) return;
    this.busy.set(true);
    this.problem.set(null);
    this.api.addAsset({ ...item, ...this.odd.sure(item.class, item.attributes) }).subscribe({
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
