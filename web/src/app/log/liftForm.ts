import { ChangeDetectionStrategy, Component, inject, input, output, signal } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { liftSchema } from '@grellin/contract';
import { ButtonModule } from 'primeng/button';
import { TextareaModule } from 'primeng/textarea';
import { Api } from '../api/api';
import { byContract } from '../form/byContract';
import { Field } from '../form/field';
import { Undo } from '../undo/undo';

/** An officer's word that an item which a test without a result holds back may be used all the same, with the reason. */
@Component({
  selector: 'gr-lift-form',
  imports: [ReactiveFormsModule, ButtonModule, TextareaModule, Field],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (open()) {
      <form [formGroup]="form" (ngSubmit)="lift()">
        <gr-field
          label="Why it may be used all the same"
          i18n-label
          for="lift-reason"
          hint="It stands on the record and on its certificate, with your name, and cannot be taken back."
          i18n-hint
        >
          <textarea pTextarea id="lift-reason" formControlName="reason" rows="3"></textarea>
        </gr-field>
        <p class="line">
          <button i18n pButton type="submit" severity="danger">Lift it, on my word</button>
          <button i18n pButton type="button" severity="secondary" (click)="open.set(false)">Leave it held back</button>
        </p>
      </form>
    } @else {
      <button i18n pButton type="button" severity="secondary" (click)="open.set(true)">Lift it without a test…</button>
    }
  `,
  styleUrl: './wayOut.css',
})
export class LiftForm {
  readonly record = input.required<string>();
  readonly lifted = output();
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  protected readonly open = signal(false);
  protected readonly form = inject(NonNullableFormBuilder).group({ reason: [''] }, { validators: byContract(liftSchema) });

  protected lift(): void {
    this.form.markAllAsTouched();
    if (this.form.invalid) return;
    this.api.liftHold(this.record(), this.form.getRawValue()).subscribe({
      next: () => {
        this.undo.done(null, $localize`Lifted; it stands on the record`, () => undefined);
        this.lifted.emit();
      },
      error: (e: unknown) => this.undo.refused(e),
    });
  }
}
