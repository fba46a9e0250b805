import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { calculate, calculations, convert, sameDimension, showQuantity, unitLabel, units, type CalculationInput, type Quantity } from '@grellin/core';
import { typedNumber } from '../form/typedNumber';

interface Field {
  readonly text: string;
  readonly unit: string;
}

const asField = (q: Quantity): Field => ({ text: String(q.value), unit: q.unit });

/** The sums of the trade, each with its formula: a quantity in every unit, and what follows from what. Worked out while it is typed. */
@Component({
  selector: 'gr-calculator',
  imports: [FormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <nav aria-label="Calculations" i18n-aria-label>
      <button i18n type="button" [attr.aria-pressed]="chosen() === 'units'" (click)="chosen.set('units')">Units</button>
      @for (c of all; track c.id) {
        <button type="button" [attr.aria-pressed]="chosen() === c.id" (click)="chosen.set(c.id)">{{ c.title }}</button>
      }
    </nav>
    @if (calculation(); as c) {
      <section [attr.aria-label]="c.title">
        <h2>{{ c.title }}</h2>
        @for (i of c.inputs; track i.id) {
          <label [attr.for]="'calc-' + i.id">{{ i.title }}</label>
          <div class="pair">
            <input
              [id]="'calc-' + i.id"
              [name]="i.id"
              inputmode="decimal"
              autocomplete="off"
              [ngModel]="fields()[i.id]?.text"
              (ngModelChange)="say(i.id, $event)"
            />
            <select [name]="i.id + '-unit'" [attr.aria-label]="'Unit of ' + i.title" [ngModel]="fields()[i.id]?.unit" (ngModelChange)="sayUnit(i.id, $event)">
              @for (u of unitsOf(i); track u) {
                <option [value]="u">{{ label(u) }}</option>
              }
            </select>
          </div>
        }
        <div class="results" aria-live="polite">
          @if (outcome(); as o) {
            @if (o.ok) {
              <dl>
                @for (r of o.results; track r.title) {
                  <dt>{{ r.title }}</dt>
                  <dd>{{ show(r.value) }}</dd>
                }
              </dl>
            } @else {
              <p class="why" role="alert">{{ o.why }}</p>
            }
          }
        </div>
        <p class="formula">{{ c.formula }}</p>
        <p i18n class="faint">{{ c.note }} Source: {{ c.source }}.</p>
        @if (noting() && outcome()?.ok) {
          <button i18n type="button" class="note" (click)="note.emit(inWords())">Put it into a note of this run</button>
        }
      </section>
    } @else {
      <section aria-label="Units" i18n-aria-label>
        <h2 i18n>Units</h2>
        <label i18n for="calc-value">A quantity</label>
        <div class="pair">
          <input
            id="calc-value"
            name="value"
            inputmode="decimal"
            autocomplete="off"
            [ngModel]="value().text"
            (ngModelChange)="value.set({ text: $event, unit: value().unit })"
          />
          <select name="unit" aria-label="Unit" i18n-aria-label [ngModel]="value().unit" (ngModelChange)="value.set({ text: value().text, unit: $event })">
            @for (u of allUnits; track u) {
              <option [value]="u">{{ label(u) }}</option>
            }
          </select>
        </div>
        <dl aria-live="polite">
          @for (o of others(); track o.unit) {
            <dt>{{ o.unit }}</dt>
            <dd>{{ o.shown }}</dd>
          }
        </dl>
        <p i18n class="faint">
          A column of water is one of water at 4 °C, one of mercury at 0 °C, both under 9.80665 m/s². Another fluid stands at another height.
        </p>
      </section>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 15rem minmax(0, 32.5rem);
      gap: var(--space-6);
    }
    :host(.narrow) {
      grid-template-columns: 1fr;
      gap: var(--space-4);
    }
    nav {
      display: flex;
      flex-direction: column;
      gap: var(--space-1);
    }
    :host(.narrow) nav {
      flex-flow: row wrap;
    }
    @media (width < 56rem) {
      :host {
        grid-template-columns: minmax(0, 1fr);
      }
      nav {
        flex-flow: row wrap;
      }
    }
    button {
      font: 500 var(--type-body) var(--text);
      min-height: var(--touch);
      text-align: left;
      padding: 0 var(--space-4);
      border: var(--line) solid var(--rule);
      border-radius: var(--radius);
      background: var(--panel);
      color: var(--ink);
    }
    button[aria-pressed='true'] {
      background: var(--ink);
      color: var(--panel);
    }
    label {
      display: block;
      margin-top: var(--space-3);
      font-weight: 600;
    }
    .pair {
      display: flex;
      gap: var(--space-2);
    }
    .pair input,
    .pair select {
      font: 700 var(--type-lead) var(--figures);
      min-height: 3rem;
      border: var(--line) solid var(--faint);
      border-radius: var(--radius);
      background: var(--panel);
      color: var(--ink);
      padding: 0 var(--space-3);
      min-width: 0;
    }
    .pair input {
      flex: 1;
    }
    .pair select {
      font: 500 var(--type-body) var(--text);
    }
    dl {
      display: grid;
      grid-template-columns: 1fr auto;
      gap: var(--space-1) var(--space-4);
      margin: var(--space-4) 0;
      align-items: baseline;
    }
    dt {
      color: var(--faint);
    }
    dd {
      margin: 0;
      text-align: right;
      font: 700 var(--type-figure) var(--figures);
    }
    .formula {
      font: 400 var(--type-lead) var(--text);
      border-left: var(--space-1) solid var(--accent);
      padding-left: var(--space-3);
      margin: var(--space-4) 0 var(--space-2);
    }
    .why {
      color: var(--leaks);
      font-weight: 600;
    }
    .note {
      margin-top: var(--space-3);
      border-color: var(--accent);
      color: var(--accent);
      font-weight: 600;
    }
  `,
  host: { '[class.narrow]': 'noting()' },
})
export class Calculator {
  /** Beside a run: its result can be put into a note of it. */
  readonly noting = input(false);
  readonly note = output<string>();
  protected readonly all = calculations;
  protected readonly allUnits = units.map((u) => u.code);
  protected readonly chosen = signal('units');
  protected readonly calculation = computed(() => calculations.find((c) => c.id === this.chosen()));
  protected readonly fields = linkedSignal<Readonly<Record<string, Field>>>(() =>
    Object.fromEntries((this.calculation()?.inputs ?? []).map((i) => [i.id, asField(i.first)])),
  );
  protected readonly outcome = computed(() => {
    const c = this.calculation();
    if (!c) return null;
    const given = Object.entries(this.fields()).flatMap(([id, { text, unit }]): (readonly [string, Quantity])[] => {
      const value = typedNumber(text);
      return value === null ? [] : [[id, { value, unit }]];
    });
    return calculate(c, Object.fromEntries(given));
  });
  protected readonly value = signal<Field>({ text: '1', unit: 'mbar' });
  protected readonly others = computed(() => {
    const { text, unit } = this.value();
    const value = typedNumber(text);
    if (value === null) return [];
    return units
      .filter((u) => u.code !== unit && sameDimension(u.code, unit))
      .map((u) => ({ unit: unitLabel(u.code), shown: String(Number(convert({ value, unit }, u.code).value.toPrecision(7))) }));
  });

  protected label(unit: string): string {
    return unitLabel(unit);
  }

  protected show(q: Quantity): string {
    return showQuantity(q);
  }

  protected unitsOf(i: CalculationInput): readonly string[] {
    return units.filter((u) => sameDimension(u.code, i.first.unit)).map((u) => u.code);
  }

  protected say(id: string, text: string): void {
    this.fields.update((f) => ({ ...f, [id]: { text, unit: f[id]?.unit ?? '' } }));
  }

  protected sayUnit(id: string, unit: string): void {
    this.fields.update((f) => ({ ...f, [id]: { text: f[id]?.text ?? '', unit } }));
  }

  /** What went in, by which formula, and what came out: whoever reads the note can work it again. */
  protected inWords(): string {
    const c = this.calculation();
    const o = this.outcome();
    if (!c || !o?.ok) return '';
    const given = c.inputs.map((i) => `${i.title.toLowerCase()} ${this.fields()[i.id]?.text ?? ''} ${unitLabel(this.fields()[i.id]?.unit ?? '')}`).join(', ');
    return `${c.title}: ${given}; ${c.formula}; ${o.results.map((r) => `${r.title.toLowerCase()} ${showQuantity(r.value)}`).join(', ')}`;
  }
}
