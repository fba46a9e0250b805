import { ChangeDetectionStrategy, Component, computed, inject, output, signal, viewChild } from '@angular/core';
import { type AbstractControl, NonNullableFormBuilder, ReactiveFormsModule, type ValidationErrors, Validators } from '@angular/forms';
import { MOST_ALONG, type Problem } from '@grellin/contract';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { problemOf } from '../api/api';
import { Field } from '../form/field';
import { ItemPicker } from '../pick/itemPicker';
import { Away } from './away';
import { SHORTEST_PIN } from './vault';

const alike = (form: AbstractControl): ValidationErrors | null => {
  const { pin, again } = form.getRawValue() as { pin: string; again: string };
  return pin === again ? null : { alike: true };
};

/** Chooses items by place, kit, what falls due this week, or by scanning them, and takes them along under a PIN. */
@Component({
  selector: 'gr-take-form',
  imports: [ReactiveFormsModule, ButtonModule, InputTextModule, SelectModule, Field, ItemPicker],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <gr-item-picker [most]="most" [(chosen)]="chosen" (asked)="problem.set(null)" />
    @if (chosen().length > 0 || problem()) {
      <form [formGroup]="form" (ngSubmit)="take()">
        <gr-field label="For" i18n-label for="hours">
          <p-select inputId="hours" formControlName="hours" [options]="spans" optionLabel="words" optionValue="hours" />
        </gr-field>
        <gr-field label="PIN" i18n-label for="pin" [hint]="pinHint">
          <input pInputText id="pin" type="password" inputmode="numeric" autocomplete="new-password" formControlName="pin" />
        </gr-field>
        <gr-field label="The PIN again" i18n-label for="again">
          <input pInputText id="again" type="password" inputmode="numeric" autocomplete="new-password" formControlName="again" />
        </gr-field>
        @if (form.hasError('alike') && form.controls.again.touched) {
          <p i18n class="problem" role="alert">The two are not the same.</p>
        }
        @if (problem(); as p) {
          <p class="problem" role="alert">{{ p.message }}</p>
        }
        <button pButton type="submit" [disabled]="waiting() || count() === 0">{{ label() }}</button>
      </form>
    }
  `,
  styles: `
    form {
      max-width: 24rem;
      margin-bottom: var(--space-5);
    }
  `,
})
export class TakeForm {
  private readonly away = inject(Away);
  readonly taken = output<string>();
  private readonly picker = viewChild.required(ItemPicker);
  protected readonly most = MOST_ALONG;
  private readonly forms = inject(NonNullableFormBuilder);
  /** Ids of the items that are ticked. */
  protected readonly chosen = signal<readonly string[]>([]);
  protected readonly count = computed(() => this.chosen().length);
  protected readonly waiting = signal(false);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly pinHint = $localize`Digits or letters, ${SHORTEST_PIN}:least: at least: it opens what lies on this device, and nobody can tell you what it was.`;
  protected readonly spans = [4, 8, 12, 24, 48, 72].map((hours) => ({ hours, words: $localize`${hours}:hours: hours` }));
  protected readonly form = this.forms.group(
    {
      hours: [12, (c: AbstractControl) => Validators.required(c)],
      pin: ['', [(c: AbstractControl) => Validators.required(c), Validators.minLength(SHORTEST_PIN)]],
      again: ['', (c: AbstractControl) => Validators.required(c)],
    },
    { validators: alike },
  );
  protected readonly label = computed(() => {
    const n = this.count();
    return this.waiting() ? $localize`Taking along…` : n === 1 ? $localize`Take 1 item along` : $localize`Take ${n}:count: items along`;
  });

  protected async take(): Promise<void> {
    this.form.markAllAsTouched();
    if (!this.form.valid) return;
    this.waiting.set(true);
    this.problem.set(null);
    const { hours, pin } = this.form.getRawValue();
    try {
      await this.away.take({ assets: [...this.chosen()], hours }, pin);
      this.picker().clear();
      this.taken.emit(pin);
    } catch (error) {
      this.problem.set(problemOf(error));
    }
    this.form.controls.pin.reset();
    this.form.controls.again.reset();
    this.waiting.set(false);
  }
}
