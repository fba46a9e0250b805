import { ChangeDetectionStrategy, Component, inject, input, model, output, signal } from '@angular/core';
import { takeUntilDestroyed, toSignal } from '@angular/core/rxjs-interop';
import { NonNullableFormBuilder, ReactiveFormsModule } from '@angular/forms';
import type { AssetRow, KitRow, Problem } from '@grellin/contract';
import { addDays, INSTRUMENT_CLASS } from '@grellin/core';
import { CheckboxModule } from 'primeng/checkbox';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { catchError, of } from 'rxjs';
import { StationDay } from '../account/stationDay';
import { Api, problemOf } from '../api/api';
import { Loader } from '../api/loader';
import { ScanKey } from '../scan/scanKey';
import { plainSerial } from '../scan/scannedCode';

const WEEK_DAYS = 7;

/** Chooses items by place, kit, what falls due this week, by a part of a tag, or by scanning them; what was found is ticked, and may be left out again. */
@Component({
  selector: 'gr-item-picker',
  imports: [ReactiveFormsModule, CheckboxModule, InputTextModule, SelectModule, ScanKey],
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
    @if (problem(); as p) {
      <p class="problem" role="alert">{{ p.message }}</p>
    }
    @if (items().length > 0) {
      <ul>
        @for (a of items(); track a.id) {
          <li>
            <p-checkbox [inputId]="'pick-' + a.id" [value]="a.id" [formControl]="ticked" />
            <label [for]="'pick-' + a.id"
              ><strong>{{ a.tag }}</strong> {{ a.title }} <span class="faint">{{ a.place }} · {{ a.why }}</span></label
            >
          </li>
        }
      </ul>
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
    ul {
      list-style: none;
      padding: 0;
      margin: 0 0 var(--space-4);
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(min(22rem, 100%), 1fr));
      gap: 0 var(--space-5);
    }
    li {
      display: flex;
      gap: var(--space-3);
      align-items: center;
      min-height: var(--touch);
      border-bottom: var(--line) solid var(--rule);
    }
    label {
      flex: 1;
      min-width: 0;
    }
  `,
})
export class ItemPicker {
  /** As many as can be chosen. */
  readonly most = input.required<number>();
  /** Ids of what is ticked, in the order in which it was found. */
  readonly chosen = model<readonly string[]>([]);
  /** Whenever somebody asks for more items. */
  readonly asked = output();
  private readonly api = inject(Api);
  private readonly days = inject(StationDay);
  protected readonly places = toSignal(this.api.places().pipe(catchError(() => of([] as readonly string[]))), { initialValue: [] });
  protected readonly kits = new Loader<readonly KitRow[]>();
  protected readonly none = signal(false);
  protected readonly problem = signal<Problem | null>(null);
  protected readonly items = signal<readonly AssetRow[]>([]);
  private readonly forms = inject(NonNullableFormBuilder);
  protected readonly from = this.forms.group({ place: this.forms.control<string | null>(null), kit: this.forms.control<KitRow | null>(null), code: '' });
  protected readonly ticked = this.forms.control<readonly string[]>([]);

  constructor() {
    this.kits.load(this.api.kits());
    this.ticked.valueChanges.pipe(takeUntilDestroyed()).subscribe((ids) => {
      this.chosen.set(this.items().flatMap((a) => (ids.includes(a.id) ? [a.id] : [])));
    });
  }

  /** Nothing is found and nothing ticked any more. */
  clear(): void {
    this.items.set([]);
    this.ticked.setValue([]);
  }

  private put(found: readonly AssetRow[]): void {
    const fresh = found
      .filter((a) => !a.archived && a.class !== INSTRUMENT_CLASS && !this.items().some((i) => i.id === a.id))
      .slice(0, this.most() - this.items().length);
    this.none.set(fresh.length === 0);
    this.items.update((all) => [...all, ...fresh]);
    this.ticked.setValue([...this.ticked.value, ...fresh.map((a) => a.id)]);
  }

  protected add(query: Parameters<Api['assets']>[0], of: (rows: readonly AssetRow[]) => readonly AssetRow[] = (rows) => rows): void {
    this.asked.emit();
    this.problem.set(null);
    this.api
      .assets({ ...query, limit: String(this.most()) })
      .subscribe({ next: ({ rows }) => this.put(of(rows)), error: (e: unknown) => this.problem.set(problemOf(e)) });
  }

  protected addKit(kit: KitRow): void {
    this.asked.emit();
    for (const id of kit.assets) this.api.asset(id).subscribe({ next: (found) => this.put([found]), error: (e: unknown) => this.problem.set(problemOf(e)) });
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
}
