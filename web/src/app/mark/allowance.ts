import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';

/** Allowance used: one bar, one number, for every kind of equipment. The stroke at the right is 100 %. */
@Component({
  selector: 'gr-allowance',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <span class="track" [class.large]="large()" aria-hidden="true"
      ><span class="used" [class.over]="percent() > 100" [style.width.%]="width()"></span><span class="limit"></span
    ></span>
    <span class="number">{{ percent() }} %<span i18n class="visually-hidden"> of the allowance used</span></span>
  `,
  styles: `
    :host {
      display: inline-flex;
      align-items: center;
      gap: var(--space-3);
    }
    .track {
      position: relative;
      width: 5.25rem;
      height: 0.75rem;
      background: var(--soft);
    }
    .track.large {
      width: 13.5rem;
      height: 1.5rem;
    }
    .used {
      position: absolute;
      inset: 0 auto 0 0;
      background: var(--accent);
    }
    .used.over {
      background: var(--leaks);
    }
    .limit {
      position: absolute;
      right: 0;
      top: calc(-1 * var(--space-0));
      bottom: calc(-1 * var(--space-0));
      width: 0.125rem;
      background: var(--ink);
    }
    .number {
      font-family: var(--figures);
      font-size: var(--type-label);
      white-space: nowrap;
    }
    .track.large + .number {
      font-size: var(--type-lead);
      font-weight: 700;
    }
  `,
})
export class Allowance {
  readonly percent = input.required<number>();
  readonly large = input(false);
  protected readonly width = computed(() => Math.min(100, Math.max(0, this.percent())));
}
