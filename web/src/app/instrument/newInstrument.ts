import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router } from '@angular/router';
import { byName, gaugeFigures, itemField, unitLabel, units, type GaugeFigure, type Quantity } from '@grellin/core';
import { Api, problemOf } from '../api/api';
import { typedNumber } from '../form/typedNumber';

/** What an instrument is asked for in words, and in figures of its own unit. */
const words = (['tag', 'serial', 'title', 'place'] as const).map((id) => ({ id, title: itemField(id).title, hint: itemField(id).hint ?? '' }));
const figures = (Object.keys(gaugeFigures) as GaugeFigure[]).map((id) => ({ id, title: gaugeFigures[id] }));

/** The units by what they measure, pressure first: most gauges are pressure gauges. */
const groups = [...new Set(['pressure', ...units.map((u) => u.dimension)])].map((dimension) => ({
  dimension,
  units: units.filter((u) => u.dimension === dimension).map((u) => u.code),
}));

/** A new instrument: who it is, what it can tell apart, and how long its calibration stands. */
@Component({
  selector: 'gr-new-instrument',
  imports: [FormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="screen">
      <header class="screen-head"><h1 i18n>New instrument</h1></header>
      <form (ngSubmit)="add()">
        @for (f of words; track f.id) {
          <label [attr.for]="f.id">{{ f.title }}</label>
          <input
            [id]="f.id"
            class="control"
            [name]="f.id"
            autocomplete="off"
            [placeholder]="f.hint"
            [ngModel]="typed()[f.id] ?? ''"
            (ngModelChange)="say(f.id, $event)"
          />
        }
        <label i18n for="unit">It reads in</label>
        <select id="unit" class="control" name="unit" [ngModel]="unit()" (ngModelChange)="unit.set($event)">
          @for (g of groups; track g.dimension) {
            <optgroup [label]="g.dimension">
              @for (u of g.units; track u) {
                <option [value]="u">{{ label(u) }}</option>
              }
            </optgroup>
          }
        </select>
        @for (f of figures; track f.id) {
          <label [attr.for]="f.id">{{ f.title }} ({{ label(unit()) }})</label>
          <input
            [id]="f.id"
            class="control"
            [name]="f.id"
            inputmode="decimal"
            autocomplete="off"
            [ngModel]="typed()[f.id] ?? ''"
            (ngModelChange)="say(f.id, $event)"
          />
        }
        <label i18n for="correlation">Errors of near readings alike, 0 to 1</label>
        <input
          id="correlation"
          class="control"
          name="correlation"
          inputmode="decimal"
          placeholder="0 where nobody has shown it"
          i18n-placeholder
          [ngModel]="typed()['correlation'] ?? ''"
          (ngModelChange)="say('correlation', $event)"
        />
        <label i18n for="due">Calibration stands to</label>
        <input id="due" class="control" type="date" name="due" [ngModel]="typed()['due'] ?? ''" (ngModelChange)="say('due', $event)" />
        <label i18n for="address">Sends from (entry/device/input)</label>
        <input
          id="address"
          class="control"
          name="address"
          autocomplete="off"
          placeholder="nothing: it is read by eye"
          i18n-placeholder
          [ngModel]="typed()['address'] ?? ''"
          (ngModelChange)="say('address', $event)"
        />
        <span></span>
        <button i18n class="control main" type="submit" [disabled]="lacks() !== null || busy()">Add it</button>
        @if (lacks(); as l) {
          <span></span>
          <p class="faint">{{ l }}</p>
        }
        @if (problem(); as p) {
          <span></span>
          <p class="problem" role="alert">{{ p }}</p>
        }
      </form>
    </div>
  `,
  styles: `
    form {
      display: grid;
      grid-template-columns: 280px minmax(0, 420px);
      gap: 10px 18px;
      align-items: center;
    }
    button {
      justify-content: center;
    }
  `,
})
export class NewInstrumentScreen {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  protected readonly words = words;
  protected readonly figures = figures;
  protected readonly label = unitLabel;
  protected readonly groups = groups;
  protected readonly unit = signal('mbar');
  protected readonly typed = signal<Readonly<Record<string, string>>>({});
  protected readonly busy = signal(false);
  protected readonly problem = signal<string | null>(null);
  protected readonly lacks = computed(() => {
    const said = this.typed();
    const word = words.find((w) => (said[w.id] ?? '').trim() === '');
    if (word) return `Say its ${word.title.toLowerCase()}.`;
    const figure = figures.find((f) => this.number(f.id) === null);
    if (figure) return `${figure.title}: a number, please.`;
    if ((this.number('high') ?? 0) <= (this.number('low') ?? 0)) return 'Its range must rise.';
    const alike = (said['correlation'] ?? '').trim() === '' ? 0 : this.number('correlation');
    return alike === null || alike < 0 || alike > 1 ? 'How alike its errors are: from 0 to 1.' : null;
  });

  private number(id: string): number | null {
    return typedNumber(this.typed()[id] ?? '');
  }

  protected say(id: string, text: string): void {
    this.typed.update((t) => ({ ...t, [id]: text }));
  }

  protected add(): void {
    if (this.lacks() !== null) return;
    const said = (id: string): string => (this.typed()[id] ?? '').trim();
    const q = (id: string): Quantity => ({ value: this.number(id) ?? 0, unit: this.unit() });
    this.busy.set(true);
    this.problem.set(null);
    this.api
      .addInstrument({
        tag: said('tag'),
        serial: said('serial'),
        title: said('title'),
        place: said('place'),
        fittedTo: null,
        ...byName<Record<GaugeFigure, Quantity>>(
          figures.map((f) => f.id),
          q,
        ),
        correlation: this.number('correlation') ?? 0,
        calibrationDue: said('due') || null,
        address: said('address') || null,
        rig: null,
      })
      .subscribe({
        next: (made) => void this.router.navigate(['/instruments', made.id]),
        error: (e: unknown) => {
          this.busy.set(false);
          const { message, flaws } = problemOf(e);
          this.problem.set(flaws?.map((f) => `${f.path}: ${f.message}`).join('; ') ?? message);
        },
      });
  }
}
