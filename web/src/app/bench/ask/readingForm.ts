import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output, signal, viewChild } from '@angular/core';
import { FormsModule, NgModel } from '@angular/forms';
import type { InstrumentRow } from '@grellin/contract';
import { isFiner, numbersIn, sameDimension, showQuantity, unitLabel, units, type Quantity } from '@grellin/core';
import { InputTextModule } from 'primeng/inputtext';
import { KeypadChoice } from '../../preference/keypadChoice';
import { Keypad } from './keypad';

export interface TypedReading {
  readonly channel: string;
  readonly quantity: Quantity;
}

/** A reading typed by hand, in the unit that the gauge shows. Enter writes it down. */
@Component({
  selector: 'gr-reading-form',
  imports: [FormsModule, InputTextModule, Keypad],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form (ngSubmit)="write()">
      <div class="head">
        <label i18n [attr.for]="'reading-' + channel()">{{ title() }}, read now</label>
        <button type="button" class="plain" [attr.aria-pressed]="pad.on()" (click)="togglePad()"><ng-container i18n>Keypad</ng-container></button>
      </div>
      <div class="row">
        <input
          pInputText
          [id]="'reading-' + channel()"
          name="value"
          [attr.inputmode]="pad.on() ? 'none' : 'decimal'"
          (focus)="open()"
          (click)="open()"
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
    @if (padOpen()) {
      <gr-keypad [text]="text()" [last]="lastKey()" (typed)="typed($event)" (again)="again()" (done)="write()" (closed)="padOpen.set(false)" />
    }
  `,
  styles: `
    label {
      font-size: var(--type-label);
      color: var(--faint);
    }
    .head {
      display: flex;
      justify-content: space-between;
      align-items: baseline;
      gap: var(--space-2);
    }
    .plain {
      min-height: 1.5rem;
      padding: 0 var(--space-2);
      border-color: var(--rule);
      color: var(--faint);
      font-size: var(--type-label);
    }
    .plain[aria-pressed='true'] {
      border-color: var(--ink);
      color: var(--ink);
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
  /** What was typed last for this gauge in the run. */
  readonly last = input<Quantity | null>(null);
  readonly written = output<TypedReading>();
  protected readonly pad = inject(KeypadChoice);
  protected readonly padOpen = signal(false);
  private readonly field = viewChild.required<NgModel>('field');
  protected readonly text = signal('');
  protected readonly wrong = signal<string | null>(null);
  /** What the text can mean, where it is asked: two numbers, or one that is finer than the gauge. */
  protected readonly either = signal<readonly number[]>([]);
  protected readonly doubt = signal('');
  protected readonly unit = linkedSignal(() => this.instrument()?.low.unit ?? 'mbar');
  protected readonly choices = computed(() => units.filter((u) => sameDimension(u.code, this.unit())).map((u) => u.code));

  protected readonly lastKey = computed(() => {
    const last = this.last();
    return last && showQuantity(last);
  });

  protected open(): void {
    if (this.pad.on()) this.padOpen.set(true);
  }

  protected togglePad(): void {
    this.pad.toggle();
    this.padOpen.set(this.pad.on());
  }

  /** The value of last time, with its unit: it stands in the field, and is written down by nobody but the hand. */
  protected again(): void {
    const last = this.last();
    if (!last) return;
    this.unit.set(last.unit);
    this.typed(String(last.value));
  }

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
    this.padOpen.set(false);
    this.written.emit({ channel: this.channel(), quantity: { value, unit: this.unit() } });
    this.text.set('');
    // Typed and ended before the screen was drawn anew, the field would keep what has been taken.
    this.field().control.setValue('', { emitViewToModelChange: false });
  }
}
