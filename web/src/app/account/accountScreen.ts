import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { Router } from '@angular/router';
import { passwordChangeSchema, type Problem, type SessionRow } from '@grellin/contract';
import { Store } from '@ngrx/store';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { TableModule } from 'primeng/table';
import { Api, problemOf } from '../api/api';
import { Loader } from '../api/loader';
import { byContract, type Flaws } from '../form/byContract';
import { Field } from '../form/field';
import { Undo } from '../undo/undo';
import { AccountActions, accountFeature } from './accountStore';
import { StationDay } from './stationDay';

/** What the form holds: the new password twice, for a slip of the finger would shut somebody out. */
interface TypedTwice {
  readonly old: string;
  readonly password: string;
  readonly again: string;
}

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
    {
      validators: byContract(passwordChangeSchema, {
        request: ({ old, password }: TypedTwice) => ({ old, password }),
        besides: ({ password, again }): Flaws => (again === password ? {} : { again: $localize`is not the same` }),
      }),
    },
  );

  constructor() {
    if (!this.must()) this.look();
  }

  private look(): void {
    this.sessions.load(this.api.sessions());
  }

  protected change(): void {
    this.form.markAllAsTouched();
    if (this.form.invalid || this.sending()) return;
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
