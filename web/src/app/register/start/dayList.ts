import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, input, output, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormArray, NonNullableFormBuilder, ReactiveFormsModule, type FormControl, type FormRecord } from '@angular/forms';
import type { AttributeRow, Attributes, ListRow } from '@grellin/core';
import { ButtonModule } from 'primeng/button';
import { AttributeField } from '../entry/attributeField';
import { askedAttribute, attributeControls, saidIn, type HeldAttribute } from '../entry/itemForm';

/** A list of the day: each tank, vaporiser or axle with its figures, as many as there are. It begins with what was told last time. */
@Component({
  selector: 'gr-day-list',
  imports: [ReactiveFormsModule, ButtonModule, AttributeField],
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
      <button pButton type="button" severity="secondary" [disabled]="things().length >= list().most" (click)="add()" i18n>
        Another {{ list().one.toLowerCase() }}
      </button>
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

  constructor() {
    // Begun anew only where something else is asked: what was typed stays while the day goes on.
    effect(() => {
      const rows = this.rows();
      const begins = untracked(this.begins);
      const made = new FormArray(begins.map((known) => attributeControls(this.fields, rows, known)));
      made.valueChanges.pipe(takeUntilDestroyed(this.ends)).subscribe(() => this.tell());
      this.things.set(made);
      untracked(() => this.tell());
    });
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
