import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { FormControl, FormGroup, FormsModule, ReactiveFormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import type { AssetRow, RegisterQuery, RegisterSort, SavedViewRow } from '@grellin/contract';
import { assetClasses, occasionKinds, type OccasionKind } from '@grellin/core';
import { Store } from '@ngrx/store';
import { DatePickerModule } from 'primeng/datepicker';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { TableModule } from 'primeng/table';
import { accountFeature } from '../../account/accountStore';
import { Api } from '../../api/api';
import { Allowance } from '../../mark/allowance';
import { Seal, type SealKind } from '../../mark/seal';
import { standingSeal } from '../../mark/standingSeal';
import { Undo } from '../../undo/undo';
import type { ChoiceFilter } from '../../table/choiceFilter';
import { Fold } from '../../table/fold';
import { tiedToAddress } from '../../table/tiedToAddress';
import { Happened } from '../entry/happened';
import { columns } from './columns';
import { readinessWords } from './readinessWords';
import { RegisterActions, registerFeature } from './registerStore';

const occasionWords: Readonly<Record<OccasionKind, string>> = {
  received: 'came in',
  used: 'were used',
  repaired: 'were repaired',
  delivered: 'were filled by a delivery',
  fumigated: 'were fumigated',
  filled: 'were filled',
  emptied: 'were emptied',
};

/** The register: found, sorted and paged by the server; changed in bulk, with a way back. */
@Component({
  selector: 'gr-register',
  imports: [FormsModule, ReactiveFormsModule, RouterLink, DatePickerModule, InputTextModule, SelectModule, TableModule, Allowance, Fold, Happened, Seal],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './register.html',
  styleUrl: './register.css',
})
export class Register {
  private readonly store = inject(Store);
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly undo = inject(Undo);
  private readonly me = this.store.selectSignal(accountFeature.selectMe);
  private readonly loaded = this.store.selectSignal(registerFeature.selectList);

  /** The question, as the address bar has it: a list can be sent to somebody. */
  readonly q = input<string>();
  readonly class = input<string>();
  readonly place = input<string>();
  readonly state = input<string>();
  readonly kit = input<string>();
  readonly dueBy = input<string>();
  readonly sort = input<string>();
  readonly down = input<string>();
  readonly archived = input<string>();

  protected readonly query = computed((): RegisterQuery => {
    const asked = { q: this.q(), class: this.class(), place: this.place(), state: this.state(), kit: this.kit(), dueBy: this.dueBy(), sort: this.sort(), down: this.down(), archived: this.archived() }; // prettier-ignore
    return Object.fromEntries(Object.entries(asked).filter(([, v]) => v !== undefined && v !== ''));
  });
  /** How much of what is folded away in the hand is in force: all but the words. */
  protected readonly inForce = computed(() => [this.class(), this.place(), this.state(), this.dueBy(), this.archived()].filter(Boolean).length);
  protected readonly problem = computed(() => this.loaded().problem);
  protected readonly loading = computed(() => this.loaded().loading);
  protected readonly officer = computed(() => this.me()?.role === 'officer');
  protected readonly mayNote = computed(() => this.me()?.role !== 'reader');
  protected readonly rows = computed(() =>
    (this.loaded().value?.rows ?? []).map((a) => ({
      ...a,
      stateWords: readinessWords[a.readiness],
      used: a.last?.allowancePercent ?? null,
    })),
  );
  protected readonly more = computed(() => this.loaded().value?.next != null);
  protected readonly counted = computed(() => {
    const page = this.loaded().value;
    if (page?.count == null) return '';
    return page.more ? `more than ${String(page.count)} items` : `${String(page.count)} items`;
  });

  protected readonly occasions = occasionKinds.map((id) => ({ id, title: occasionWords[id] }));
  protected readonly places = signal<readonly string[]>([]);
  protected readonly filters: readonly ChoiceFilter<'class' | 'place' | 'state'>[] = [
    { id: 'class', title: $localize`Class`, every: $localize`Every class`, options: signal(assetClasses.map(({ id, title }) => ({ id, title }))), long: true },
    {
      id: 'place',
      title: $localize`Place`,
      every: $localize`Every place`,
      options: computed(() => this.places().map((p) => ({ id: p, title: p }))),
      long: true,
    },
    {
      id: 'state',
      title: $localize`State`,
      every: $localize`Every state`,
      options: signal(Object.entries(readinessWords).map(([id, title]) => ({ id, title }))),
    },
  ];
  /** What narrows the list; the address has it, and what stands in the address stands here. */
  protected readonly form = new FormGroup({
    q: new FormControl<string | null>(null),
    class: new FormControl<string | null>(null),
    place: new FormControl<string | null>(null),
    state: new FormControl<string | null>(null),
    dueBy: new FormControl<string | null>(null),
  });
  protected readonly views = signal<readonly SavedViewRow[]>([]);
  protected readonly allColumns = columns;
  protected readonly chosen = signal<ReadonlySet<string>>(new Set(columns.filter((c) => c.usual).map((c) => c.id)));
  protected readonly shown = computed(() => columns.filter((c) => this.chosen().has(c.id)));
  protected readonly selected = signal<readonly AssetRow[]>([]);
  protected readonly viewName = signal('');
  protected readonly moveTo = signal('');

  constructor() {
    effect(() => {
      this.store.dispatch(RegisterActions.asked({ query: this.query() }));
      this.selected.set([]);
    });
    tiedToAddress(this.form, this.query, (given) => this.ask(given));
    this.fetchPlaces();
    this.api.views().subscribe({ next: (v) => this.views.set(v), error: () => undefined });
  }

  private fetchPlaces(): void {
    this.api.places().subscribe({ next: (p) => this.places.set(p), error: () => undefined });
  }

  private again = (): void => {
    this.store.dispatch(RegisterActions.asked({ query: this.query() }));
    this.selected.set([]);
    this.fetchPlaces();
  };

  protected ask(change: Partial<Record<keyof RegisterQuery, string | null>>): void {
    const params = Object.fromEntries(Object.entries(change).map(([k, v]) => [k, v === '' ? null : v]));
    void this.router.navigate([], { queryParams: params, queryParamsHandling: 'merge', replaceUrl: true });
  }

  protected sortBy(by: RegisterSort): void {
    const turn = this.query().sort === by || (by === 'tag' && this.query().sort === undefined);
    this.ask({ sort: by, down: turn && this.query().down !== 'true' ? 'true' : null });
  }

  protected sorted(by: RegisterSort): 'ascending' | 'descending' | 'none' {
    if ((this.query().sort ?? 'tag') !== by) return 'none';
    return this.query().down === 'true' ? 'descending' : 'ascending';
  }

  protected showMore(): void {
    this.store.dispatch(RegisterActions.moreAsked());
  }

  protected toggle(column: string): void {
    this.chosen.update((c) => (c.has(column) ? new Set([...c].filter((x) => x !== column)) : new Set([...c, column])));
  }

  protected keepView(): void {
    const name = this.viewName().trim();
    if (name === '') return;
    this.api.keepView({ name, query: this.query(), columns: [...this.chosen()] }).subscribe({
      next: (view) => {
        this.views.update((v) => [...v, view]);
        this.viewName.set('');
      },
      error: (e: unknown) => this.undo.refused(e),
    });
  }

  protected useView(id: string): void {
    const view = this.views().find((v) => v.id === id);
    if (!view) return;
    this.chosen.set(new Set(view.columns));
    void this.router.navigate([], { queryParams: view.query });
  }

  protected dropView(id: string): void {
    this.api.dropView(id).subscribe({ next: () => this.views.update((v) => v.filter((x) => x.id !== id)), error: (e: unknown) => this.undo.refused(e) });
  }

  private get ids(): string[] {
    return this.selected().map((a) => a.id);
  }

  protected move(): void {
    const place = this.moveTo().trim();
    if (place === '') return;
    this.change({ place }, `${String(this.ids.length)} moved to ${place}`);
  }

  protected putAway(archived: boolean): void {
    this.change({ archived }, `${String(this.ids.length)} ${archived ? 'put away' : 'taken back into use'}`);
  }

  private change(change: { readonly place?: string; readonly archived?: boolean }, words: string): void {
    this.api.changeMany({ assets: this.ids, ...change }).subscribe({
      next: (done) => {
        this.undo.done(done.change, words, this.again);
        this.again();
      },
      error: (e: unknown) => this.undo.refused(e),
    });
  }

  protected note(kind: OccasionKind): void {
    const n = this.ids.length;
    this.undo.do(this.api.noteOccasion({ assets: this.ids, kind }), () => `Noted: ${String(n)} ${occasionWords[kind]}`, this.again);
  }

  protected sealOf(asset: AssetRow): SealKind {
    return standingSeal(asset.readiness);
  }

  /** The whole of the list, not the page: the server writes it. */
  protected exportHref(format: 'csv' | 'json'): string {
    const params = new URLSearchParams(Object.entries(this.query()).filter((e): e is [string, string] => typeof e[1] === 'string'));
    return `/api/assets.${format}?${params.toString()}`;
  }

  protected labelsHref(): string {
    return `/api/labels.pdf?assets=${this.ids.join(',')}`;
  }
}
