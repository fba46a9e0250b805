import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';

/** A label, the control that it names, a hint, and what is wrong with it, each told to who cannot see them. */
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
      <p class="problem" [id]="for() + '-flaw'" role="alert">{{ label() }} {{ f }}</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 4px;
      margin-bottom: 14px;
    }
    label {
      font-weight: 600;
    }
    p {
      margin: 0;
      font-size: 14px;
    }
  `,
})
export class Field {
  readonly label = input.required<string>();
  readonly for = input.required<string>();
  readonly hint = input<string | null>(null);
  readonly flaw = input<string | null>(null);
  readonly describedBy = computed(() => `${this.for()}-hint ${this.for()}-flaw`);
}
