import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, input, output, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormArray, FormControl, NonNullableFormBuilder, ReactiveFormsModule, type FormRecord } from '@angular/forms';
import { pastedThings, type AttributeRow, type Attributes, type ListRow, type Pasted } from '@grellin/core';
import { ButtonModule } from 'primeng/button';
import { TextareaModule } from 'primeng/textarea';
import { AttributeField } from '../entry/attributeField';
import { askedAttribute, attributeControls, saidIn, type HeldAttribute } from '../entry/itemForm';

/** A list of the day: each tank, vaporiser or axle with its figures, as many as there are. It begins with what was told last time. */
@Component({
  selector: 'gr-day-list',
  imports: [ReactiveFormsModule, ButtonModule, TextareaModule, AttributeField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section [attr.aria-label]="list().title">
      <h3>{{ list().title }}</h3>
      @for (thing of things().controls; track thing; let k = $index) {
        <fieldset [formGroup]="thing">
          <legend>{{ list().one }} {{ k + 1 }}</legend>
          @for (r of rows(); track r.id) {
            <gr-attribute [row]="r" [control]="thing.controls[r.id]!" [within]="name() + '-' + (k + 1) + '-'" />
          }
          @if (things().length > 1) {
            <button pButton type="button" severity="secondary" (click)="drop(k)" [attr.aria-label]="leaveOut + ': ' + list().one + ' ' + (k + 1)">
              {{ leaveOut }}
            </button>
          }
        </fieldset>
      }
      <div class="more">
        <button pButton type="button" severity="secondary" [disabled]="things().length >= list().most" (click)="add()" i18n>
          Another {{ list().one.toLowerCase() }}
        </button>
        <button pButton type="button" severity="secondary" [attr.aria-expanded]="pasting()" (click)="pasting.set(!pasting())" i18n>Paste a printout</button>
      </div>
      @if (pasting()) {
        <label [attr.for]="name() + '-printout'" i18n>The printout, as it is: a table with headings, or a line a figure</label>
        <textarea pTextarea [id]="name() + '-printout'" rows="6" [formControl]="printout"></textarea>
        <button pButton type="button" severity="secondary" [disabled]="printout.value.trim() === ''" (click)="paste()" i18n>Put it into the fields</button>
      }
      @if (read(); as r) {
        <p role="status" [class.problem]="r.things.length === 0" i18n>{{ r.things.length }} read. Look at every figure before it counts.</p>
        @if (r.unread.length > 0) {
          <p class="faint small"><ng-container i18n>Not read:</ng-container> {{ r.unread.join(' · ') }}</p>
        }
      }
    </section>
  `,
  styles: `
    h3 {
      margin-block: var(--space-4) var(--space-2);
    }
    fieldset {
      border: var(--line) solid var(--rule);
      margin-bottom: var(--space-3);
      padding: var(--space-3);
      min-width: 0;
    }
    button {
      min-height: var(--touch);
    }
    .more {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
    }
    label {
      display: block;
      margin-top: var(--space-3);
    }
    textarea {
      width: 100%;
      font-family: var(--text);
    }
  `,
})
export class DayList {
  /** The list by its name in the document, as it is told, and what is asked of each thing of it. */
  readonly name = input.required<string>();
  readonly list = input.required<ListRow>();
  readonly asked = input.required<readonly AttributeRow[]>();
  /** What it begins with: what was told last time, or as many things as the item is known to have. */
  readonly begins = input.required<readonly Attributes[]>();
  /** What is told now. */
  readonly told = output<readonly Attributes[]>();

  private readonly fields = inject(NonNullableFormBuilder);
  private readonly ends = inject(DestroyRef);
  protected readonly leaveOut = $localize`Leave out`;
  protected readonly rows = computed(() => this.asked().map(askedAttribute));
  protected readonly things = signal(new FormArray<FormRecord<FormControl<HeldAttribute>>>([]));

  protected readonly pasting = signal(false);
  protected readonly printout = new FormControl('', { nonNullable: true });
  /** What the last printout gave, and which lines of it said nothing that is asked. */
  protected readonly read = signal<Pasted | null>(null);

  constructor() {
    // Begun anew only where something else is asked: what was typed stays while the day goes on.
    effect(() => {
      const rows = this.rows();
      const begins = untracked(this.begins);
      untracked(() => this.begin(begins, rows));
    });
  }

  private begin(begins: readonly Attributes[], rows = this.rows()): void {
    const made = new FormArray(begins.map((known) => attributeControls(this.fields, rows, known)));
    made.valueChanges.pipe(takeUntilDestroyed(this.ends)).subscribe(() => this.tell());
    this.things.set(made);
    this.tell();
  }

  /** What a printout says takes the place of what stands there; where nothing of it could be read, everything stays. */
  protected paste(): void {
    const found = pastedThings(this.printout.value, this.rows());
    this.read.set(found);
    if (found.things.length === 0) return;
    this.begin(found.things.slice(0, this.list().most));
    this.pasting.set(false);
    this.printout.reset();
  }

  protected add(): void {
    this.things().push(attributeControls(this.fields, this.rows()));
  }

  protected drop(k: number): void {
    this.things().removeAt(k);
  }

  private tell(): void {
    this.told.emit(this.things().controls.map((thing) => saidIn(thing.getRawValue(), this.rows())));
  }
}
