import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { InstrumentRow } from '@grellin/contract';
import { sameDimension, unitLabel, units, type Quantity } from '@grellin/core';
import { InputTextModule } from 'primeng/inputtext';
import { typedNumber } from '../../form/typedNumber';

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
          [ngModel]="text()"
          (ngModelChange)="text.set($event)"
          [attr.aria-invalid]="wrong()"
        />
        <select name="unit" aria-label="Unit" i18n-aria-label [ngModel]="unit()" (ngModelChange)="unit.set($event)">
          @for (u of choices(); track u) {
            <option [value]="u">{{ label(u) }}</option>
          }
        </select>
        <button i18n type="submit">Write it down</button>
      </div>
      @if (wrong()) {
        <p i18n role="alert">A number, please, such as 4.02</p>
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
  protected readonly text = signal('');
  protected readonly wrong = signal(false);
  protected readonly unit = linkedSignal(() => this.instrument()?.low.unit ?? 'mbar');
  protected readonly choices = computed(() => units.filter((u) => sameDimension(u.code, this.unit())).map((u) => u.code));

  protected label(code: string): string {
    return unitLabel(code);
  }

  protected write(): void {
    const value = typedNumber(this.text());
    this.wrong.set(value === null);
    if (value === null) return;
    this.written.emit({ channel: this.channel(), quantity: { value, unit: this.unit() } });
    this.text.set('');
  }
}
