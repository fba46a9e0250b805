import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output, signal, viewChild } from '@angular/core';
import { FormsModule, NgModel } from '@angular/forms';
import type { InstrumentRow } from '@grellin/contract';
import { isFiner, numbersIn, sameDimension, showQuantity, unitLabel, units, type Quantity } from '@grellin/core';
import { InputTextModule } from 'primeng/inputtext';

export interface TypedReading {
  readonly channel: string;
  readonly quantity: Quantity;
}

/** A reading typed by hand, in the unit that the gauge shows. Enter writes it down. */
@Component({
  selector: 'gr-reading-form',
  imports: [FormsModule, InputTextModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form (ngSubmit)="write()">
      <label i18n [attr.for]="'reading-' + channel()">{{ title() }}, read now</label>
      <div class="row">
        <input
          pInputText
          [id]="'reading-' + channel()"
          name="value"
          inputmode="decimal"
          autocomplete="off"
          #field="ngModel"
          [ngModel]="text()"
          (ngModelChange)="typed($event)"
          [attr.aria-invalid]="wrong() !== null"
        />
        <select name="unit" aria-label="Unit" i18n-aria-label [ngModel]="unit()" (ngModelChange)="unit.set($event)">
          @for (u of choices(); track u) {
            <option [value]="u">{{ label(u) }}</option>
          }
        </select>
        <button i18n type="submit">Write it down</button>
      </div>
      @if (wrong(); as words) {
        <p role="alert">{{ words }}</p>
      }
      @if (either().length > 0) {
        <div role="alert" class="either">
          <p>{{ doubt() }}</p>
          @for (value of either(); track value) {
            <button type="button" (click)="take(value)">{{ shown(value) }}</button>
          }
        </div>
      }
    </form>
  `,
  styles: `
    label {
      font-size: var(--type-label);
      color: var(--faint);
    }
    .row {
      display: flex;
      gap: var(--space-2);
    }
    input {
      width: 100%;
      min-width: 0;
      min-height: 3rem;
      font: 700 var(--type-figure) var(--figures);
    }
    select,
    button {
      min-height: 3rem;
      font: 600 var(--type-body) var(--text);
      border: var(--line) solid var(--faint);
      border-radius: var(--radius);
      background: var(--panel);
      color: var(--ink);
      padding: 0 var(--space-3);
    }
    button {
      border-color: var(--accent);
      color: var(--accent);
      white-space: nowrap;
    }
    .either {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
    }
    .either p {
      flex-basis: 100%;
    }
    p {
      color: var(--leaks);
      font-size: var(--type-label);
    }
  `,
})
export class ReadingForm {
  readonly channel = input.required<string>();
  readonly title = input.required<string>();
  readonly instrument = input.required<InstrumentRow | undefined>();
  readonly written = output<TypedReading>();
  private readonly field = viewChild.required<NgModel>('field');
  protected readonly text = signal('');
  protected readonly wrong = signal<string | null>(null);
  /** What the text can mean, where it is asked: two numbers, or one that is finer than the gauge. */
  protected readonly either = signal<readonly number[]>([]);
  protected readonly doubt = signal('');
  protected readonly unit = linkedSignal(() => this.instrument()?.low.unit ?? 'mbar');
  protected readonly choices = computed(() => units.filter((u) => sameDimension(u.code, this.unit())).map((u) => u.code));

  protected label(code: string): string {
    return unitLabel(code);
  }

  protected write(): void {
    const numbers = numbersIn(this.text());
    const [value] = numbers;
    this.wrong.set(value === undefined ? $localize`must be a number, such as 4.02` : null);
    this.either.set([]);
    if (value === undefined) return;
    const step = this.instrument()?.resolution;
    if (numbers.length > 1) {
      this.doubt.set($localize`That could mean two numbers. Which does the gauge show?`);
      this.either.set(numbers);
    } else if (step && isFiner({ value, unit: this.unit() }, step)) {
      this.doubt.set($localize`This gauge shows steps of ${showQuantity(step)}:STEP:, and that is finer. Is it as you read it?`);
      this.either.set(numbers);
    } else this.take(value);
  }

  protected typed(text: string): void {
    this.text.set(text);
    this.either.set([]);
  }

  protected shown(value: number): string {
    return showQuantity({ value, unit: this.unit() });
  }

  protected take(value: number): void {
    this.either.set([]);
    this.written.emit({ channel: this.channel(), quantity: { value, unit: this.unit() } });
    this.text.set('');
    // Typed and ended before the screen was drawn anew, the field would keep what has been taken.
    this.field().control.setValue('', { emitViewToModelChange: false });
  }
}
