import { ChangeDetectionStrategy, Component, computed, effect, inject, input, linkedSignal, signal, untracked } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { NewRun } from '@grellin/contract';
import {
  assetClass,
  inRounds,
  makePlan,
  suitedRuleSet,
  unitLabel,
  unknownAttributes,
  type AttributeRow,
  type Attributes,
  type AttributesByRole,
  type Lists,
  type Tables,
} from '@grellin/core';
import { findsOf, rigFor } from '@grellin/core/practice';
import { Store } from '@ngrx/store';
import { ButtonModule } from 'primeng/button';
import { SelectModule } from 'primeng/select';
import type { AssetPage } from '../list/registerStore';
import { AssetPageActions, registerFeature } from '../list/registerStore';
import { AwayDoor } from '../../door/awayDoor';
import { KeptTables } from '../../table/keptTables';
import { StationDay } from '../../account/stationDay';
import { ScanKey } from '../../scan/scanKey';
import { plainSerial, scannedCode } from '../../scan/scannedCode';
import { OddFigures, OddQuestion } from '../entry/oddFigures';
import { DayList } from './dayList';
import { listLack, listsOfDay, tableLack } from './dayLists';
import { DayFigures } from './dayFigures';
import { GaugeChoice } from './gaugeChoice';
import { UnknownFacts } from './unknownFacts';

/** Opens a run: procedure, rule set with its explanation, what pulls along, and the gauges. */
@Component({
  selector: 'gr-start-form',
  imports: [FormsModule, ButtonModule, SelectModule, OddQuestion, UnknownFacts, DayList, ScanKey],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './startForm.html',
  styleUrl: './startForm.css',
})
export class StartForm {
  private readonly store = inject(Store);
  private readonly door = inject(AwayDoor);
  private readonly kept = inject(KeptTables);
  protected readonly today = inject(StationDay).today();
  readonly page = input.required<AssetPage>();
  /** The failed run that this is the retest of. */
  readonly retestOf = input<string>();
  protected readonly starting = this.store.selectSignal(registerFeature.selectStarting);
  protected readonly problem = this.store.selectSignal(registerFeature.selectStartProblem);

  protected readonly asset = computed(() => this.page().asset);
  protected readonly procedures = computed(() =>
    this.page()
      .procedures.map((p) => p.document)
      .filter((d) => Object.values(d.roles).some((r) => !r.optional && r.classes.includes(this.asset().class))),
  );
  /** What is to be tested again: only a pass of that test releases it. */
  protected readonly retested = computed(() => this.asset().records.find((r) => r.run === this.retestOf()));
  protected readonly procedureId = linkedSignal(() => this.retested()?.procedure ?? this.asset().obligations[0]?.procedure ?? this.procedures()[0]?.id ?? '');
  protected readonly procedure = computed(() => this.procedures().find((p) => p.id === this.procedureId()));
  protected readonly role = computed(() => Object.entries(this.procedure()?.roles ?? {}).find(([, r]) => r.classes.includes(this.asset().class))?.[0] ?? '');

  protected readonly ruleSetId = linkedSignal(() => {
    const procedure = this.procedure();
    const before = this.retested();
    if (before && before.procedure === procedure?.id) return before.ruleSet;
    const owed = this.asset().obligations.find((o) => o.procedure === procedure?.id)?.ruleSet;
    const suited = procedure && suitedRuleSet(procedure, { [this.role()]: this.asset().attributes });
    return owed ?? suited?.id ?? '';
  });
  /** Whether what is chosen would release what was found: the same procedure by the same rules, or by those that the item owes. */
  protected readonly isRetest = computed(
    () => this.retestOf() !== undefined && (this.retested() === undefined || this.retested()?.procedure === this.procedureId()),
  );
  protected readonly releases = computed(() => {
    const before = this.retested();
    if (!before) return true;
    const owed = this.asset().obligations.some((o) => o.procedure === this.procedureId() && o.ruleSet === this.ruleSetId());
    return before.procedure === this.procedureId() && (before.ruleSet === this.ruleSetId() || owed);
  });
  /** The rules that this item owes the procedure by, where others are chosen: a pass of those settles nothing. */
  protected readonly settlesNot = computed(() => {
    const owed = this.asset().obligations.find((o) => o.procedure === this.procedureId());
    return owed && this.ruleSetId() !== '' && owed.ruleSet !== this.ruleSetId() ? owed.ruleSetTitle : null;
  });
  protected readonly ruleSet = computed(() => this.procedure()?.ruleSets.find((r) => r.id === this.ruleSetId()));
  protected readonly ruleSets = computed(() => this.procedure()?.ruleSets.map((r) => ({ id: r.id, label: r.title })) ?? []);

  protected readonly others = computed(() =>
    Object.entries(this.procedure()?.roles ?? {})
      .filter(([role, r]) => r.optional && role !== this.role())
      .map(([role, r]) => ({
        role,
        title: r.title ?? role,
        options: this.page()
          .assets.filter((a) => r.classes.includes(a.class) && a.id !== this.asset().id)
          .map((a) => ({ id: a.id, label: `${a.tag} ${a.title}` })),
      })),
  );
  protected readonly chosenOthers = linkedSignal<Readonly<Record<string, string | null>>>(() => Object.fromEntries(this.others().map((o) => [o.role, null])));

  protected readonly gauges: GaugeChoice = new GaugeChoice({
    asset: this.asset,
    instruments: computed(() => this.page().instruments),
    procedure: this.procedure,
    ruleSet: this.ruleSet,
    plan: computed(() => this.plan()),
    today: this.today,
  });

  /** The serial as it is read from the item itself: the tag and the log must mean the same thing. */
  protected readonly serial = signal('');
  private readonly sameSerial = computed(() => plainSerial(scannedCode(this.serial()).serial) === plainSerial(this.asset().serial));

  protected readonly day = new DayFigures({ asset: this.asset, role: this.role, ruleSet: this.ruleSet });
  /** The lists of the day that the rule set is repeated for: what is asked of each thing, and what it begins with. */
  protected readonly lists = computed(
    () => {
      const [procedure, ruleSet] = [this.procedure(), this.ruleSet()];
      if (!procedure || !ruleSet) return [];
      return listsOfDay(procedure, ruleSet, this.role(), this.asset());
    },
    { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) },
  );
  protected readonly told = signal<Lists>({});
  /** What was told of the lists that are asked for now. */
  private readonly toldNow = computed((): Lists => Object.fromEntries(this.lists().map(({ name }) => [name, this.told()[name] ?? []])));
  protected readonly odd = new OddFigures();
  /** What the rule set can find of the faults that its procedure knows, and what it cannot: said before anything is put under pressure. */
  protected readonly finds = computed(() => findsOf(this.procedure()?.id ?? '', this.ruleSet()?.id ?? ''));
  /** What the rule set hangs on and nobody has said of the item: nothing unknown is left out, so it is asked. */
  protected readonly unknown = computed((): readonly AttributeRow[] => {
    const [procedure, ruleSet] = [this.procedure(), this.ruleSet()];
    if (!procedure || !ruleSet) return [];
    const missing = unknownAttributes(procedure, ruleSet, { [this.role()]: this.attributes() });
    const rows = assetClass(this.asset().class)?.attributes ?? [];
    return rows.filter((r) => !r.asked && missing.includes(`${this.role()}.${r.id}`));
  });
  /** The kept tables that it would go by today. */
  private readonly tables = computed((): Tables => {
    const [procedure, ruleSet] = [this.procedure(), this.ruleSet()];
    return procedure && ruleSet ? this.kept.tablesFor(procedure, ruleSet, { [this.role()]: this.asset().attributes }, this.today) : {};
  });
  private readonly attributes = computed((): Attributes => ({ ...this.asset().attributes, ...this.day.figures() }));
  /** Everything that is tested: what is coupled counts with what it carries. */
  private readonly items = computed((): AttributesByRole => {
    const chosen = Object.entries(this.chosenOthers()).flatMap(([role, id]) => {
      const found = this.page().assets.find((a) => a.id === id);
      return found ? [[role, found.attributes] as const] : [];
    });
    return { [this.role()]: this.attributes(), ...Object.fromEntries(chosen) };
  });
  private readonly plan = computed(() => {
    const procedure = this.procedure();
    return procedure ? makePlan(procedure, '', this.ruleSetId(), this.items(), this.today, { lists: this.toldNow(), tables: this.tables() }) : null;
  });

  /** Rigs that can stand for the item where nothing of it is read by an instrument that streams. */
  protected readonly rigs = computed(() => {
    const procedure = this.procedure();
    if (!procedure || this.gauges.streams()) return [];
    const seen = new Set<string | null>();
    return this.page()
      .instruments.filter((i) => i.simulated && i.rig === rigFor(procedure.id) && !seen.has(i.device) && seen.add(i.device))
      .map((i) => ({ id: i.id, label: `${i.tag} · ${i.title}` }));
  });
  protected readonly chosenRig = linkedSignal<string, string | null>({ source: () => this.procedureId(), computation: () => null });
  protected readonly bring = computed(() => this.procedure()?.bring ?? []);
  protected readonly brought = signal<ReadonlySet<string>>(new Set());

  /** Why the run could not be opened as chosen, before the server is asked. */
  protected readonly lacks = computed(() => {
    const procedure = this.procedure();
    if (!procedure) return 'No procedure tests this class of item.';

    if (this.ruleSetId() === '') return 'Choose a rule set.';
    const made = this.plan();
    if (made && !made.ok) {
      const { code, values } = made.refusal;
      if (this.unknown().length > 0) return $localize`Say first what is not known of this item; it is written on it.`;
      if (code === 'plan.requirementUnmet') return `${values['text'] ?? ''} (it is ${values['is'] ?? 'unknown'}).`;
      const waiting = this.day.asked().find((a) => !a.optional && this.day.figures()[a.id] === undefined);
      if (waiting) return `Say: ${waiting.title.toLowerCase()}.`;
      const table = tableLack(code, values);
      if (table !== null) return table;
      const list = listLack(code, values, this.lists(), this.told());
      if (list !== null) return list;
      return `The rule set needs a figure that this item does not carry: ${Object.values(values).join(' ')}`;
    }
    if (this.gauges.lacking().length > 0) return 'Choose a gauge for each channel.';
    if (this.serial() === '') return 'Scan or type the serial on the item.';
    return this.sameSerial() ? null : 'This is not the item of the register: the serial there is another one.';
  });

  constructor() {
    // Where the rules take no figure from a table nothing is asked for.
    effect(() => {
      if (this.procedure()?.tables) untracked(() => this.kept.fetch());
    });
  }

  protected tell(list: string, things: readonly Attributes[]): void {
    this.told.update((t) => ({ ...t, [list]: things }));
  }

  protected readonly unread = $localize`Not read`;
  protected readonly unchosen = $localize`Choose a gauge`;
  protected readonly can = $localize`Decides`;
  protected readonly cannot = $localize`Cannot decide`;

  protected label(unit: string): string {
    return unitLabel(unit);
  }

  protected tick(what: string): void {
    this.brought.update((b) => (b.has(what) ? new Set([...b].filter((x) => x !== what)) : new Set([...b, what])));
  }

  protected chooseOther(role: string, id: string | null): void {
    this.chosenOthers.update((c) => ({ ...c, [role]: id }));
  }

  /** The item as it is written now. */
  protected again(): void {
    this.store.dispatch(AssetPageActions.opened({ id: this.asset().id }));
  }

  /** Items can follow one another on these gauges, and it is no retest of one. */
  protected readonly mayRound = computed(() => {
    const [procedure, ruleSet] = [this.procedure(), this.ruleSet()];
    return procedure !== undefined && ruleSet !== undefined && inRounds(procedure, ruleSet) && !this.isRetest() && this.door.station() === null;
  });
  protected readonly asRound = linkedSignal<string, boolean>({ source: () => this.procedureId(), computation: () => false });

  protected start(): void {
    if (!this.odd.mayGo(this.asset().class, this.day.figures())) return;
    const things = this.lists().flatMap(({ name, row }) => (this.toldNow()[name] ?? []).map((thing) => ({ part: row.part, thing })));
    if (!things.every(({ part, thing }) => this.odd.mayGo(part, thing))) return;
    const sure = [this.odd.sure(this.asset().class, this.day.figures()), ...things.map(({ part, thing }) => this.odd.sure(part, thing))].flatMap(
      (x) => x.sure ?? [],
    );
    const others = Object.entries(this.chosenOthers()).flatMap(([role, id]) => (id === null ? [] : [[role, id] as const]));
    const obligation = this.asset().obligations.find((o) => o.procedure === this.procedureId())?.id;
    const run: NewRun = {
      procedure: this.procedureId(),
      ruleSet: this.ruleSetId(),
      assets: { [this.role()]: this.asset().id, ...Object.fromEntries(others) },
      instruments: this.gauges.chosen(),
      ...(Object.keys(this.day.figures()).length > 0 ? { figures: { [this.role()]: this.day.figures() } } : {}),
      ...(this.lists().length > 0 ? { lists: Object.fromEntries(this.lists().map(({ name }) => [name, [...(this.toldNow()[name] ?? [])]])) } : {}),
      ...(sure.length > 0 ? { sure: [...new Set(sure)] } : {}),
      ...(this.chosenRig() === null ? {} : { rig: this.chosenRig() ?? '' }),
      ...(obligation === undefined ? {} : { obligation }),
      ...(this.isRetest() ? { retestOf: this.retestOf() ?? '' } : {}),
    };
    this.store.dispatch(AssetPageActions.startPressed({ run, round: this.asRound() && this.mayRound() ? this.asset().tag : null }));
  }
}
