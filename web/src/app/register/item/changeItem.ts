import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output } from '@angular/core';
import { type FormControl, NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { assetChangeSchema, type AssetChange, type AssetRow } from '@grellin/contract';
import { assetClass, byName, intervalIn, itemField, itemFieldNames, itemFields, type ItemFieldName } from '@grellin/core';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { Api } from '../../api/api';
import { byContract } from '../../form/byContract';
import { Field } from '../../form/field';
import { Undo } from '../../undo/undo';
import { AttributeField } from '../entry/attributeField';
import { spanInWords } from '../owe/everyInWords';
import { askedAttribute, attributeControls, saidIn, type HeldAttribute } from '../entry/itemForm';
import { OddFigures, OddQuestion } from '../entry/oddFigures';

/** The fields of an item that can be changed and are typed. */
const typed = itemFieldNames
  .filter((name): name is Typed => itemFields[name].changes !== 'never' && itemFields[name].kind !== 'yesNo')
  .map((id) => ({ id, title: itemField(id).title, hint: itemField(id).hint ?? null }));

type Typed = 'serial' | 'title' | 'place' | 'madeOn' | 'life';
type Held = Readonly<Record<Typed, string>> & { readonly attributes: Readonly<Record<string, HeldAttribute>> };

/** Everything that is known of an item, to be changed: each change is kept with who made it, and can be taken back. Its records keep what was known then. */
@Component({
  selector: 'gr-change-item',
  imports: [ReactiveFormsModule, ButtonModule, InputTextModule, Field, AttributeField, OddQuestion],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form [formGroup]="form()" (ngSubmit)="keep()">
      @for (f of typed; track f.id) {
        <gr-field [label]="f.title" [for]="'f-' + f.id" [hint]="f.hint">
          <input pInputText [id]="'f-' + f.id" [formControlName]="f.id" autocomplete="off" />
        </gr-field>
      }
      @for (a of attributes(); track a.id) {
        <gr-attribute [row]="a" [control]="form().controls.attributes.controls[a.id]!" />
      }
      <gr-odd-figures class="whole" [odd]="odd" (said)="keep()" />
      <p class="whole acts">
        <button i18n pButton type="submit">Keep the change</button>
        <button i18n pButton type="button" severity="secondary" (click)="left.emit()">Leave it</button>
      </p>
    </form>
  `,
  styles: `
    form {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(15rem, 1fr));
      gap: 0 var(--space-4);
      padding-block: var(--space-4);
    }
    .whole {
      grid-column: 1 / -1;
    }
    .acts {
      display: flex;
      gap: var(--space-3);
      margin: 0;
    }
  `,
})
export class ChangeItem {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly fields = inject(NonNullableFormBuilder);
  readonly asset = input.required<AssetRow>();
  /** It has been changed, or the change was taken back. */
  readonly changed = output();
  /** Nothing is to be changed, or nothing more. */
  readonly left = output();
  protected readonly typed = typed;
  protected readonly odd = new OddFigures();
  protected readonly attributes = computed(() => (assetClass(this.asset().class)?.attributes ?? []).filter((a) => !a.asked).map(askedAttribute));
  protected readonly form = linkedSignal(() => this.formOf(this.asset()));

  private formOf(asset: AssetRow) {
    const facts = byName<Record<Typed, FormControl<string>>>(
      typed.map(({ id }) => id),
      (name) => this.fields.control(this.textOf(asset, name)),
    );
    return this.fields.group(
      { ...facts, attributes: attributeControls(this.fields, this.attributes(), asset.attributes) },
      { validators: byContract(assetChangeSchema, { request: (held: Held) => this.changeOf(held) }) },
    );
  }

  private textOf(asset: AssetRow, name: ItemFieldName): string {
    const is = asset[name];
    if (typeof is !== 'string') return '';
    return itemFields[name].kind === 'duration' ? spanInWords(is) : is;
  }

  /** What is asked of the server: what has no way to be unknown stays a text, the rest is unknown where it is empty. */
  private changeOf(held: Held): AssetChange {
    const facts = Object.fromEntries(
      typed.map(({ id }) => {
        const text = held[id].trim();
        const { kind } = itemFields[id];
        return [id, text === '' && ['dayOrMonth', 'duration'].includes(kind) ? null : kind === 'duration' ? intervalIn(text) : text];
      }),
    );
    const rows = this.attributes();
    // What the form does not show stays as it is.
    const kept = Object.fromEntries(Object.entries(this.asset().attributes).filter(([name]) => !rows.some((r) => r.id === name)));
    return { revision: this.asset().revision, ...facts, attributes: { ...kept, ...saidIn(held.attributes, rows) } };
  }

  protected keep(): void {
    const form = this.form();
    form.markAllAsTouched();
    if (form.invalid) return;
    const asset = this.asset();
    const change = this.changeOf(form.getRawValue());
    const said = change.attributes ?? {};
    if (!this.odd.mayGo(asset.class, said)) return;
    this.undo.do(
      this.api.changeAsset(asset.id, { ...change, ...this.odd.sure(asset.class, said) }),
      () => {
        this.left.emit();
        return $localize`${asset.tag}:tag: changed`;
      },
      () => this.changed.emit(),
    );
  }
}
