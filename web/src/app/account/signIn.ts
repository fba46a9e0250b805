import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { type AbstractControl, NonNullableFormBuilder, ReactiveFormsModule, Validators } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { catchError, of } from 'rxjs';
import { Api } from '../api/api';
import { Seal } from '../mark/seal';
import { accountFeature, SignInActions } from './accountStore';

@Component({
  selector: 'gr-sign-in',
  imports: [ReactiveFormsModule, RouterLink, ButtonModule, InputTextModule, Seal],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './signIn.html',
  styleUrl: './signIn.css',
})
export class SignIn {
  private readonly store = inject(Store);
  protected readonly form = inject(NonNullableFormBuilder).group({
    name: ['', (c: AbstractControl) => Validators.required(c)],
    password: ['', (c: AbstractControl) => Validators.required(c)],
  });
  protected readonly waiting = this.store.selectSignal(accountFeature.selectWaiting);
  protected readonly problem = this.store.selectSignal(accountFeature.selectProblem);
  protected readonly health = toSignal(
    inject(Api)
      .health()
      .pipe(catchError(() => of(null))),
    { initialValue: null },
  );

  protected submit(): void {
    this.form.markAllAsTouched();
    if (this.form.valid) this.store.dispatch(SignInActions.submitted(this.form.getRawValue()));
  }
}
