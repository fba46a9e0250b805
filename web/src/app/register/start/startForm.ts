import { ChangeDetectionStrategy, Component, computed, effect, inject, input, linkedSignal, signal, untracked } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { InstrumentRow, NewRun } from '@grellin/contract';
import {
  assetClass,
  channelsUsed,
  instrumentFitness,
  inRounds,
  mustBeFitted,
  limitedChannels,
  makePlan,
  showQuantity,
  suitedRuleSet,
  unitLabel,
  unknownAttributes,
  type AttributeRow,
  type Attributes,
  type AttributesByRole,
  type Decides,
  type Fitness,
  type Lists,
  type Quantity,
  type Tables,
} from '@grellin/core';
import { findsOf, rigFor } from '@grellin/core/practice';
import { Store } from '@ngrx/store';
import { ButtonModule } from 'primeng/button';
import { SelectModule } from 'primeng/select';
import type { AssetPage } from '../list/registerStore';
import { AssetPageActions, registerFeature } from '../list/registerStore';
import { KeptTables } from '../../table/keptTables';
import { StationDay } from '../../account/stationDay';
import { typedNumber } from '../../form/typedNumber';
import { askedAttribute } from '../entry/itemForm';
import { ScanKey } from '../../scan/scanKey';
import { plainSerial, scannedCode } from '../../scan/scannedCode';
import { OddFigures, OddQuestion } from '../entry/oddFigures';
import { DayList } from './dayList';
import { listLack, listsOfDay, tableLack } from './dayLists';
import { firstGauges, type Picked, fits } from './gauges';
import { UnknownFacts } from './unknownFacts';

interface ChannelChoice {
  readonly channel: string;
  readonly title: string;
  /** It need not be read. */
  readonly optional: boolean;
  /** Nothing is judged on it: it only shows whether something was done. */
  readonly shows: boolean;
  readonly options: readonly { readonly id: string; readonly label: string }[];
}

/** A figure of the day, as the form asks for it. */
interface AskedFigure {
  readonly id: string;
  readonly title: string;
  /** It is noted for the record, and may be left unsaid. */
  readonly optional: boolean;
  /** A span of time is asked for as the moment that it began. */
  readonly since: boolean;
  readonly unit: string;
  readonly units: readonly string[];
}

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

  private readonly fitting = computed(() => {
    const procedure = this.procedure();
    if (!procedure) return [];
    const all = this.page().instruments;
    // A rig that simulates other equipment than this procedure tests is left out.
    const ruleSet = this.ruleSet();
    // What this rule set does not read is not asked for.
    return (ruleSet ? channelsUsed(procedure, ruleSet) : Object.keys(procedure.channels)).map(
      (channel) => [channel, all.filter((i) => fits(i, procedure, channel, this.asset()) && (i.rig === null || i.rig === rigFor(procedure.id)))] as const,
    );
  });
  /** Only what can read it is offered; what was chosen stays while the same ones are. */
  private readonly offered = computed(() => this.fitting().map(([channel, fitting]) => [channel, fitting.filter((i) => !this.short(channel, i))] as const), {
    equal: (a, b) => JSON.stringify(a.map(([c, all]) => [c, all.map((i) => i.id)])) === JSON.stringify(b.map(([c, all]) => [c, all.map((i) => i.id)])),
  });
  protected readonly channels = computed((): readonly ChannelChoice[] =>
    this.offered().map(([channel, fitting]) => ({
      channel,
      title: this.procedure()?.channels[channel]?.title ?? channel,
      optional: !this.isNeeded(channel),
      shows: this.procedure()?.stages.every((s) => !limitedChannels(s.method).includes(channel)) === true,
      options: fitting.map((i) => ({ id: i.id, label: `${i.tag} · ${i.title}${i.inUseBy === null ? '' : ' · in use'}` })),
    })),
  );
  /** What somebody picked of this procedure's gauges, or that a channel is not read. */
  private readonly picked = linkedSignal<string, Picked>({ source: () => this.procedureId(), computation: () => ({}) });
  protected readonly chosenGauges = computed(() => firstGauges(this.offered(), this.today, this.procedure(), this.picked()));

  /** The serial as it is read from the item itself: the tag and the log must mean the same thing. */
  protected readonly serial = signal('');
  private readonly sameSerial = computed(() => plainSerial(scannedCode(this.serial()).serial) === plainSerial(this.asset().serial));

  /** Figures of the day that this class asks for, where the rule set needs them. */
  protected readonly asked = computed((): readonly AskedFigure[] =>
    (assetClass(this.asset().class)?.attributes ?? [])
      .filter((a) => a.asked && (a.noted ?? JSON.stringify(this.ruleSet() ?? '').includes(`"${this.role()}.${a.id}"`)))
      .map((a) => {
        const dimension = a.type.kind === 'quantity' ? a.type.dimension : 'number';
        const units = a.type.kind === 'quantity' ? a.type.usual : askedAttribute(a).units;
        return { id: a.id, title: a.title, optional: a.noted === true, since: dimension === 'time', unit: units[0] ?? '1', units };
      }),
  );
  /** What was typed: a number or a moment, by attribute. */
  protected readonly typed = linkedSignal<Readonly<Record<string, string>>>(() => Object.fromEntries(this.asked().map((a) => [a.id, ''])));
  protected readonly typedUnit = linkedSignal<Readonly<Record<string, string>>>(() => Object.fromEntries(this.asked().map((a) => [a.id, a.unit])));
  protected readonly figures = computed((): Readonly<Record<string, Quantity>> => {
    const now = Date.now();
    return Object.fromEntries(
      this.asked().flatMap((a): (readonly [string, Quantity])[] => {
        const text = this.typed()[a.id] ?? '';
        if (text === '') return [];
        const value = a.since ? (now - Date.parse(text)) / 3_600_000 : (typedNumber(text) ?? NaN);
        return Number.isFinite(value) && value >= 0
          ? [[a.id, { value: Number(value.toPrecision(6)), unit: a.since ? 'h' : (this.typedUnit()[a.id] ?? a.unit) }]]
          : [];
      }),
    );
  });
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
  private readonly attributes = computed((): Attributes => ({ ...this.asset().attributes, ...this.figures() }));
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
    const streams = Object.values(this.chosenGauges()).some((id) => this.instrument(id)?.streams);
    if (!procedure || streams) return [];
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
      const waiting = this.asked().find((a) => !a.optional && this.figures()[a.id] === undefined);
      if (waiting) return `Say: ${waiting.title.toLowerCase()}.`;
      const table = tableLack(code, values);
      if (table !== null) return table;
      const list = listLack(code, values, this.lists(), this.told());
      if (list !== null) return list;
      return `The rule set needs a figure that this item does not carry: ${Object.values(values).join(' ')}`;
    }
    if (this.channels().some((c) => !this.chosenGauges()[c.channel] && !c.optional)) return 'Choose a gauge for each channel.';
    if (this.serial() === '') return 'Scan or type the serial on the item.';
    return this.sameSerial() ? null : 'This is not the item of the register: the serial there is another one.';
  });

  /** Whether a gauge has to be chosen for a channel, beside those that are. */
  private isNeeded(channel: string): boolean {
    const procedure = this.procedure();
    return procedure !== undefined && mustBeFitted(procedure, channel, (c) => this.chosenGauges()[c] !== undefined);
  }

  constructor() {
    // Where the rules take no figure from a table nothing is asked for.
    effect(() => {
      if (this.procedure()?.tables) untracked(() => this.kept.fetch());
    });
  }

  protected tell(list: string, things: readonly Attributes[]): void {
    this.told.update((t) => ({ ...t, [list]: things }));
  }

  private instrument(id: string): InstrumentRow | undefined {
    return this.page().instruments.find((i) => i.id === id);
  }

  /** Whether the chosen gauge can do the work, in the core's judgement. */
  protected fitness(channel: string): Fitness | null {
    const made = this.plan();
    const found = this.instrument(this.chosenGauges()[channel] ?? '');
    if (!made?.ok || !found) return null;
    return instrumentFitness(made.plan, channel, { ...found, fitted: found.fittedTo !== null }, this.today);
  }

  protected readonly unread = $localize`Not read`;
  protected readonly unchosen = $localize`Choose a gauge`;
  protected readonly can = $localize`Decides`;
  protected readonly cannot = $localize`Cannot decide`;

  /** The loss that a gauge decides in a stage, or what gauge would. */
  protected decided(d: Decides): string {
    const loss = showQuantity(d.loss);
    if (!d.would) return $localize`a loss of ${loss}:loss:`;
    const [accuracy, resolution] = [showQuantity(d.would.accuracy), showQuantity(d.would.resolution)];
    return $localize`a loss of ${loss}:loss:; one good to ±${accuracy}:accuracy: in steps of ${resolution}:resolution: would`;
  }

  /** Whether a gauge’s scale does not reach what it would have to show. */
  private short(channel: string, i: InstrumentRow): boolean {
    const made = this.plan();
    if (!made?.ok) return false;
    return instrumentFitness(made.plan, channel, { ...i, fitted: i.fittedTo !== null }, this.today).against.some((a) => a.code === 'rangeShort');
  }

  protected label(unit: string): string {
    return unitLabel(unit);
  }

  protected say(id: string, text: string): void {
    this.typed.update((t) => ({ ...t, [id]: text }));
  }

  protected sayUnit(id: string, unit: string): void {
    this.typedUnit.update((t) => ({ ...t, [id]: unit }));
  }

  protected tick(what: string): void {
    this.brought.update((b) => (b.has(what) ? new Set([...b].filter((x) => x !== what)) : new Set([...b, what])));
  }

  private facts(i: InstrumentRow): string {
    const due =
      i.fittedTo !== null
        ? 'fitted'
        : i.calibrationDue === null
          ? 'no calibration'
          : i.calibrationDue < this.today
            ? 'calibration ran out'
            : `calibration to ${i.calibrationDue}`;
    return `±${showQuantity(i.accuracy)}, steps of ${showQuantity(i.resolution)}; ${due}; ${i.simulated ? 'simulated' : i.streams ? 'sends its readings' : 'read by eye and typed'}`;
  }

  protected about(id: string | undefined): string {
    const found = id === undefined ? undefined : this.instrument(id);
    return found ? this.facts(found) : '';
  }

  protected chooseOther(role: string, id: string | null): void {
    this.chosenOthers.update((c) => ({ ...c, [role]: id }));
  }

  protected chooseGauge(channel: string, id: string | null): void {
    this.picked.update((p) => ({ ...p, [channel]: id }));
  }

  /** The item as it is written now. */
  protected again(): void {
    this.store.dispatch(AssetPageActions.opened({ id: this.asset().id }));
  }

  /** Items can follow one another on these gauges, and it is no retest of one. */
  protected readonly mayRound = computed(() => {
    const [procedure, ruleSet] = [this.procedure(), this.ruleSet()];
    return procedure !== undefined && ruleSet !== undefined && inRounds(procedure, ruleSet) && !this.isRetest();
  });
  protected readonly asRound = linkedSignal<string, boolean>({ source: () => this.procedureId(), computation: () => false });

  protected start(): void {
    if (!this.odd.mayGo(this.asset().class, this.figures())) return;
    const things = this.lists().flatMap(({ name, row }) => (this.toldNow()[name] ?? []).map((thing) => ({ part: row.part, thing })));
    if (!things.every(({ part, thing }) => this.odd.mayGo(part, thing))) return;
    const sure = [this.odd.sure(this.asset().class, this.figures()), ...things.map(({ part, thing }) => this.odd.sure(part, thing))].flatMap(
      (x) => x.sure ?? [],
    );
    const others = Object.entries(this.chosenOthers()).flatMap(([role, id]) => (id === null ? [] : [[role, id] as const]));
    const obligation = this.asset().obligations.find((o) => o.procedure === this.procedureId())?.id;
    const run: NewRun = {
      procedure: this.procedureId(),
      ruleSet: this.ruleSetId(),
      assets: { [this.role()]: this.asset().id, ...Object.fromEntries(others) },
      instruments: this.chosenGauges(),
      ...(Object.keys(this.figures()).length > 0 ? { figures: { [this.role()]: this.figures() } } : {}),
      ...(this.lists().length > 0 ? { lists: Object.fromEntries(this.lists().map(({ name }) => [name, [...(this.toldNow()[name] ?? [])]])) } : {}),
      ...(sure.length > 0 ? { sure: [...new Set(sure)] } : {}),
      ...(this.chosenRig() === null ? {} : { rig: this.chosenRig() ?? '' }),
      ...(obligation === undefined ? {} : { obligation }),
      ...(this.isRetest() ? { retestOf: this.retestOf() ?? '' } : {}),
    };
    this.store.dispatch(AssetPageActions.startPressed({ run, round: this.asRound() && this.mayRound() ? this.asset().tag : null }));
  }
}
