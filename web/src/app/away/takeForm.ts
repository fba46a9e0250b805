import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { type AbstractControl, NonNullableFormBuilder, ReactiveFormsModule, type ValidationErrors, Validators } from '@angular/forms';
import { MOST_ALONG, type AssetRow, type KitRow, type Problem } from '@grellin/contract';
import { addDays, INSTRUMENT_CLASS } from '@grellin/core';
import { ButtonModule } from 'primeng/button';
import { CheckboxModule } from 'primeng/checkbox';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { catchError, map, of } from 'rxjs';
import { StationDay } from '../account/stationDay';
import { Api, problemOf } from '../api/api';
import { Loader } from '../api/loader';
import { Field } from '../form/field';
import { readinessWords } from '../register/list/readinessWords';
import { ScanKey } from '../scan/scanKey';
import { plainSerial } from '../scan/scannedCode';
import { Away } from './away';
import { SHORTEST_PIN } from './vault';

const WEEK_DAYS = 7;

const alike = (form: AbstractControl): ValidationErrors | null => {
  const { pin, again } = form.getRawValue() as { pin: string; again: string };
  return pin === again ? null : { alike: true };
};

/** Chooses items by place, kit, what falls due this week, or by scanning them, and takes them along under a PIN. */
@Component({
  selector: 'gr-take-form',
  imports: [ReactiveFormsModule, ButtonModule, CheckboxModule, InputTextModule, SelectModule, Field, ScanKey],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <form class="from" [formGroup]="from" (ngSubmit)="addScanned()">
      <p-select
        [options]="$any(places())"
        placeholder="From a place"
        i18n-placeholder
        ariaLabel="From a place"
        i18n-ariaLabel
        [filter]="true"
        formControlName="place"
        (onChange)="add({ place: $event.value })"
      />
      <p-select
        [options]="$any(kits.value() ?? [])"
        optionLabel="name"
        placeholder="A kit"
        i18n-placeholder
        ariaLabel="A kit"
        i18n-ariaLabel
        formControlName="kit"
        (onChange)="addKit($event.value)"
      />
      <button i18n type="button" class="control" (click)="addDue()">Due within a week</button>
      <gr-scan-key (scanned)="addScanned($event.serial)" />
      <input
        pInputText
        type="search"
        placeholder="Tag or serial"
        i18n-placeholder
        aria-label="Tag or serial of an item"
        i18n-aria-label
        formControlName="code"
      />
    </form>
    @if (none()) {
      <p role="status" i18n class="faint">Nothing more was found there.</p>
    }
    @if (items().length > 0) {
      <ul class="items">
        @for (a of items(); track a.id) {
          <li>
            <p-checkbox [inputId]="'along-' + a.id" [value]="a.id" [formControl]="chosen" />
            <label [for]="'along-' + a.id"
              ><strong>{{ a.tag }}</strong> {{ a.title }} <span class="faint">{{ a.place }} · {{ word(a) }}</span></label
            >
          </li>
        }
      </ul>
      <form [formGroup]="form" (ngSubmit)="take()">
        <gr-field label="For" i18n-label for="hours">
          <p-select inputId="hours" formControlName="hours" [options]="spans" optionLabel="words" optionValue="hours" />
        </gr-field>
        <gr-field label="PIN" i18n-label for="pin" [hint]="pinHint">
          <input pInputText id="pin" type="password" inputmode="numeric" autocomplete="new-password" formControlName="pin" />
        </gr-field>
        <gr-field label="The PIN again" i18n-label for="again">
          <input pInputText id="again" type="password" inputmode="numeric" autocomplete="new-password" formControlName="again" />
        </gr-field>
        @if (form.hasError('alike') && form.controls.again.touched) {
          <p i18n class="problem" role="alert">The two are not the same.</p>
        }
        @if (problem(); as p) {
          <p class="problem" role="alert">{{ p.message }}</p>
        }
        <button pButton type="submit" [disabled]="waiting() || count() === 0">{{ label() }}</button>
      </form>
    }
  `,
  styles: `
    .from {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: var(--space-3);
      margin-bottom: var(--space-4);
    }
    .items {
      list-style: none;
      padding: 0;
      margin: 0 0 var(--space-4);
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(min(22rem, 100%), 1fr));
      gap: 0 var(--space-5);
    }
    .items li {
      display: flex;
      gap: var(--space-3);
      align-items: center;
      min-height: var(--touch);
      border-bottom: var(--line) solid var(--rule);
    }
    .items label {
      flex: 1;
      min-width: 0;
    }
    form {
      max-width: 24rem;
      margin-bottom: var(--space-5);
    }
  `,
})
export class TakeForm {
  private readonly api = inject(Api);
  private readonly away = inject(Away);
  private readonly days = inject(StationDay);
  readonly taken = output<string>();
  protected readonly places = toSignal(this.api.places().pipe(catchError(() => of([] as readonly string[]))), { initialValue: [] });
  protected readonly kits = new Loader<readonly KitRow[]>();
  protected readonly none = signal(false);
  protected readonly items = signal<readonly AssetRow[]>([]);
  private readonly forms = inject(NonNullableFormBuilder);
  protected readonly from = this.forms.group({ place: this.forms.control<string | null>(null), kit: this.forms.control<KitRow | null>(null), code: '' });
  /** Ids of the items that are ticked. */
  protected readonly chosen = this.forms.control<readonly string[]>([]);
  protected readonly count = toSignal(this.chosen.valueChanges.pipe(map((ids) => ids.length)), { initialValue: 0 });
  protected readonly waiting = signal(false);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly pinHint = $localize`Digits or letters, ${SHORTEST_PIN}:least: at least: it opens what lies on this device, and nobody can tell you what it was.`;
  protected readonly spans = [4, 8, 12, 24, 48, 72].map((hours) => ({ hours, words: $localize`${hours}:hours: hours` }));
  protected readonly form = this.forms.group(
    {
      hours: [12, (c: AbstractControl) => Validators.required(c)],
      pin: ['', [(c: AbstractControl) => Validators.required(c), Validators.minLength(SHORTEST_PIN)]],
      again: ['', (c: AbstractControl) => Validators.required(c)],
    },
    { validators: alike },
  );
  protected readonly label = computed(() => {
    const n = this.count();
    return this.waiting() ? $localize`Taking along…` : n === 1 ? $localize`Take 1 item along` : $localize`Take ${n}:count: items along`;
  });

  constructor() {
    this.kits.load(this.api.kits());
  }

  protected word(a: AssetRow): string {
    return readinessWords[a.readiness];
  }

  private put(found: readonly AssetRow[]): void {
    const fresh = found
      .filter((a) => !a.archived && a.class !== INSTRUMENT_CLASS && !this.items().some((i) => i.id === a.id))
      .slice(0, MOST_ALONG - this.items().length);
    this.none.set(fresh.length === 0);
    this.items.update((all) => [...all, ...fresh]);
    this.chosen.setValue([...this.chosen.value, ...fresh.map((a) => a.id)]);
  }

  protected add(query: Parameters<Api['assets']>[0], of: (rows: readonly AssetRow[]) => readonly AssetRow[] = (rows) => rows): void {
    this.problem.set(null);
    this.api
      .assets({ ...query, limit: String(MOST_ALONG) })
      .subscribe({ next: ({ rows }) => this.put(of(rows)), error: (e: unknown) => this.problem.set(problemOf(e)) });
  }

  protected addKit(kit: KitRow): void {
    for (const id of kit.assets) this.api.asset(id).subscribe({ next: (found) => this.put([found]) });
  }

  protected addDue(): void {
    this.add({ dueBy: addDays(this.days.today(), WEEK_DAYS) });
  }

  protected addScanned(code = this.from.controls.code.value): void {
    this.from.controls.code.reset();
    const wanted = plainSerial(code);
    if (wanted === '') return;
    // What was read off an item is that one and no other; a part of a tag finds all that have it.
    const same = (a: AssetRow): boolean => plainSerial(a.tag) === wanted || plainSerial(a.serial) === wanted;
    this.add({ q: code.trim() }, (rows) => (rows.some(same) ? rows.filter(same) : rows));
  }

  protected async take(): Promise<void> {
    this.form.markAllAsTouched();
    if (!this.form.valid) return;
    this.waiting.set(true);
    this.problem.set(null);
    const { hours, pin } = this.form.getRawValue();
    try {
      await this.away.take({ assets: [...this.chosen.value], hours }, pin);
      this.items.set([]);
      this.chosen.setValue([]);
      this.taken.emit(pin);
    } catch (error) {
      this.problem.set(problemOf(error));
    }
    this.form.controls.pin.reset();
    this.form.controls.again.reset();
    this.waiting.set(false);
  }
}
