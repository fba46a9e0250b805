import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { confidenceFrom, confidenceInWords, findingInWords, reasonInWords, type Finding, type Procedure, factsOf } from '@grellin/core';
import { Allowance } from './allowance';
import { Seal } from './seal';

/** One finding: the seal, the arithmetic in words, the confidence beside it, what else was noticed, and where the limit comes from. */
@Component({
  selector: 'gr-finding-card',
  imports: [Seal, Allowance],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <gr-seal [kind]="finding().verdict" [size]="30" />
    <div>
      <p class="head">
        <strong>{{ title() }}</strong>
        <span class="word">{{ word() }}</span>
        @if (finding().allowancePercent !== null) {
          <gr-allowance [percent]="finding().allowancePercent ?? 0" />
        }
      </p>
      <p class="arithmetic">{{ arithmetic() }}</p>
      @if (confidence(); as c) {
        <details class="faint">
          <summary>{{ c }}</summary>
          <p>{{ from() }}</p>
        </details>
      }
      @for (note of notes(); track $index) {
        <p class="faint">{{ note }}</p>
      }
      @if (finding().limit; as limit) {
        <p i18n class="faint">Limit from {{ limit.source.title }}{{ limit.source.clause ? ', ' + limit.source.clause : '' }}</p>
      }
    </div>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 2.125rem 1fr;
      gap: var(--space-3);
      padding: var(--space-3) 0;
      border-bottom: var(--line) solid var(--rule);
    }
    .head {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-3);
      align-items: center;
    }
    .arithmetic {
      font-size: var(--type-lead);
    }
    .faint {
      font-size: var(--type-label);
    }
    summary {
      cursor: pointer;
    }
  `,
})
export class FindingCard {
  readonly finding = input.required<Finding>();
  readonly procedure = input.required<Procedure>();
  protected readonly title = computed(() => {
    const f = this.finding();
    const stage = this.procedure().stages.find((s) => s.id === f.stage)?.title ?? f.stage;
    return f.channel === null ? stage : `${stage} · ${this.procedure().channels[f.channel]?.title ?? f.channel}`;
  });
  protected readonly word = computed(() => {
    const method = this.procedure().stages.find((s) => s.id === this.finding().stage)?.method;
    const test = method && factsOf(method).trace?.(method).hold !== undefined;
    const verdict = this.finding().verdict;
    // What is read for the record alone has neither passed nor failed.
    if (this.finding().reasons[0]?.code === 'noted') return $localize`recorded`;
    if (verdict === 'void') return 'void';
    if (verdict === 'undecided') return 'cannot tell';
    return test ? this.procedure().verdictWords[verdict] : verdict === 'pass' ? 'in order' : 'not in order';
  });
  protected readonly arithmetic = computed(() => findingInWords(this.finding()));
  protected readonly confidence = computed(() => confidenceInWords(this.finding()));
  /** What it was worked out from, behind a press. */
  protected readonly from = computed(() => confidenceFrom(this.finding()));
  protected readonly notes = computed(() => this.finding().reasons.slice(1).map(reasonInWords));
}
