import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { firstOfficerSchema, type Problem } from '@grellin/contract';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { Api, problemOf } from '../api/api';
import { byContract } from '../form/byContract';
import { Field } from '../form/field';
import { Seal } from '../mark/seal';

/** Makes the first officer of an empty station, with the word that the start command printed. */
@Component({
  selector: 'gr-first-officer',
  imports: [ReactiveFormsModule, RouterLink, ButtonModule, InputTextModule, Field, Seal],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <header>
        <gr-seal kind="pass" [size]="44" />
        <div>
          <h1 i18n>The first officer</h1>
          <p i18n class="faint">Who lets everybody else in, and may carry out every check</p>
        </div>
      </header>
      <form [formGroup]="form" (ngSubmit)="make()">
        <gr-field label="The word" i18n-label for="token" hint="The start command printed it where Grellin was started." i18n-hint>
          <input pInputText id="token" formControlName="token" autocomplete="off" autocapitalize="none" spellcheck="false" />
        </gr-field>
        <gr-field label="Name to sign in with" i18n-label for="name">
          <input pInputText id="name" formControlName="name" autocomplete="username" autocapitalize="none" spellcheck="false" />
        </gr-field>
        <gr-field label="Full name" i18n-label for="fullName" hint="As it stands on certificates." i18n-hint>
          <input pInputText id="fullName" formControlName="fullName" autocomplete="name" />
        </gr-field>
        <gr-field label="Password" i18n-label for="password" hint="At least twelve characters: several words." i18n-hint>
          <input pInputText id="password" type="password" formControlName="password" autocomplete="new-password" />
        </gr-field>
        @if (problem(); as p) {
          <p class="problem" role="alert">{{ p.message }}</p>
        }
        <button i18n pButton type="submit" [disabled]="sending()">Make the first officer</button>
      </form>
      <p><a i18n routerLink="/sign-in">To the sign-in</a></p>
    </main>
  `,
  styleUrl: './signIn.css',
})
export class FirstOfficerScreen {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly sending = signal(false);
  protected readonly form = inject(NonNullableFormBuilder).group(
    { token: [''], name: [''], fullName: [''], password: [''] },
    { validators: byContract(firstOfficerSchema) },
  );

  protected make(): void {
    this.form.markAllAsTouched();
    if (this.form.invalid || this.sending()) return;
    this.sending.set(true);
    this.problem.set(null);
    this.api.firstOfficer(this.form.getRawValue()).subscribe({
      next: () => void this.router.navigateByUrl('/sign-in'),
      error: (e: unknown) => {
        this.sending.set(false);
        this.problem.set(problemOf(e));
      },
    });
  }
}
