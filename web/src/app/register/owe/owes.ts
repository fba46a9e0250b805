import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { NewObligation, ObligationRow, SeriesView } from '@grellin/contract';
import { countings, filledRules, triggerInWords } from '@grellin/core';
import type { Observable } from 'rxjs';
import { Api, type PublishedView } from '../../api/api';
import { Undo } from '../../undo/undo';
import { everyInWords, spanInWords } from './everyInWords';
import { proceduresFor } from './oweDraft';
import { OweForm } from './oweForm';

type Doing = { readonly kind: 'defer' | 'outside'; readonly id: string } | null;

/** A file as base64, for a scan that is kept. */
async function base64Of(file: File): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let text = '';
  for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return btoa(text);
}

/** What an item owes, and when; what moves a date stands beside it with its reason. */
@Component({
  selector: 'gr-owes',
  imports: [FormsModule, OweForm],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (o of obligations(); track o.id) {
      <article>
        <p class="owed">
          <strong>{{ o.title }}</strong>
          <span>{{ o.ruleSetTitle }}; {{ every(o) }}</span>
          <span class="due">
            @if (o.due) {
              <ng-container i18n>next due</ng-container>&ngsp; <strong>{{ o.due }}</strong>
            }
            @if (o.owedNow) {
              <strong i18n>before the next use</strong>
            }
          </span>
        </p>
        @if (o.filled) {
          <p class="faint">
            {{ filledInWords[o.filled] }}
          </p>
        }
        @for (m of o.moves; track m.id) {
          <p class="faint">
            <span i18n [class.back]="m.takenBack"
              >{{ m.kind === 'deferred' ? 'Put off' : 'Brought forward' }} from {{ m.before }} to {{ m.after }} by {{ m.by }}: {{ m.reason }}</span
            >{{ m.takenBack ? ' (taken back)' : '' }}
          </p>
        }
        @for (c of o.outside; track c.id) {
          <p class="faint">
            <span i18n [class.back]="c.takenBack">Certificate {{ c.number }} of {{ c.issuer }}, done {{ c.doneOn }}, entered by {{ c.by }}</span
            >{{ c.takenBack ? ' (taken back)' : '' }}: <a i18n [href]="'/api/outside/' + c.id">the scan</a>
          </p>
        }
        @if (o.lastDone === null && doing()?.id !== o.id) {
          <p class="proposal">
            <ng-container i18n>Not yet tested, so it may not be used. Last tested on?</ng-container>&ngsp;
            @if (officer()) {
              <button i18n type="button" class="control main" (click)="begin('outside', o.id)">Enter its certificate</button>
            } @else {
              <ng-container i18n>An officer enters its certificate from outside; or test it here.</ng-container>
            }
          </p>
        }
        @if (proposal(o); as to) {
          <p class="proposal">
            <ng-container i18n>It would cross its limit before the next check. Test it by {{ to }}?</ng-container>&ngsp;
            @if (officer()) {
              <button i18n type="button" class="control main" (click)="accept(o.id, to)">Bring it forward</button>
            }
          </p>
        }
        @if (officer()) {
          @if (doing(); as d) {
            @if (d.id === o.id && d.kind === 'defer') {
              <form (ngSubmit)="defer(o.id)">
                <label i18n [attr.for]="'to-' + o.id">Until</label>
                <input [id]="'to-' + o.id" class="control" type="date" name="to" [min]="o.due" [ngModel]="to()" (ngModelChange)="to.set($event)" />
                <label i18n [attr.for]="'why-' + o.id">Reason</label>
                <input [id]="'why-' + o.id" class="control" name="why" [ngModel]="why()" (ngModelChange)="why.set($event)" />
                <button i18n class="control main" type="submit" [disabled]="to() === '' || why().trim() === ''">Put it off</button>
                <button i18n class="control" type="button" (click)="doing.set(null)">Leave it</button>
              </form>
            }
            @if (d.id === o.id && d.kind === 'outside') {
              <form (ngSubmit)="settle(o.id)">
                <label i18n [attr.for]="'on-' + o.id">Done on</label>
                <input [id]="'on-' + o.id" class="control" type="date" name="on" [max]="today()" [ngModel]="on()" (ngModelChange)="on.set($event)" />
                <label i18n [attr.for]="'by-' + o.id">By</label>
                <input [id]="'by-' + o.id" class="control" name="by" [ngModel]="by()" (ngModelChange)="by.set($event)" />
                <label i18n [attr.for]="'no-' + o.id">Number</label>
                <input [id]="'no-' + o.id" class="control" name="no" [ngModel]="no()" (ngModelChange)="no.set($event)" />
                <label i18n [attr.for]="'scan-' + o.id">Scan (PDF, PNG or JPEG)</label>
                <input
                  #file
                  [id]="'scan-' + o.id"
                  class="control"
                  type="file"
                  accept="application/pdf,image/png,image/jpeg"
                  (change)="scan.set(file.files?.[0] ?? null)"
                />
                <button i18n class="control main" type="submit" [disabled]="on() === '' || by().trim() === '' || no().trim() === '' || !scan()">
                  Settle it
                </button>
                <button i18n class="control" type="button" (click)="doing.set(null)">Leave it</button>
              </form>
            }
          }
          <p class="acts">
            @if (o.due && !o.hard) {
              <button i18n type="button" class="control" (click)="begin('defer', o.id)">Put off</button>
            }
            <button i18n type="button" class="control" (click)="begin('outside', o.id)">Certificate from outside</button>
            <button i18n type="button" class="control" (click)="drop(o)">No longer owed</button>
            @if (o.hard) {
              <span i18n class="faint">A law’s date: it cannot be put off.</span>
            }
          </p>
        }
      </article>
    } @empty {
      <p i18n class="faint">Nothing of its own.</p>
    }
    @if (officer()) {
      <p class="acts">
        <button i18n type="button" class="control" (click)="usual()">Its usual checks</button>
        <button i18n type="button" class="control" [attr.aria-expanded]="adding()" [disabled]="fitting().length === 0" (click)="adding.set(!adding())">
          Another check
        </button>
      </p>
      @if (adding()) {
        <gr-owe-form [asset]="asset()" [procedures]="fitting()" [today]="today()" (kept)="owe($event)" (left)="adding.set(false)" />
      }
    }
  `,
  styles: `
    article {
      padding: var(--space-2) 0;
      border-bottom: var(--line) solid var(--rule);
    }
    .owed {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-1) var(--space-3);
    }
    .due {
      margin-left: auto;
    }
    .back {
      text-decoration: line-through;
    }
    .acts,
    .proposal,
    form {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
      align-items: center;
      margin-top: var(--space-2);
    }
    .proposal {
      border-left: var(--space-1) solid var(--undecided);
      padding-left: var(--space-3);
    }
  `,
})
export class Owes {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  readonly asset = input.required<string>();
  readonly obligations = input.required<readonly ObligationRow[]>();
  readonly series = input.required<readonly SeriesView[]>();
  /** What is published, for an officer to choose from; and what it is an item of. */
  readonly procedures = input.required<readonly PublishedView[]>();
  readonly kind = input.required<string>();
  readonly officer = input.required<boolean>();
  readonly today = input.required<string>();
  /** Something is owed otherwise than before. */
  readonly changed = output();
  protected readonly filledInWords = {
    untilEmptied: 'Filled before it is due, it may be emptied after, and not filled again.',
    months: `Filled before it is due, it may be used for ${String(filledRules.months.months)} months after, and not filled again.`,
    blocked: 'Filled before it is due, it is blocked all the same.',
  } as const;
  protected readonly adding = signal(false);
  protected readonly fitting = computed(() =>
    proceduresFor(
      this.procedures(),
      this.kind(),
      this.obligations().map((o) => o.procedure),
    ),
  );
  protected readonly doing = signal<Doing>(null);
  protected readonly to = signal('');
  protected readonly why = signal('');
  protected readonly on = signal('');
  protected readonly by = signal('');
  protected readonly no = signal('');
  protected readonly scan = signal<File | null>(null);

  protected every(o: ObligationRow): string {
    const happens = o.triggers.map(triggerInWords).join(', ');
    if (o.interval === null) return happens;
    if (o.counting === 'once') return `once, ${spanInWords(o.interval)} after ${o.anchor}${happens === '' ? '' : `; and ${happens}`}`;
    return `${everyInWords(o.interval)}, ${o.stamp === 'month' ? 'by the month' : countings[o.counting]}${happens === '' ? '' : `; and ${happens}`}`;
  }

  protected proposal(o: ObligationRow): string | null {
    return this.series().find((s) => s.procedure === o.procedure)?.outlook?.propose ?? null;
  }

  protected begin(kind: 'defer' | 'outside', id: string): void {
    this.doing.set({ kind, id });
  }

  private go<T extends { readonly change: string | null }>(asked: Observable<T>, words: (done: T) => string): void {
    this.undo.do(
      asked,
      (done) => {
        this.doing.set(null);
        return words(done);
      },
      () => this.changed.emit(),
    );
  }

  protected defer(id: string): void {
    this.go(this.api.defer(id, { to: this.to(), reason: this.why().trim() }), () => `Put off to ${this.to()}`);
  }

  protected accept(id: string, to: string): void {
    this.go(this.api.bringForward(id, to), () => `Brought forward to ${to}`);
  }

  protected drop(o: ObligationRow): void {
    this.go(this.api.dropObligation(o.id), () => `It no longer owes “${o.title}”`);
  }

  protected owe(given: NewObligation): void {
    this.go(this.api.owe(given), () => {
      this.adding.set(false);
      return 'It owes another check';
    });
  }

  protected usual(): void {
    this.go(this.api.oweUsual(this.asset()), ({ added }) => (added === 0 ? 'It owes its usual checks already' : `${String(added)} usual checks added`));
  }

  protected async settle(id: string): Promise<void> {
    const file = this.scan();
    if (!file) return;
    const scan = await base64Of(file);
    const certificate = { doneOn: this.on(), issuer: this.by().trim(), number: this.no().trim(), scan };
    this.go(this.api.settleOutside(id, certificate), ({ due }) => `Settled; next due ${due ?? 'when it happens'}`);
  }
}
