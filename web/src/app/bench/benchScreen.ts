import { ChangeDetectionStrategy, Component, computed, DestroyRef, DOCUMENT, effect, inject, input, signal, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { decimalIn, stageUnit, verdictSentence, verdictWord, type EventBody, type Grade, factsOf } from '@grellin/core';
import { Store } from '@ngrx/store';
import { accountFeature } from '../account/accountStore';
import { Calculator } from '../calculator/calculator';
import { Allowance } from '../mark/allowance';
import { FindingCard } from '../mark/findingCard';
import { Seal } from '../mark/seal';
import { CsvDrop } from './file/csvDrop';
import type { Timed } from './file/csvReadings';
import { UnitChoice } from '../preference/unitChoice';
import { Chime } from '../preference/chime';
import { WatchRows } from '../watch/watchRows';
import { BenchActions, benchFeature } from './session/benchStore';
import { askings, type Asking, type AskingName } from './ask/askings';
import { benchView } from './ask/benchView';
import { droppableOf, gaugeFactsOf, limitFactsOf, typedChannelsOf } from './ask/facts';
import { BenchKeys, keys, type KeyAct } from './ask/keys';
import { DecayStrip } from './strip/decayStrip';
import { forecastOf } from './strip/forecast';
import { gateOf, refusalOf } from './session/gate';
import { ReadingForm, type TypedReading } from './ask/readingForm';
import { ReasonBar } from './ask/reasonBar';
import { rigAskOf, windowOf } from './rig/rigAsk';
import { RigPanel } from './rig/rigPanel';
import { Columns } from './stage/columns';
import { Expansion } from './stage/expansion';
import { Relief } from './stage/relief';
import { stageView } from './stage/stageView';
import { Stroke } from './stage/stroke';
import { Survey } from './stage/survey';
import { StillAir } from './ask/stillAir';
import { stripView } from './strip/stripView';

/** How often the end of a hold is foretold anew, ms of the run's clock. */
const FORETELL_MS = 2000;

/** The bench: one run on the whole screen, one primary action at a time. */
@Component({
  selector: 'gr-bench-screen',
  imports: [
    RouterLink,
    Allowance,
    Calculator,
    Columns,
    CsvDrop,
    DecayStrip,
    Expansion,
    FindingCard,
    ReadingForm,
    ReasonBar,
    Relief,
    RigPanel,
    Seal,
    StillAir,
    Stroke,
    Survey,
    WatchRows,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './benchScreen.html',
  styleUrl: './benchScreen.css',
})
export class BenchScreen {
  private readonly store = inject(Store);
  private readonly router = inject(Router);
  protected readonly chime = inject(Chime);
  private readonly units = inject(UnitChoice);
  readonly id = input.required<string>();

  protected readonly bench = this.store.selectSignal(benchFeature.selectBenchState);
  protected readonly mine = this.store.selectSignal(benchFeature.selectMine);
  protected readonly now = this.store.selectSignal(benchFeature.selectNow);
  private readonly me = this.store.selectSignal(accountFeature.selectMe);
  protected readonly asking = signal<Asking | null>(null);
  /** The place that a grade is asked for, where it was tapped. */
  protected readonly graded = signal<string | null>(null);
  protected readonly keys = keys;
  /** The calculator lies open beside the run. */
  protected readonly calculating = signal(false);
  /** The sheet of keys. */
  protected readonly sheet = signal(false);
  protected readonly view = computed(() => {
    const { plan, run } = this.bench();
    return plan ? benchView(plan, run, this.now(), this.units.choices()) : null;
  });
  protected readonly mainAsset = computed(() => {
    const view = this.bench().view;
    return view ? Object.values(view.assets).find((a) => a.tag === view.tag) : undefined;
  });
  protected readonly coupled = computed(() => {
    const view = this.bench().view;
    return view ? Object.values(view.assets).filter((a) => a.tag !== view.tag) : [];
  });
  protected readonly ruleSet = computed(() => this.bench().plan?.ruleSet);
  protected readonly mayWork = computed(() => this.me()?.role !== 'reader');
  protected readonly simulated = computed(() => this.bench().view?.clock === 'simulated');

  protected readonly strip = computed(() => {
    const { plan, run } = this.bench();
    const view = this.view();
    if (!plan || !view) return null;
    const stage = view.next.kind === 'begin' || view.next.kind === 'seal' ? view.judged?.stage : view.stage;
    if (!stage) return null;
    const unit = stageUnit(plan, stage.id);
    const w = windowOf(view.next);
    return stripView(plan, run, stage, this.now(), w && { low: decimalIn(w.low, unit).toNumber(), high: decimalIn(w.high, unit).toNumber() });
  });
  protected readonly picture = computed(() => {
    const { plan, run } = this.bench();
    const view = this.view();
    return plan && view?.stage ? stageView(plan, run, view.stage, view.next, this.now()) : null;
  });
  /** What the rig's hand and eye are asked for. */
  protected readonly rigAsk = computed(() => rigAskOf(this.bench().view?.procedure ?? '', this.view()?.next), {
    equal: (a, b) => JSON.stringify(a) === JSON.stringify(b),
  });
  protected readonly rigInstrument = computed(() => {
    const view = this.bench().view;
    return view?.rig ?? Object.values(view?.instruments ?? {}).find((i) => i.simulated && i.streams);
  });
  protected readonly typedChannels = computed(() => {
    const view = this.view();
    return view ? typedChannelsOf(view, this.bench().view?.instruments ?? {}) : [];
  });
  /** Channels that a logger's file could fill. */
  protected readonly droppable = computed(() => {
    const view = this.view();
    return view ? droppableOf(view, this.bench().run, this.typedChannels()) : [];
  });
  protected readonly startedMs = computed(() => Date.parse(this.bench().run.opened?.startedAt ?? ''));
  protected readonly gaugeFacts = computed(() => {
    const view = this.view();
    return view ? gaugeFactsOf(view, this.bench().run) : [];
  });
  protected readonly limitFacts = computed(() => {
    const { plan } = this.bench();
    const view = this.view();
    return plan && view?.stage ? limitFactsOf(plan, view.stage, view, this.units.choices()) : [];
  });
  /** A store is timed by the sun and the wind as much as by the clock: before its half-life starts, both are asked about. */
  protected readonly byWeather = computed(() => {
    const n = this.view()?.next;
    const waits = n?.kind === 'begin' || n?.kind === 'answer' || n?.kind === 'reach' || n?.kind === 'act' || n?.kind === 'wait' || n?.kind === 'start';
    return waits && (this.bench().plan?.stages ?? []).some((s) => factsOf(s.method).byWeather);
  });

  /** The end of the hold as it can be foretold, at most every other second: it may end a hopeless hold, never a passing one. */
  private readonly foretoldAt = computed(() => (this.view()?.next.kind === 'hold' ? Math.floor(this.now() / FORETELL_MS) : null));
  protected readonly foretold = computed(() => {
    if (this.foretoldAt() === null) return null;
    return untracked(() => {
      const { plan, run } = this.bench();
      const stage = this.view()?.stage;
      return plan && stage ? forecastOf(plan, run, stage) : null;
    });
  });
  /** The forecast on the strip. */
  protected readonly drawnStrip = computed(() => {
    const strip = this.strip();
    const f = this.foretold();
    return strip && f?.bar && strip.wedge ? { ...strip, forecast: { at: strip.wedge.until, ...f.bar } } : strip;
  });

  /** How many events are drawn, of every source. */
  protected readonly position = computed(() => Object.values(this.bench().run.sources).reduce((sum, s) => sum + s.n, 0));
  /** Why the primary action is not open yet; null when it is. */
  protected readonly notYet = gateOf(
    this.bench,
    computed(() => this.view()?.primary.body ?? null),
    this.now,
  );
  protected readonly enabled = computed(() => {
    const view = this.view();
    return this.mine() && this.mayWork() && view?.primary.body !== null && this.notYet() === null;
  });
  /** The stage that could be tried again now. */
  protected readonly redo = computed(() => {
    const view = this.view();
    const { run } = this.bench();
    const stage = view?.judged?.stage ?? view?.stage;
    if (!stage || view?.next.kind === 'closed') return null;
    const attempt = (run.attempts[stage.id]?.at(-1)?.attempt ?? 0) + 1;
    if (attempt === 1) return null;
    return this.refusal({ kind: 'began', stage: stage.id, attempt, reason: 'x' }) === null ? { stage, attempt } : null;
  });
  protected readonly verdict = computed(() => {
    const { plan } = this.bench();
    const result = this.view()?.result;
    const tag = this.bench().view?.tag ?? '';
    return plan && result ? verdictSentence(tag, result.verdict, verdictWord(plan, result.verdict)) : '';
  });

  constructor() {
    effect(() => this.store.dispatch(BenchActions.opened({ id: this.id() })));
    const document = inject(DOCUMENT);
    const pressed = new BenchKeys();
    const key = (event: KeyboardEvent): void => {
      const act = pressed.pressed(event);
      if (act === null || this.asking()) return;
      event.preventDefault();
      this.act(act);
    };
    const pointer = (): void => pressed.pointed();
    document.addEventListener('keydown', key);
    document.addEventListener('pointerdown', pointer);
    inject(DestroyRef).onDestroy(() => {
      document.removeEventListener('keydown', key);
      document.removeEventListener('pointerdown', pointer);
      this.store.dispatch(BenchActions.left());
    });
    // A timer that has run out, and a prompt of the rule set, are heard.
    let timed = false;
    let prompted = 0;
    effect(() => {
      const view = this.view();
      const waits = view?.next.kind === 'wait' || view?.next.kind === 'hold';
      if ((timed && !waits) || (view?.prompt?.n ?? 0) > prompted) this.chime.sound();
      timed = waits;
      prompted = waits ? Math.max(prompted, view.prompt?.n ?? 0) : 0;
    });
    // What only needs time is said by the program itself, once.
    let said = '';
    effect(() => {
      const body = this.byItself();
      const mark = JSON.stringify(body);
      if (body === null || mark === said || !this.mine() || !this.mayWork()) return;
      if (this.refusal(body) !== null) return;
      said = mark;
      untracked(() => this.say(body));
    });
  }

  private byItself(): EventBody | null {
    const n = this.view()?.next;
    if (n?.kind === 'wait' && this.now() >= n.until) return { kind: 'marked', mark: n.step.id };
    if (n?.kind === 'hold' && this.now() >= n.until) return { kind: 'ended', stage: n.stage.id, attempt: n.attempt };
    if (n?.kind === 'end') return { kind: 'ended', stage: n.stage.id, attempt: n.attempt };
    return null;
  }

  private refusal(body: EventBody): string | null {
    return refusalOf(this.bench(), this.now(), body);
  }

  private act(what: KeyAct): void {
    const of: Readonly<Partial<Record<KeyAct, () => void>>> = {
      press: () => this.press(),
      sound: () => this.chime.toggle(),
      calculator: () => this.calculating.update((open) => !open),
      sheet: () => this.sheet.update((open) => !open),
      close: () => {
        this.sheet.set(false);
        this.calculating.set(false);
      },
    };
    const own = of[what];
    if (own) own();
    else this.ask(what as AskingName);
  }

  /** Asks for the reason of what is only said with one; nothing where it cannot be said now. */
  protected ask(what: AskingName): void {
    const view = this.view();
    if (!view || !this.mine()) return;
    const asking = askings[what]({ next: view.next, lastSaid: view.lastSaid, redo: this.redo() });
    if (asking) this.asking.set(asking);
  }

  protected say(body: EventBody): void {
    this.store.dispatch(BenchActions.stated({ body }));
  }

  protected press(): void {
    const view = this.view();
    if (view?.next.kind === 'closed') {
      const record = this.bench().view?.record;
      if (record) void this.router.navigate(['/log', record]);
      return;
    }
    if (this.enabled() && view?.primary.body) this.say(view.primary.body);
  }

  /** A place of the route, with how hard it bubbled. */
  protected grade(grade: Grade): void {
    const n = this.view()?.next;
    const spot = this.graded() ?? (n?.kind === 'spot' ? n.spot.id : null);
    this.graded.set(null);
    if (spot !== null && this.mine()) this.say({ kind: 'spotted', spot, grade });
  }

  /** A place tapped on the drawing: the one that is soaped now, or one that has been looked at and has grown worse. */
  protected tapped(spot: string): void {
    const view = this.view();
    if (!view || !this.mine() || !this.mayWork()) return;
    const n = view.next;
    if (n.kind === 'spot' && n.spot.id === spot) this.graded.set(spot);
    else if (this.refusal({ kind: 'spotted', spot, grade: 'grows' }) === null) this.graded.set(spot);
  }

  protected given(reason: string): void {
    const asking = this.asking();
    this.asking.set(null);
    if (asking) this.say(asking.body(reason));
  }

  /** A note of the run, as it stands: it is part of the record and judged by nothing. */
  protected noteDown(note: string): void {
    this.calculating.set(false);
    this.say({ kind: 'amended', note });
  }

  protected takeFile(readings: readonly Timed[]): void {
    this.store.dispatch(BenchActions.fileTaken({ readings }));
  }

  protected read(reading: TypedReading): void {
    this.say({ kind: 'reading', channel: reading.channel, quantity: reading.quantity });
  }

  protected takeOver(): void {
    this.store.dispatch(BenchActions.takeOverPressed());
  }
}
