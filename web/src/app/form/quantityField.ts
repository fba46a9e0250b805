import { ChangeDetectionStrategy, Component, computed, forwardRef, input, signal } from '@angular/core';
import { FormsModule, NG_VALUE_ACCESSOR, type AbstractControl, type ControlValueAccessor, type ValidationErrors } from '@angular/forms';
import { unitLabel, type Quantity } from '@grellin/core';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { notOneNumber, typedNumber } from './typedNumber';

/** A figure as it is being typed: the text stays as it was written until it is a number. */
export interface TypedQuantity {
  readonly text: string;
  readonly unit: string;
}

/** @returns the quantity; null where nothing was typed, or no number */
export function quantityOf({ text, unit }: TypedQuantity): Quantity | null {
  const value = typedNumber(text);
  return value === null ? null : { value, unit };
}

/** Something was typed that is no number, or could be two. */
export function isNumber(control: AbstractControl<TypedQuantity>): ValidationErrors | null {
  const words = control.value.text.trim() === '' ? null : notOneNumber(control.value.text);
  return words === null ? null : { words };
}

/** A figure and its unit, chosen where there is a choice. */
@Component({
  selector: 'gr-quantity',
  imports: [FormsModule, InputTextModule, SelectModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  providers: [{ provide: NG_VALUE_ACCESSOR, useExisting: forwardRef(() => QuantityField), multi: true }],
  template: `
    <input
      pInputText
      [id]="inputId()"
      inputmode="decimal"
      autocomplete="off"
      [disabled]="off()"
      [value]="held().text"
      (input)="say({ text: $any($event.target).value })"
      (blur)="left()"
    />
    @if (choices().length > 1) {
      <p-select
        [options]="choices()"
        optionLabel="label"
        optionValue="unit"
        [disabled]="off()"
        [ngModel]="held().unit"
        (ngModelChange)="say({ unit: $event })"
        [ariaLabel]="unitName()"
      />
    } @else if (choices()[0]; as only) {
      <span class="faint">{{ only.label }}</span>
    }
  `,
  styles: `
    :host {
      display: flex;
      gap: var(--space-2);
      align-items: center;
    }
    input {
      flex: 1;
      width: 0;
      min-width: 4rem;
    }
  `,
})
export class QuantityField implements ControlValueAccessor {
  readonly inputId = input.required<string>();
  readonly name = input.required<string>();
  /** UCUM codes, the usual one first. */
  readonly units = input.required<readonly string[]>();
  protected readonly choices = computed(() => this.units().map((unit) => ({ unit, label: unitLabel(unit) })));
  protected readonly unitName = computed(() => $localize`${this.name()}:NAME:, unit`);
  protected readonly held = signal<TypedQuantity>({ text: '', unit: '1' });
  protected readonly off = signal(false);
  private changed: (value: TypedQuantity) => void = () => undefined;
  protected left: () => void = () => undefined;

  writeValue(value: TypedQuantity): void {
    this.held.set(value);
  }

  registerOnChange(changed: (value: TypedQuantity) => void): void {
    this.changed = changed;
  }

  registerOnTouched(left: () => void): void {
    this.left = left;
  }

  setDisabledState(off: boolean): void {
    this.off.set(off);
  }

  protected say(part: Partial<TypedQuantity>): void {
    this.held.update((held) => ({ ...held, ...part }));
    this.changed(this.held());
  }
}
