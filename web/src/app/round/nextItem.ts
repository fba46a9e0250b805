import { afterNextRender, ChangeDetectionStrategy, Component, computed, effect, ElementRef, inject, input, signal, viewChild } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { Problem, RoundView } from '@grellin/contract';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { Store } from '@ngrx/store';
import { accountFeature } from '../account/accountStore';
import { Api, problemOf } from '../api/api';
import { Loader } from '../api/loader';
import { ScanKey } from '../scan/scanKey';
import { scannedCode } from '../scan/scannedCode';
import { RoundRuns } from './roundRuns';

/** The next item of a round: what is scanned from it opens its run, by itself, because a scanner ends with Enter. */
@Component({
  selector: 'gr-next-item',
  imports: [ReactiveFormsModule, RouterLink, ButtonModule, InputTextModule, ScanKey],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form [formGroup]="form" (ngSubmit)="open()">
      <label for="next-item" i18n>Next item of the round: scan or type its serial</label>
      <input
        #box
        pInputText
        id="next-item"
        autocomplete="off"
        autocapitalize="characters"
        formControlName="code"
        [attr.aria-invalid]="problem() !== null"
        (keydown)="$event.stopPropagation()"
      />
      <gr-scan-key (scanned)="scanned($event.serial)" />
      <button i18n pButton type="submit" [disabled]="opening() || code() === ''">Open it</button>
      @if (again()) {
        <label class="tick"><input type="checkbox" formControlName="proveAgain" /> <span i18n>Prove the rig again</span></label>
      }
    </form>
    @if (coming(); as i) {
      <p class="coming">
        <button i18n type="button" class="control main" [disabled]="opening()" (click)="go(i.tag)">Next on the list: {{ i.tag }}</button>
        <span class="faint">{{ i.title }} · {{ i.place }}</span>
      </p>
    }
    @if (problem(); as p) {
      <p class="problem" role="alert">
        {{ p.message }}
        @if (p.values?.['run']; as run) {
          <a i18n [routerLink]="['/bench', run]">To its bench</a>
        }
      </p>
    }
  `,
  styles: `
    form {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2) var(--space-3);
      align-items: center;
    }
    label {
      font-weight: 600;
    }
    .coming {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: var(--space-2) var(--space-3);
      margin: var(--space-2) 0 0;
    }
    .tick {
      font-weight: 400;
      min-height: var(--touch);
      display: inline-flex;
      align-items: center;
      gap: var(--space-2);
    }
    input[pInputText],
    button {
      min-height: var(--touch);
    }
    input[pInputText] {
      flex: 1;
      min-width: 9rem;
      max-width: 20rem;
      font-size: var(--type-lead);
    }
  `,
})
export class NextItem {
  readonly round = input.required<string>();
  /** The rig can be proved again for it. */
  readonly again = input(false);
  /** The round as a screen that has it already knows it; otherwise it is asked for. */
  readonly known = input<RoundView | null>(null);
  private readonly runs = inject(RoundRuns);
  private readonly api = inject(Api);
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);
  private readonly asked = new Loader<RoundView>();
  /** The first on the list that waits and that nobody else has; one's own come before those that nobody has. */
  protected readonly coming = computed(() => {
    const waiting = (this.known() ?? this.asked.value())?.items.filter((i) => i.stands === 'left' || i.stands === 'again') ?? [];
    return waiting.find((i) => i.takenBy?.id === this.me()?.id) ?? waiting.find((i) => i.takenBy === null) ?? null;
  });
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  protected readonly form = inject(NonNullableFormBuilder).group({ code: '', proveAgain: false });
  private readonly said = toSignal(this.form.valueChanges, { initialValue: this.form.value });
  protected readonly code = computed(() => scannedCode(this.said().code ?? '').serial);
  protected readonly opening = signal(false);
  protected readonly problem = signal<Problem | null>(null);

  constructor() {
    afterNextRender(() => this.box().nativeElement.focus());
    effect(() => {
      if (this.known() === null) this.asked.load(this.api.round(this.round()));
    });
  }

  protected go(tag: string): void {
    this.form.patchValue({ code: tag });
    this.open();
  }

  protected scanned(code: string): void {
    this.form.patchValue({ code });
    this.open();
  }

  protected open(): void {
    if (this.opening() || this.code() === '') return;
    this.opening.set(true);
    this.problem.set(null);
    this.runs.next(this.round(), { code: this.code(), ...(this.said().proveAgain === true ? { proveAgain: true } : {}) }).subscribe({
      next: () => this.opening.set(false),
      error: (e: unknown) => {
        this.opening.set(false);
        this.problem.set(problemOf(e));
        // The next scan writes over what was refused.
        this.box().nativeElement.select();
      },
    });
  }
}
