import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import type { NewAsset } from '@grellin/contract';
import {
  assetClass,
  assetClasses,
  byName,
  INSTRUMENT_CLASS,
  isNeeded,
  itemField,
  itemFieldNames,
  itemFields,
  unitLabel,
  units,
  usualChecksOf,
  type AttributeRow,
  type AttributeValue,
  type ItemFacts,
  type ItemFieldValue,
} from '@grellin/core';
import { Api, problemOf } from '../../api/api';
import { typedNumber } from '../../form/typedNumber';

/** Units of a kind of figure, for a person to choose from. */
const unitsFor = (row: AttributeRow): readonly string[] =>
  row.type.kind === 'quantity' ? units.filter((u) => row.type.kind === 'quantity' && u.dimension === row.type.dimension).map((u) => u.code) : [];

/** The fields that are typed; the class and whether it is for practice are chosen. */
const typedFields = itemFieldNames.filter((name) => !['class', 'yesNo'].includes(itemFields[name].kind));

/** A new item: who it is, what its class is asked for, and its usual checks at one press. */
@Component({
  selector: 'gr-new-asset',
  imports: [FormsModule, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="screen">
      <header class="screen-head">
        <h1 i18n>New item</h1>
        <p i18n class="faint">An instrument has a range and limits of error: <a routerLink="/instruments/new">add it as one</a></p>
      </header>
      <form (ngSubmit)="add()">
        <label i18n for="class">Class</label>
        <select id="class" class="control" name="class" [ngModel]="kind()" (ngModelChange)="kind.set($event)">
          @for (c of classes; track c.id) {
            <option [value]="c.id">{{ c.title }}</option>
          }
        </select>
        @for (f of facts; track f.id) {
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
        @for (a of attributes(); track a.id) {
          <label [attr.for]="'a-' + a.id">{{ a.title }}</label>
          @if (a.type.kind === 'yesNo') {
            <select [id]="'a-' + a.id" class="control" [name]="a.id" [ngModel]="typed()[a.id] ?? ''" (ngModelChange)="say(a.id, $event)">
              <option i18n value="">not known</option>
              <option i18n value="yes">yes</option>
              <option i18n value="no">no</option>
            </select>
          } @else {
            <span class="pair">
              <input
                [id]="'a-' + a.id"
                class="control"
                [name]="a.id"
                [attr.inputmode]="a.type.kind === 'quantity' ? 'decimal' : 'text'"
                [ngModel]="typed()[a.id] ?? ''"
                (ngModelChange)="say(a.id, $event)"
              />
              @if (a.units.length > 1) {
                <select
                  class="control"
                  [name]="a.id + '-unit'"
                  [attr.aria-label]="a.title + ', unit'"
                  [ngModel]="typed()[a.id + ' unit'] ?? a.units[0]"
                  (ngModelChange)="say(a.id + ' unit', $event)"
                >
                  @for (u of a.units; track u) {
                    <option [value]="u">{{ label(u) }}</option>
                  }
                </select>
              }
            </span>
          }
        }
        <span></span>
        <label
          ><input type="checkbox" name="practice" [ngModel]="practice()" (ngModelChange)="practice.set($event)" />
          <ng-container i18n>For practice: simulated runs count for it</ng-container></label
        >
        <span></span>
        <label
          ><input type="checkbox" name="usual" [ngModel]="usual()" (ngModelChange)="usual.set($event)" />
          <ng-container i18n>Let it owe its usual checks ({{ usualTitles() }})</ng-container></label
        >
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
      grid-template-columns: 220px minmax(0, 420px);
      gap: 10px 18px;
      align-items: center;
    }
    .pair {
      display: flex;
      gap: 6px;
    }
    .pair input {
      flex: 1;
      min-width: 0;
    }
    button {
      justify-content: center;
    }
  `,
})
export class NewAssetScreen {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  protected readonly label = unitLabel;
  protected readonly classes = assetClasses.filter((c) => c.id !== INSTRUMENT_CLASS).map(({ id, title }) => ({ id, title }));
  protected readonly facts = typedFields.map((id) => ({ id, title: itemField(id).title, hint: itemField(id).hint ?? '' }));
  protected readonly kind = signal('gas-tight-suit');
  protected readonly typed = signal<Readonly<Record<string, string>>>({});
  protected readonly practice = signal(false);
  protected readonly usual = signal(true);
  protected readonly busy = signal(false);
  protected readonly problem = signal<string | null>(null);
  protected readonly attributes = computed(() =>
    (assetClass(this.kind())?.attributes ?? []).filter((a) => !a.asked).map((a) => ({ ...a, units: unitsFor(a) })),
  );
  protected readonly usualTitles = computed(() => String(usualChecksOf(this.kind()).length));
  protected readonly lacks = computed(() => {
    const missing = typedFields.find((f) => isNeeded(f) && (this.typed()[f] ?? '').trim() === '');
    if (missing !== undefined) return `Say its ${missing}.`;
    const wrong = this.attributes().find(
      (a) => a.type.kind === 'quantity' && (this.typed()[a.id] ?? '') !== '' && typedNumber(this.typed()[a.id] ?? '') === null,
    );
    return wrong ? `${wrong.title}: a number, please.` : null;
  });

  protected say(id: string, text: string): void {
    this.typed.update((t) => ({ ...t, [id]: text }));
  }

  private value(a: AttributeRow & { readonly units: readonly string[] }): AttributeValue | undefined {
    const text = (this.typed()[a.id] ?? '').trim();
    if (text === '') return undefined;
    if (a.type.kind === 'yesNo') return text === 'yes';
    if (a.type.kind === 'words') return text;
    const value = typedNumber(text);
    return value === null ? undefined : { value, unit: this.typed()[`${a.id} unit`] ?? a.units[0] ?? '1' };
  }

  protected add(): void {
    if (this.lacks() !== null) return;
    const said = (id: string): string => (this.typed()[id] ?? '').trim();
    const attributes = Object.fromEntries(this.attributes().flatMap((a) => {
      const value = this.value(a);
      return value === undefined ? [] : [[a.id, value] as const];
    })); // prettier-ignore
    const facts = byName<ItemFacts>(itemFieldNames, (name) => {
      const of: ItemFieldValue = {
        id: said(name),
        words: said(name),
        class: this.kind(),
        yesNo: this.practice(),
        dayOrMonth: said(name) || null,
        duration: said(name) || null,
      };
      return of[itemFields[name].kind] as ItemFacts[typeof name];
    });
    const asset: NewAsset = { ...facts, attributes };
    this.busy.set(true);
    this.problem.set(null);
    this.api.addAsset(asset).subscribe({
      next: (made) => {
        const go = (): void => void this.router.navigate(['/register', made.id]);
        if (this.usual()) this.api.oweUsual(made.id).subscribe({ next: go, error: go });
        else go();
      },
      error: (e: unknown) => {
        this.busy.set(false);
        this.problem.set(
          problemOf(e)
            .flaws?.map((f) => `${f.path}: ${f.message}`)
            .join('; ') ?? problemOf(e).message,
        );
      },
    });
  }
}
