import { afterNextRender, ChangeDetectionStrategy, Component, ElementRef, input, output, signal, viewChild } from '@angular/core';
import { FormsModule } from '@angular/forms';

/** Asks for a reason in the place of the action bar, without a dialog over the gauge. */
@Component({
  selector: 'gr-reason-bar',
  imports: [FormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form (ngSubmit)="confirm()" (keydown.escape)="dropped.emit()">
      <label for="reason">{{ question() }}</label>
      <input #box id="reason" name="reason" autocomplete="off" maxlength="2000" [ngModel]="text()" (ngModelChange)="text.set($event)" />
      <button type="submit" class="yes" [disabled]="text().trim() === ''">{{ action() }}</button>
      <button i18n type="button" (click)="dropped.emit()">Leave it</button>
    </form>
  `,
  styles: `
    form {
      display: grid;
      grid-template-columns: auto 1fr auto auto;
      gap: var(--space-4);
      align-items: center;
      width: 100%;
    }
    label {
      font-weight: 600;
    }
    input,
    button {
      font: 600 var(--type-body) var(--text);
      min-height: 3.5rem;
      border: var(--edge) solid var(--faint);
      border-radius: var(--radius);
      background: var(--panel);
      color: var(--ink);
      padding: 0 var(--space-4);
    }
    .yes {
      background: var(--accent);
      border-color: var(--accent);
      color: var(--on-accent);
    }
    .yes:disabled {
      opacity: 0.5;
    }
  `,
})
export class ReasonBar {
  readonly question = input.required<string>();
  readonly action = input.required<string>();
  readonly given = output<string>();
  readonly dropped = output();
  protected readonly text = signal('');
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');

  constructor() {
    afterNextRender(() => this.box().nativeElement.focus());
  }

  protected confirm(): void {
    const text = this.text().trim();
    if (text !== '') this.given.emit(text);
  }
}
