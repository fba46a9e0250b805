import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { type AbstractControl, NonNullableFormBuilder, ReactiveFormsModule, Validators } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { stationTime } from '@grellin/core';
import { Field } from '../form/field';
import { Seal } from '../mark/seal';
import { Away } from './away';

const said = {
  wrong: $localize`That is not the PIN.`,
  wiped: $localize`That was the tenth wrong PIN: what lay on this device is gone.`,
  nothing: $localize`Nothing lies on this device.`,
  elsewhere: $localize`It is open in another tab of this browser.`,
};

/** Opens what was taken along, with a PIN: the way in when there is no network. */
@Component({
  selector: 'gr-open-screen',
  imports: [ReactiveFormsModule, RouterLink, ButtonModule, InputTextModule, Field, Seal],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <main>
      <header>
        <gr-seal kind="pass" [size]="44" />
        <div>
          <h1 i18n>Away from the server</h1>
          @if (away.onDevice(); as d) {
            @if (d.by !== '') {
              <p i18n class="faint">Taken along by {{ d.by }}, for use until {{ time(d.until) }}</p>
            }
          }
        </div>
      </header>
      @if (away.onDevice()) {
        <form [formGroup]="form" (ngSubmit)="open()">
          <gr-field label="PIN" i18n-label for="pin">
            <input pInputText id="pin" type="password" inputmode="numeric" autocomplete="off" formControlName="pin" />
          </gr-field>
          @if (problem(); as p) {
            <p class="problem" role="alert">{{ p }}</p>
          }
          <button pButton type="submit" [disabled]="waiting()">
            @if (waiting()) {
              <ng-container i18n>Opening…</ng-container>
            } @else {
              <ng-container i18n>Open what was taken along</ng-container>
            }
          </button>
        </form>
      } @else {
        <p i18n>Nothing was taken along on this device. Without the server there is nothing to be done here.</p>
      }
      <p><a i18n routerLink="/sign-in">Sign in at the server</a></p>
      <p i18n class="caution">
        Compressed gas and pressure can kill. A check made here does not replace the maker’s instructions, the local code or licensed practice.
      </p>
    </main>
  `,
  styleUrl: '../account/signIn.css',
})
export class OpenScreen {
  protected readonly away = inject(Away);
  private readonly router = inject(Router);
  protected readonly form = inject(NonNullableFormBuilder).group({ pin: ['', (c: AbstractControl) => Validators.required(c)] });
  protected readonly waiting = signal(false);
  protected readonly problem = signal<string | null>(null);

  constructor() {
    // Where the server can be reached it says whether this device may go on at all.
    void this.away.asked();
  }

  protected time(at: string): string {
    return stationTime(Date.parse(at), Intl.DateTimeFormat().resolvedOptions().timeZone);
  }

  protected async open(): Promise<void> {
    this.form.markAllAsTouched();
    if (!this.form.valid) return;
    this.waiting.set(true);
    this.problem.set(null);
    const came = await this.away.open(this.form.getRawValue().pin);
    this.waiting.set(false);
    this.form.reset();
    if (came === 'open') void this.router.navigateByUrl('/along');
    else this.problem.set(said[came]);
  }
}
