import { CdkDrag, CdkDropList, CdkDropListGroup, type CdkDragDrop } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, DOCUMENT, effect, inject, linkedSignal, signal, untracked } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { MultiSelectModule } from 'primeng/multiselect';
import { SelectModule } from 'primeng/select';
import type { PlanView } from '@grellin/contract';
import { catalogue, mondayOf, weekOf, type WorkPlan } from '@grellin/core';
import { Store } from '@ngrx/store';
import { accountFeature } from '../account/accountStore';
import { Api } from '../api/api';
import { Loader } from '../api/loader';
import { narrowWindow } from '../preference/narrowWindow';
import { Undo } from '../undo/undo';
import { Planner } from './planner';
import { StationDay } from '../account/stationDay';
import {
  benchlessInWords,
  beyondInWords,
  crowdedInWords,
  jobsOf,
  planGrid,
  planInWords,
  roundOf,
  rulesOf,
  usualWishes,
  type Pins,
  type PlanCell,
  type PlanChip,
  type PlanWishes,
} from './planView';

/** Weeks that are looked at together, and planned in all. */
const SHOWN = 8;
/** As many are turned over at once. */
const TURNED = 4;
const PLANNED = 26;
/** Chips of a cell that are drawn; the rest is counted. */
const MOST_CHIPS = 8;

/** A plan and what it was made from. */
interface Made {
  readonly plan: WorkPlan;
  readonly view: PlanView;
  readonly wishes: PlanWishes;
  readonly pins: Pins;
}

/** Weeks across, benches and places down: what is due, put where it can be done. Drag one, and the rest answers. */
@Component({
  selector: 'gr-plan',
  imports: [FormsModule, MultiSelectModule, SelectModule, CdkDrag, CdkDropList, CdkDropListGroup],
  providers: [Planner],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './planScreen.html',
  styleUrl: './planScreen.css',
})
export class PlanScreen {
  private readonly api = inject(Api);
  private readonly planner = inject(Planner);
  private readonly undo = inject(Undo);
  private readonly document = inject(DOCUMENT);
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);
  protected readonly most = MOST_CHIPS;
  private readonly narrow = narrowWindow();
  protected readonly officer = computed(() => this.me()?.role === 'officer');
  protected readonly view = new Loader<PlanView>();
  protected readonly wishes = signal<PlanWishes>(usualWishes);
  protected readonly pins = signal<Pins>(new Map());
  /** The newest plan, with all that it was made from. */
  protected readonly made = signal<Made | null>(null);
  /** Whether the plan that is shown is that of what is wished and placed now: what is not yet worked out cannot be kept. */
  protected readonly settled = computed(() => {
    const made = this.made();
    return made !== null && made.view === this.view.value() && made.wishes === this.wishes() && made.pins === this.pins();
  });
  /** How much of a plan is made; null while none is being made. */
  protected readonly progress = signal<number | null>(null);
  protected readonly problem = signal<string | null>(null);
  protected readonly from = signal(weekOf(inject(StationDay).today()));
  protected readonly chosen = signal<{ readonly chip: PlanChip; readonly cell: PlanCell } | null>(null);
  protected readonly round = signal<{ readonly bench: string; readonly week: number } | null>(null);
  protected readonly adding = signal(false);
  protected readonly newName = signal('');
  protected readonly newHours = signal(20);
  /** Where the chosen test would be put; where it stands, until another place is said. */
  protected readonly toWeek = linkedSignal(() => this.chosen()?.cell.week ?? 0);
  protected readonly toBench = linkedSignal(() => this.chosen()?.cell.bench ?? '');
  /** In the hand a week at a time. */
  protected readonly shown = computed(() => (this.narrow() ? 1 : SHOWN));
  /** Every week that is planned, whichever are shown. */
  protected readonly weekChoices = Array.from({ length: PLANNED }, (_, i) => this.from() + i).map((week) => ({
    id: week,
    title: $localize`week of ${mondayOf(week)}:day:`,
  }));
  /** What a hand's last move means, where it leaves a window. */
  protected readonly notice = signal<string | null>(null);
  protected readonly newSetups = signal<readonly string[]>([]);
  protected readonly procedures = catalogue.map(({ id, title }) => ({ id, title }));
  private readonly before: Pins[] = [];

  protected readonly grid = computed(() => {
    const made = this.made();
    return made && planGrid(made.view, made.plan, made.wishes, made.pins, this.from(), this.shown());
  });
  protected readonly words = computed(() => {
    const made = this.made();
    return made ? planInWords(made.plan, made.view) : '';
  });
  protected readonly crowded = computed(() => {
    const made = this.made();
    return made && crowdedInWords(made.plan);
  });
  protected readonly benchless = computed(() => {
    const made = this.made();
    return made && benchlessInWords(made.plan, made.view);
  });
  protected readonly over = computed(() => {
    const made = this.made();
    return (made?.plan.over ?? []).map(
      (o) =>
        `${made?.view.benches.find((b) => b.id === o.bench)?.name ?? ''}, week of ${mondayOf(o.week)}: ${String(Math.round(o.hours * 10) / 10)} of ${String(o.most)} hours`,
    );
  });
  protected readonly shownRound = computed(() => {
    const made = this.made();
    const r = this.round();
    return made && r ? roundOf(made.view, made.plan, r.bench, r.week) : null;
  });

  constructor() {
    this.again();
    effect(() => {
      const view = this.view.value();
      if (!view) return;
      untracked(() => this.pins.set(new Map(view.kept.filter((k) => k.fixed).map((k) => [k.obligation, { week: k.week, bench: k.bench }]))));
    });
    effect(() => {
      const view = this.view.value();
      const wishes = this.wishes();
      const pins = this.pins();
      if (!view || view.benches.length === 0) return;
      untracked(() => void this.make(view, wishes, pins));
    });
  }

  private async make(view: PlanView, wishes: PlanWishes, pins: Pins): Promise<void> {
    this.progress.set(0);
    this.problem.set(null);
    try {
      const plan = await this.planner.plan(jobsOf(view, wishes, pins), rulesOf(view, wishes, PLANNED), (share) => this.progress.set(share));
      if (!plan) return; // a later wish took its place
      this.made.set({ plan, view, wishes, pins });
    } catch (e) {
      this.problem.set(e instanceof Error ? e.message : 'No plan could be made.');
    }
    this.progress.set(null);
  }

  protected wish(change: Partial<PlanWishes>): void {
    this.wishes.update((w) => ({ ...w, ...change }));
  }

  protected number(text: string, low: number, high: number): number {
    const n = Number(text);
    return Number.isFinite(n) ? Math.min(high, Math.max(low, Math.round(n))) : low;
  }

  protected turn(way: 1 | -1): void {
    this.from.update((f) => f + way * (this.narrow() ? 1 : TURNED));
  }

  protected put(test: string, week: number, bench: string): void {
    this.before.push(this.pins());
    this.pins.update((p) => new Map([...p, [test, { week, bench }]]));
    this.chosen.set(null);
    const view = this.view.value();
    this.notice.set(view ? beyondInWords(view, test, week) : null);
  }

  protected dropped(event: CdkDragDrop<PlanCell, PlanCell, PlanChip>): void {
    const to = event.container.data;
    this.put(event.item.data.id, to.week, to.bench);
  }

  protected letGo(test: string): void {
    this.before.push(this.pins());
    this.notice.set(null);
    this.pins.update((p) => new Map([...p].filter(([id]) => id !== test)));
    this.chosen.set(null);
  }

  /** Back to how it was before the last hand. */
  protected back(): void {
    const last = this.before.pop();
    this.notice.set(null);
    if (last) this.pins.set(last);
  }

  protected mayGoBack(): boolean {
    this.pins();
    return this.before.length > 0;
  }

  protected keep(): void {
    const made = this.made();
    if (!made || !this.settled()) return;
    const placed = made.plan.placed.map((p) => ({ obligation: p.job, week: p.week, bench: p.bench, fixed: made.pins.has(p.job) }));
    this.undo.do(
      this.api.keepPlan({ placed }),
      ({ kept }) => `Kept: ${String(kept)} tests have their week. The calendar shows them.`,
      () => this.again(),
    );
  }

  protected addBench(): void {
    const name = this.newName().trim();
    if (name === '') return;
    this.undo.do(
      this.api.addBench({ name, hoursAWeek: this.newHours(), setups: [...this.newSetups()] }),
      () => {
        this.adding.set(false);
        this.newName.set('');
        this.newSetups.set([]);
        return `Bench ${name} added`;
      },
      () => this.again(),
    );
  }

  protected dropBench(id: string): void {
    this.undo.do(
      this.api.dropBench(id),
      () => 'Bench put away; what stood there is planned anew',
      () => this.again(),
    );
  }

  private again(): void {
    this.view.load(this.api.plan(PLANNED));
  }

  protected print(): void {
    this.document.defaultView?.print();
  }
}
