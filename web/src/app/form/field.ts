import { afterRenderEffect, ChangeDetectionStrategy, Component, computed, contentChild, ElementRef, inject, input, signal } from '@angular/core';
import { NgControl } from '@angular/forms';
import { flawOf } from './byContract';

/**
 * A label, the control that it names, a hint, and what is wrong with it once somebody has been in it, each told to who cannot see them.
 * @example <gr-field label="Tag" for="tag"><input pInputText id="tag" formControlName="tag" /></gr-field>
 */
@Component({
  selector: 'gr-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <label [attr.for]="for()">{{ label() }}</label>
    <ng-content />
    @if (hint(); as h) {
      <p class="faint" [id]="for() + '-hint'">{{ h }}</p>
    }
    @if (flaw(); as f) {
      <p class="problem" [id]="for() + '-flaw'" role="alert">
        <span class="visually-hidden">{{ label() }}&ngsp;</span><span class="words">{{ f }}</span>
      </p>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
      gap: var(--space-1);
      align-content: start;
      margin-bottom: var(--space-4);
    }
    label {
      font-weight: 600;
    }
    p {
      margin: 0;
      font-size: var(--type-small);
    }
    .words {
      display: inline-block;
    }
    .words::first-letter {
      text-transform: uppercase;
    }
  `,
})
export class Field {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  readonly label = input.required<string>();
  /** The id of the control that takes the focus. */
  readonly for = input.required<string>();
  readonly hint = input<string | null>(null);
  private readonly held = contentChild(NgControl, { descendants: true });
  /** Forms are no signals: what happens to one is counted. */
  private readonly happened = signal(0);
  protected readonly flaw = computed(() => {
    this.happened();
    const control = this.held()?.control;
    return control ? flawOf(control) : null;
  });

  constructor() {
    // After the page is drawn: a control within a block knows its form no sooner.
    afterRenderEffect((onCleanup) => {
      const heard = this.held()?.control?.root.events.subscribe(() => this.happened.update((n) => n + 1));
      onCleanup(() => heard?.unsubscribe());
    });
    afterRenderEffect(() => {
      const parts = [...(this.hint() === null ? [] : ['hint']), ...(this.flaw() === null ? [] : ['flaw'])];
      const control = this.host.nativeElement.querySelector(`[id="${this.for()}"]`);
      control?.setAttribute('aria-invalid', String(this.flaw() !== null));
      if (parts.length === 0) control?.removeAttribute('aria-describedby');
      else control?.setAttribute('aria-describedby', parts.map((p) => `${this.for()}-${p}`).join(' '));
    });
  }
}
