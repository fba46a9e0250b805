import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MultiSelectModule } from 'primeng/multiselect';
import type { PersonRow } from '@grellin/contract';
import { addDays } from '@grellin/core';
import { Store } from '@ngrx/store';
import { accountFeature } from '../account/accountStore';
import { Api, type PublishedView } from '../api/api';
import { Loader } from '../api/loader';
import { Undo } from '../undo/undo';
import { PersonAccount } from './personAccount';
import { StationDay } from '../account/stationDay';

const YEAR_DAYS = 365;

/** Who may carry out what, until when, and under which stamp. */
@Component({
  selector: 'gr-people',
  imports: [FormsModule, MultiSelectModule, PersonAccount],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="screen">
      <header class="screen-head">
        <h1 i18n>People</h1>
        <p i18n class="faint">The bench refuses who is not authorised for a procedure</p>
      </header>
      @if (officer()) {
        @if (account() === 'new') {
          <section class="new" aria-label="A new person" i18n-aria-label><gr-person-account (changed)="again()" (left)="account.set(null)" /></section>
        } @else {
          <p><button i18n type="button" class="control main" (click)="account.set('new')">Add a person</button></p>
        }
      }
      @if (people.problem(); as p) {
        <p class="problem" role="alert">{{ p.message }}</p>
      }
      @for (p of people.value() ?? []; track p.id) {
        <section [attr.aria-labelledby]="'p-' + p.id">
          <h2 [id]="'p-' + p.id">
            {{ p.fullName }} <span class="faint">{{ p.role }}</span>
            @if (p.disabled) {
              <span i18n class="tag">disabled</span>
            }
          </h2>
          @if (p.authorisations.length > 0) {
            <details [open]="granting() === p.id">
              <summary>{{ summary(p) }}</summary>
              <ul>
                @for (a of p.authorisations; track a.id) {
                  <li>
                    <span>{{ a.title }}</span>
                    <span class="tag">{{ a.stamp }}</span>
                    <span [class.problem]="a.until < today"
                      >{{ a.until < today ? 'ran out ' : 'until ' }}{{ a.until }}{{ a.runsOut && a.until >= today ? ', soon' : '' }}</span
                    >
                    @if (officer()) {
                      <button i18n type="button" class="control" [attr.aria-label]="'Withdraw ' + a.title + ' from ' + p.fullName" (click)="withdraw(a.id)">
                        Withdraw
                      </button>
                    }
                  </li>
                }
              </ul>
            </details>
          } @else {
            <p class="faint">{{ p.role === 'reader' ? 'May look, not test.' : 'Not authorised for anything.' }}</p>
          }
          @if (officer()) {
            @if (account() === p.id) {
              <gr-person-account [person]="p" (changed)="again()" (left)="account.set(null)" />
            } @else {
              <p><button i18n type="button" class="control" [attr.aria-label]="'Account of ' + p.fullName" (click)="account.set(p.id)">Account</button></p>
            }
          }
          @if (officer() && p.role !== 'reader' && !p.disabled) {
            @if (granting() === p.id) {
              <form (ngSubmit)="grant(p.id)">
                <label i18n for="what">Procedures</label>
                <p-multiselect
                  inputId="what"
                  name="what"
                  [options]="$any(procedures())"
                  optionLabel="title"
                  optionValue="id"
                  [display]="'chip'"
                  ariaLabel="Procedures"
                  i18n-ariaLabel
                  [ngModel]="chosen()"
                  (ngModelChange)="chosen.set($event ?? [])"
                  appendTo="body"
                />
                <label i18n for="until">Until</label>
                <input id="until" class="control" type="date" name="until" [min]="today" [ngModel]="until()" (ngModelChange)="until.set($event)" />
                <label i18n for="stamp">Stamp mark</label>
                <input id="stamp" class="control" name="stamp" autocomplete="off" [ngModel]="stamp()" (ngModelChange)="stamp.set($event)" />
                <span></span>
                <span class="line">
                  <button i18n class="control main" type="submit" [disabled]="chosen().length === 0 || stamp().trim() === '' || until() === ''">
                    Authorise
                  </button>
                  <button i18n class="control" type="button" (click)="granting.set(null)">Leave it</button>
                </span>
              </form>
            } @else {
              <p>
                <button i18n type="button" class="control" (click)="begin(p)">Authorise {{ p.fullName }}</button>
              </p>
            }
          }
        </section>
      } @empty {
        @if (people.loading()) {
          <p i18n class="faint" role="status">Reading…</p>
        }
      }
    </div>
  `,
  styles: `
    section {
      max-width: 53.75rem;
      padding: var(--space-3) 0;
      border-bottom: var(--line) solid var(--rule);
    }
    h2 {
      font-size: var(--type-lead);
    }
    section p {
      margin-block: var(--space-2);
    }
    summary {
      padding: var(--space-2) 0;
      cursor: pointer;
    }
    ul {
      margin: 0 0 var(--space-2);
      padding: 0;
      list-style: none;
    }
    li {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 5.625rem 11.25rem auto;
      gap: var(--space-3);
      align-items: center;
      padding: var(--space-1) 0;
    }
    form {
      display: grid;
      grid-template-columns: 7.5rem minmax(0, 26.25rem);
      gap: var(--space-2) var(--space-4);
      align-items: center;
    }
    .tall {
      min-height: 11.875rem;
    }
    .line {
      display: flex;
      gap: var(--space-2);
    }
  `,
})
export class People {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);
  protected readonly today = inject(StationDay).today();
  protected readonly people = new Loader<readonly PersonRow[]>();
  protected readonly officer = computed(() => this.me()?.role === 'officer');
  private readonly published = new Loader<readonly PublishedView[]>();
  /** Everything that can be carried out: what an officer has published is authorised like what is built in. */
  protected readonly procedures = computed(() =>
    [...new Map((this.published.value() ?? []).map(({ document: d }) => [d.id, { id: d.id, title: d.title }])).values()].sort((a, b) =>
      a.title.localeCompare(b.title),
    ),
  );
  /** Whose account is looked at; `new` for one to come. */
  protected readonly account = signal<string | null>(null);
  protected readonly granting = signal<string | null>(null);
  protected readonly chosen = signal<readonly string[]>([]);
  protected readonly until = signal('');
  protected readonly stamp = signal('');

  constructor() {
    this.published.load(this.api.procedures());
    this.again();
  }

  protected again(): void {
    this.people.load(this.api.people());
  }

  protected summary(p: PersonRow): string {
    const late = p.authorisations.filter((a) => a.until < this.today).length;
    const soon = p.authorisations.filter((a) => a.runsOut && a.until >= this.today).length;
    const parts = [
      `authorised for ${String(p.authorisations.length - late)} procedures`,
      late > 0 ? `${String(late)} ran out` : null,
      soon > 0 ? `${String(soon)} run out soon` : null,
    ];
    return parts.filter((w) => w !== null).join(', ');
  }

  protected begin(p: PersonRow): void {
    this.granting.set(p.id);
    this.chosen.set([]);
    this.until.set(addDays(this.today, YEAR_DAYS));
    this.stamp.set(p.authorisations[0]?.stamp ?? '');
  }

  protected grant(account: string): void {
    const { length } = this.chosen();
    this.undo.do(
      this.api.authorise({ account, procedures: [...this.chosen()], until: this.until(), stamp: this.stamp().trim() }),
      () => {
        this.granting.set(null);
        return `Authorised for ${String(length)} ${length === 1 ? 'procedure' : 'procedures'}`;
      },
      () => this.again(),
    );
  }

  protected withdraw(id: string): void {
    this.undo.do(
      this.api.withdraw(id),
      () => 'Withdrawn; it stays in the record',
      () => this.again(),
    );
  }
}
