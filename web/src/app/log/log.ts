import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { verdicts } from '@grellin/contract';
import type { Verdict } from '@grellin/core';
import { Store } from '@ngrx/store';
import { ButtonModule } from 'primeng/button';
import { DatePickerModule } from 'primeng/datepicker';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { SkeletonModule } from 'primeng/skeleton';
import { TableModule } from 'primeng/table';
import { StationDay } from '../account/stationDay';
import { Api } from '../api/api';
import { Allowance } from '../mark/allowance';
import { Seal } from '../mark/seal';
import type { ChoiceFilter } from '../table/choiceFilter';
import { Fold } from '../table/fold';
import { tiedToAddress } from '../table/tiedToAddress';
import { asked, questionOf, questionText, type Asked, type Question } from './logQuestion';
import { LogActions, logFeature } from './logStore';

const verdictWords: Readonly<Record<Verdict, string>> = {
  pass: $localize`Passed`,
  fail: $localize`Failed`,
  undecided: $localize`Undecided`,
  void: $localize`Void`,
};

interface Choice {
  readonly id: string;
  readonly title: string;
}

const kinds: readonly Choice[] = [
  { id: 'false', title: $localize`Measured` },
  { id: 'true', title: $localize`Simulated` },
];

/** The log: every run that came to its end, newest first, found by the server. Nothing in it is edited. */
@Component({
  selector: 'gr-log',
  imports: [ReactiveFormsModule, RouterLink, ButtonModule, DatePickerModule, InputTextModule, SelectModule, SkeletonModule, TableModule, Allowance, Fold, Seal],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './log.html',
  styleUrl: './log.css',
})
export class Log {
  private readonly store = inject(Store);
  private readonly router = inject(Router);
  private readonly api = inject(Api);
  private readonly day = inject(StationDay);
  private readonly loaded = this.store.selectSignal(logFeature.selectList);

  /** The question, as the address bar has it: what was found can be sent to somebody, or kept. */
  readonly q = input<string>();
  readonly from = input<string>();
  readonly to = input<string>();
  readonly verdict = input<string>();
  readonly procedure = input<string>();
  readonly gauge = input<string>();
  readonly by = input<string>();
  readonly simulated = input<string>();

  protected readonly query = computed(
    () =>
    questionOf({ q: this.q(), from: this.from(), to: this.to(), verdict: this.verdict(), procedure: this.procedure(), gauge: this.gauge(), by: this.by(), simulated: this.simulated() }), // prettier-ignore
  );
  protected readonly ofSimulated = $localize` · simulated`;
  /** How much of what is folded away in the hand is in force: all but the words. */
  protected readonly inForce = computed(() => Object.keys(this.query()).filter((name) => name !== 'q').length);
  protected readonly narrowed = computed(() => Object.keys(this.query()).length > 0);
  protected readonly problem = computed(() => this.loaded().problem);
  protected readonly loading = computed(() => this.loaded().loading);
  protected readonly first = computed(() => this.loaded().value === null);
  protected readonly rows = computed(() => (this.loaded().value?.rows ?? []).map((r) => ({ ...r, when: this.day.time(r.sealedAt) })));
  protected readonly more = computed(() => this.loaded().value?.next != null);
  protected readonly counted = computed(() => {
    const page = this.loaded().value;
    if (page?.count == null) return '';
    return page.more ? $localize`more than ${page.count}:count: records` : page.count === 1 ? $localize`1 record` : $localize`${page.count}:count: records`;
  });
  protected readonly exportHref = computed(() => `/api/records.csv?${questionText(this.query())}`);

  private readonly procedures = signal<readonly Choice[]>([]);
  private readonly gauges = signal<readonly Choice[]>([]);
  private readonly people = signal<readonly Choice[]>([]);
  protected readonly filters: readonly ChoiceFilter<Asked>[] = [
    { id: 'verdict', title: $localize`Verdict`, every: $localize`Every verdict`, options: signal(verdicts.map((id) => ({ id, title: verdictWords[id] }))) },
    { id: 'procedure', title: $localize`Procedure`, every: $localize`Every procedure`, options: this.procedures, long: true },
    { id: 'gauge', title: $localize`Gauge`, every: $localize`Every gauge`, options: this.gauges, long: true },
    { id: 'by', title: $localize`Sealed by`, every: $localize`Everybody`, options: this.people, long: true },
    { id: 'simulated', title: $localize`Measured or simulated`, every: $localize`Measured and simulated`, options: signal(kinds) },
  ];

  protected readonly form = new FormGroup({
    q: new FormControl('', { nonNullable: true }),
    from: new FormControl<string | null>(null),
    to: new FormControl<string | null>(null),
    verdict: new FormControl<string | null>(null),
    procedure: new FormControl<string | null>(null),
    gauge: new FormControl<string | null>(null),
    by: new FormControl<string | null>(null),
    simulated: new FormControl<string | null>(null),
  });

  constructor() {
    effect(() => {
      const query = this.query();
      this.store.dispatch(LogActions.asked({ query }));
      if (query.procedure ?? query.gauge ?? query.by) this.fetchChoices();
    });
    tiedToAddress(this.form, this.query, (given) => this.ask(given));
  }

  private fetched = false;

  /** What can be chosen is fetched when somebody turns to it, or where the address has chosen already: the documents of all procedures are no small thing on a phone. */
  protected fetchChoices(): void {
    if (this.fetched) return;
    this.fetched = true;
    const failed = { error: () => (this.fetched = false) };
    this.api.procedures().subscribe({ next: (all) => this.procedures.set(all.map(({ document: d }) => ({ id: d.id, title: d.title }))), ...failed });
    this.api.instruments().subscribe({ next: (all) => this.gauges.set(all.map((i) => ({ id: i.id, title: `${i.tag} · ${i.title}` }))), ...failed });
    this.api.people().subscribe({ next: (all) => this.people.set(all.map((p) => ({ id: p.id, title: p.fullName }))), ...failed });
  }

  private ask(given: Question): void {
    const query = questionOf(given);
    if (questionText(query) === questionText(this.query())) return;
    const queryParams = Object.fromEntries(asked.map((name) => [name, query[name] ?? null]));
    void this.router.navigate([], { queryParams, queryParamsHandling: 'merge', replaceUrl: true });
  }

  protected everything(): void {
    this.ask({});
  }

  protected showMore(): void {
    this.store.dispatch(LogActions.moreAsked());
  }
}
