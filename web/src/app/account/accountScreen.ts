import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule, type AbstractControl } from '@angular/forms';
import { Router } from '@angular/router';
import { passwordChangeSchema, type Problem, type SessionRow } from '@grellin/contract';
import { Store } from '@ngrx/store';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { TableModule } from 'primeng/table';
import { Api, problemOf } from '../api/api';
import { Loader } from '../api/loader';
import { byContract, flawOf } from '../form/byContract';
import { Field } from '../form/field';
import { Undo } from '../undo/undo';
import { AccountActions, accountFeature } from './accountStore';
import { StationDay } from './stationDay';

const repeated = (form: AbstractControl) => {
  const { password, again } = form.value as { password: string; again: string };
  return again === '' || password === again ? null : { repeated: true };
};

/** One's own account: the password, and where one is signed in. */
@Component({
  selector: 'gr-account-screen',
  imports: [ReactiveFormsModule, ButtonModule, InputTextModule, TableModule, Field],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './accountScreen.html',
  styleUrl: './accountScreen.css',
})
export class AccountScreen {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  private readonly router = inject(Router);
  private readonly undo = inject(Undo);
  protected readonly day = inject(StationDay);
  protected readonly me = this.store.selectSignal(accountFeature.selectMe);
  /** Signed in with a password that was given for once. */
  protected readonly must = computed(() => this.me()?.mustChange ?? false);
  protected readonly sessions = new Loader<readonly SessionRow[]>();
  protected readonly problem = signal<Problem | null>(null);
  protected readonly sending = signal(false);
  protected readonly form = inject(NonNullableFormBuilder).group(
    { old: [''], password: [''], again: [''] },
    { validators: [byContract(passwordChangeSchema, ['again']), repeated] },
  );

  constructor() {
    if (!this.must()) this.look();
  }

  private look(): void {
    this.sessions.load(this.api.sessions());
  }

  protected flaw(name: string): string | null {
    if (name === 'again') return this.form.hasError('repeated') && this.form.controls.again.touched ? 'is not the same' : null;
    return flawOf(this.form, name);
  }

  protected change(): void {
    this.form.markAllAsTouched();
    if (this.form.invalid || this.form.controls.again.value === '' || this.sending()) return;
    const { old, password } = this.form.getRawValue();
    this.sending.set(true);
    this.problem.set(null);
    this.api.changePassword({ old, password }).subscribe({
      next: () => {
        this.sending.set(false);
        this.form.reset();
        const me = this.me();
        const first = this.must();
        if (me) this.store.dispatch(AccountActions.known({ me: { ...me, mustChange: false } }));
        this.undo.done(null, 'Your password is changed; your other sessions have ended', () => undefined);
        if (first) void this.router.navigateByUrl('/today');
        else this.look();
      },
      error: (e: unknown) => {
        this.sending.set(false);
        this.problem.set(problemOf(e));
      },
    });
  }

  protected end(session: SessionRow): void {
    this.api.endSession(session.id).subscribe({ next: () => this.look(), error: (e: unknown) => this.undo.refused(e) });
  }
}
