import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { MOST_IN_ROUND, type Problem, type RoundGroup } from '@grellin/contract';
import { ButtonModule } from 'primeng/button';
import { Api, problemOf } from '../api/api';
import { ItemPicker } from '../pick/itemPicker';

/** Chooses items for a round, then which of the tests that they owe it is of. */
@Component({
  selector: 'gr-new-round',
  imports: [RouterLink, ButtonModule, ItemPicker],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="screen">
      <header class="screen-head">
        <h1 i18n>New round</h1>
      </header>
      <gr-item-picker [most]="most" [(chosen)]="chosen" (asked)="problem.set(null)" />
      @if (chosen().length === 0) {
        <p i18n class="faint">Choose what is to be tested: by place, by kit, by what falls due, or by scanning.</p>
      } @else {
        <section aria-labelledby="tests">
          <h2 i18n id="tests">Which test?</h2>
          @for (g of groups(); track g.procedure + g.ruleSet) {
            <p class="group">
              <span
                ><strong>{{ g.title }}</strong> <span class="faint">{{ g.ruleSetTitle }}</span></span
              >
              @if (g.inRounds) {
                <button pButton type="button" [disabled]="beginning()" (click)="begin(g)">{{ key(g) }}</button>
              } @else {
                <span i18n class="faint">each by itself: it is coupled to another, or is asked what is of its day</span>
              }
            </p>
          } @empty {
            @if (asked()) {
              <p i18n role="status">None of these owes a test. Start one from the item’s own page, and begin a round there.</p>
            }
          }
        </section>
      }
      @if (problem(); as p) {
        <p class="problem" role="alert">
          {{ p.message }}
          @if (p.code === 'round.noGauges') {
            <a i18n [routerLink]="['/register', chosen()[0]]" fragment="start">To the first of them</a>
          }
        </p>
      }
    </div>
  `,
  styles: `
    h2 {
      font-size: var(--type-lead);
    }
    .group {
      display: flex;
      flex-wrap: wrap;
      justify-content: space-between;
      align-items: center;
      gap: var(--space-2) var(--space-4);
      max-width: 47.5rem;
      margin: 0;
      padding: var(--space-2) 0;
      border-bottom: var(--line) solid var(--rule);
    }
    .group .faint {
      display: block;
    }
    button {
      min-height: var(--touch);
    }
  `,
})
export class NewRoundScreen {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  protected readonly most = MOST_IN_ROUND;
  protected readonly chosen = signal<readonly string[]>([]);
  protected readonly groups = signal<readonly RoundGroup[]>([]);
  /** The server has said what these items owe. */
  protected readonly asked = signal(false);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly beginning = signal(false);
  private readonly all = computed(() => this.chosen().length);

  constructor() {
    effect((onCleanup) => {
      const assets = this.chosen();
      this.asked.set(false);
      if (assets.length === 0) {
        this.groups.set([]);
        return;
      }
      const asking = this.api.roundGroups(assets).subscribe({
        next: (groups) => {
          this.groups.set(groups);
          this.asked.set(true);
        },
        error: (e: unknown) => this.problem.set(problemOf(e)),
      });
      onCleanup(() => asking.unsubscribe());
    });
  }

  protected key(g: RoundGroup): string {
    return g.assets.length === this.all()
      ? $localize`Begin with all ${g.assets.length}:COUNT:`
      : $localize`Begin with ${g.assets.length}:COUNT: of ${this.all()}:ALL:`;
  }

  protected begin(g: RoundGroup): void {
    if (this.beginning()) return;
    this.beginning.set(true);
    this.problem.set(null);
    // In the order in which they were found: that is the order in which somebody goes round.
    const assets = this.chosen().filter((id) => g.assets.includes(id));
    this.api.openRound({ procedure: g.procedure, ruleSet: g.ruleSet, assets: [...assets] }).subscribe({
      next: ({ id }) => void this.router.navigate(['/rounds', id]),
      error: (e: unknown) => {
        this.beginning.set(false);
        this.problem.set(problemOf(e));
      },
    });
  }
}
