import { ChangeDetectionStrategy, Component, effect, inject, input, output, signal } from '@angular/core';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { newPersonSchema, roles, type AccountRole, type PersonRow } from '@grellin/contract';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { Api } from '../api/api';
import { byContract } from '../form/byContract';
import { Field } from '../form/field';
import { Undo } from '../undo/undo';

const titles: Readonly<Record<AccountRole, string>> = {
  officer: 'Officer: everything',
  tester: 'Tester: carries out checks',
  reader: 'Reader: looks only',
};

/** The account of one person, or of one to come: name, role, a password for once, and whether it is in use. For officers. */
@Component({
  selector: 'gr-person-account',
  imports: [ReactiveFormsModule, ButtonModule, InputTextModule, SelectModule, Field],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form [formGroup]="form" (ngSubmit)="keep()">
      <gr-field label="Name to sign in with" i18n-label [for]="id('name')">
        <input pInputText [id]="id('name')" formControlName="name" autocomplete="off" autocapitalize="none" spellcheck="false" />
      </gr-field>
      <gr-field label="Full name" i18n-label [for]="id('full')" hint="As it stands on certificates." i18n-hint>
        <input pInputText [id]="id('full')" formControlName="fullName" autocomplete="off" />
      </gr-field>
      <gr-field label="Role" i18n-label [for]="id('role')">
        <p-select [inputId]="id('role')" formControlName="role" [options]="choices" optionLabel="title" optionValue="role" [ariaLabel]="'Role'" />
      </gr-field>
      <p class="line">
        <button pButton type="submit">{{ person() ? 'Keep' : 'Add the person' }}</button>
        @if (person(); as p) {
          <button i18n pButton type="button" severity="secondary" (click)="reset(p)">Give a password for once</button>
          <button pButton type="button" severity="secondary" (click)="toggle(p)">{{ p.disabled ? 'Enable' : 'Disable' }}</button>
        }
        <button i18n pButton type="button" severity="secondary" (click)="left.emit()">Leave it</button>
      </p>
    </form>
    @if (given(); as g) {
      <div class="given" role="status">
        <p i18n>Read it out now: it is kept nowhere. It has to be changed at the first sign-in.</p>
        <p class="password">{{ g }}</p>
      </div>
    }
  `,
  styles: `
    form {
      max-width: 26.25rem;
      padding-block: var(--space-2);
    }
    input,
    p-select {
      min-height: 3rem;
      font-size: var(--type-lead);
    }
    p-select {
      align-items: center;
    }
    button {
      min-height: 3rem;
    }
    .line {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
    }
    .given {
      max-width: 26.25rem;
      border-left: var(--space-1) solid var(--undecided);
      padding: var(--space-1) var(--space-3);
    }
    .password {
      font: 700 1.5rem var(--figures);
      user-select: all;
    }
  `,
})
export class PersonAccount {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  /** Null for one to come. */
  readonly person = input<PersonRow | null>(null);
  readonly changed = output();
  readonly left = output();
  protected readonly choices = roles.map((role) => ({ role, title: titles[role] }));
  protected readonly given = signal<string | null>(null);
  private readonly fields = inject(NonNullableFormBuilder);
  protected readonly form = this.fields.group(
    { name: [''], fullName: [''], role: this.fields.control<AccountRole>('tester') },
    { validators: byContract(newPersonSchema) },
  );

  constructor() {
    effect(() => {
      const p = this.person();
      if (p) this.form.reset({ name: p.name, fullName: p.fullName, role: p.role });
    });
  }

  protected id(of: string): string {
    return `${of}-${this.person()?.id ?? 'new'}`;
  }

  protected keep(): void {
    this.form.markAllAsTouched();
    if (this.form.invalid) return;
    const facts = this.form.getRawValue();
    const p = this.person();
    if (p) {
      this.undo.do(
        this.api.changePerson(p.id, facts),
        () => `${facts.fullName} changed`,
        () => this.changed.emit(),
      );
      return;
    }
    this.undo.do(
      this.api.addPerson(facts),
      (made) => {
        this.given.set(made.password);
        this.form.reset();
        return `${facts.fullName} added`;
      },
      () => this.changed.emit(),
    );
  }

  protected reset(p: PersonRow): void {
    this.api.resetPassword(p.id).subscribe({ next: ({ password }) => this.given.set(password), error: (e: unknown) => this.undo.refused(e) });
  }

  protected toggle(p: PersonRow): void {
    this.undo.do(
      this.api.changePerson(p.id, { disabled: !p.disabled }),
      () => `${p.fullName} ${p.disabled ? 'enabled' : 'disabled: every session of theirs has ended'}`,
      () => this.changed.emit(),
    );
  }
}
