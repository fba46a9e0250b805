import { formatDate } from '@angular/common';
import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { beyondUseSchema, type BeyondUse } from '@grellin/contract';
import { ButtonModule } from 'primeng/button';
import { DatePickerModule } from 'primeng/datepicker';
import { SelectModule } from 'primeng/select';
import { TextareaModule } from 'primeng/textarea';
import { Api } from '../api/api';
import { byContract } from '../form/byContract';
import { Field } from '../form/field';
import { Undo } from '../undo/undo';

interface Held {
  readonly how: string;
  readonly on: Date | null;
  readonly words: string;
}

const asked = (h: Held): unknown => ({ ...h, on: h.on ? formatDate(h.on, 'yyyy-MM-dd', 'en') : '' });

/** The proof that a condemned item was destroyed, or made unable to hold pressure at its owner's direction: who, when, how. */
@Component({
  selector: 'gr-beyond-use',
  imports: [ReactiveFormsModule, ButtonModule, DatePickerModule, SelectModule, TextareaModule, Field],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form [formGroup]="form" (ngSubmit)="keep()">
      <gr-field label="What was done with it" i18n-label for="beyond-how">
        <p-select inputId="beyond-how" formControlName="how" [options]="ways" optionLabel="title" optionValue="id" />
      </gr-field>
      <gr-field label="On" i18n-label for="beyond-on">
        <p-datepicker inputId="beyond-on" formControlName="on" dateFormat="yy-mm-dd" [maxDate]="today" appendTo="body" />
      </gr-field>
      <gr-field label="By whom, and how" i18n-label for="beyond-words">
        <textarea pTextarea id="beyond-words" formControlName="words" rows="3"></textarea>
      </gr-field>
      <p class="line"><button i18n pButton type="submit">Write it down</button></p>
    </form>
  `,
  styleUrl: './wayOut.css',
})
export class BeyondUseForm {
  readonly asset = input.required<string>();
  readonly noted = output();
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  protected readonly today = new Date();
  protected readonly ways = [
    { id: 'destroyed', title: $localize`Destroyed` },
    { id: 'disabled', title: $localize`Made unable to hold pressure, as its owner directed` },
  ];
  protected readonly form = inject(NonNullableFormBuilder).group(
    { how: ['destroyed'], on: [null as Date | null], words: [''] },
    { validators: byContract<BeyondUse, Held>(beyondUseSchema, { request: asked }) },
  );

  protected keep(): void {
    this.form.markAllAsTouched();
    if (this.form.invalid) return;
    this.api.beyondUse(this.asset(), asked(this.form.getRawValue()) as BeyondUse).subscribe({
      next: () => {
        this.undo.done(null, $localize`Written down`, () => undefined);
        this.noted.emit();
      },
      error: (e: unknown) => this.undo.refused(e),
    });
  }
}
