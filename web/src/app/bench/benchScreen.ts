import { ChangeDetectionStrategy, Component, computed, DestroyRef, DOCUMENT, effect, inject, input, signal, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import {
  decimalIn,
  limitInWords,
  preferred,
  readingsOf,
  showQuantity,
  stageUnit,
  verdictSentence,
  verdictWord,
  type EventBody,
  type Grade,
  type Quantity,
} from '@grellin/core';
import { movesAt } from '@grellin/core/rig';
import { Store } from '@ngrx/store';
import { accountFeature } from '../account/accountStore';
import { Calculator } from '../calculator/calculator';
import { Allowance } from '../mark/allowance';
import { FindingCard } from '../mark/findingCard';
import { Seal } from '../mark/seal';
import { CsvDrop } from './csvDrop';
import type { Timed } from './csvReadings';
import { UnitChoice } from '../settings/unitChoice';
import { Chime } from '../watch/chime';
import { WatchRows } from '../watch/watchRows';
import { BenchActions, benchFeature } from './benchStore';
import { benchView } from './benchView';
import { DecayStrip } from './decayStrip';
import { forecastOf } from './forecast';
import { gateOf, refusalOf } from './gate';
import { ReadingForm, type TypedReading } from './readingForm';
import { ReasonBar } from './reasonBar';
import { RigPanel, type RigAsk } from './rigPanel';
import { Columns } from './stage/columns';
import { Expansion } from './stage/expansion';
import { Relief } from './stage/relief';
import { stageView } from './stage/stageView';
import { Stroke } from './stage/stroke';
import { Survey } from './stage/survey';
import { StillAir } from './stillAir';
import { stripView } from './stripView';

/** A question that needs a reason before something is said. */
interface Asking {
  readonly question: string;
  readonly action: string;
  readonly body: (reason: string) => EventBody;
}

/** What each key does, for the sheet that `?` opens. */
const keys = [
  { key: 'Space', does: 'the one thing that comes next' },
  { key: 'N', does: 'no, with what is wrong' },
  { key: 'A', does: 'does not apply, with the reason' },
  { key: 'G', does: 'what the step waits for never comes' },
  { key: 'U', does: 'take back what was said last' },
  { key: 'R', does: 'do the stage again' },
  { key: 'T', does: 'it was touched: note the disturbance' },
  { key: 'X', does: 'abandon the run' },
  { key: 'C', does: 'the calculator' },
  { key: 'S', does: 'sound on or off' },
  { key: '?', does: 'this sheet' },
] as const;

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

  protected readonly window = computed((): { readonly low: Quantity; readonly high: Quantity } | null => {
    const n = this.view()?.next;
    return n?.kind === 'reach' || n?.kind === 'start' ? { low: n.low, high: n.high } : null;
  });
  protected readonly strip = computed(() => {
    const { plan, run } = this.bench();
    const view = this.view();
    if (!plan || !view) return null;
    const stage = view.next.kind === 'begin' || view.next.kind === 'seal' ? view.judged?.stage : view.stage;
    if (!stage) return null;
    const unit = stageUnit(plan, stage.id);
    const w = this.window();
    return stripView(plan, run, stage, this.now(), w && { low: decimalIn(w.low, unit).toNumber(), high: decimalIn(w.high, unit).toNumber() });
  });
  protected readonly picture = computed(() => {
    const { plan, run } = this.bench();
    const view = this.view();
    return plan && view?.stage ? stageView(plan, run, view.stage, view.next, this.now()) : null;
  });
  /** What the rig's hand and eye are asked for. */
  protected readonly rigAsk = computed(
    (): RigAsk => {
      const n = this.view()?.next;
      const procedure = this.bench().view?.procedure ?? '';
      const ask = (moves: string | null, look: RigAsk['look'] = null): RigAsk => ({ moves, window: this.window(), look });
      switch (n?.kind) {
        case 'answer':
          return ask(null, { kind: 'item', id: n.item.id });
        case 'spot':
          return ask(null, { kind: 'spot', id: n.spot.id });
        case 'read':
          return ask(null, { kind: 'channel', id: n.channel });
        case 'begin':
          return ask(n.stage.id);
        case 'act':
        case 'reach':
        case 'wait':
          return ask(n.step.id);
        case 'start': {
          const own = `${n.stage.id}:start`;
          return ask(movesAt(procedure, own).length > 0 ? own : 'start');
        }
        // The tap is shut as the start is read, and not before.
        case 'hold':
          return ask('start');
        default:
          return ask(null);
      }
    },
    { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) },
  );
  protected readonly rigInstrument = computed(() => {
    const view = this.bench().view;
    return view?.rig ?? Object.values(view?.instruments ?? {}).find((i) => i.simulated && i.streams);
  });
  protected readonly typedChannels = computed(() =>
    (this.view()?.gauges ?? [])
      .map((g) => ({ ...g, instrument: this.bench().view?.instruments[g.channel] }))
      .filter((g) => g.instrument?.streams === false && this.askedFor(g.channel)),
  );
  /** Channels that a logger's file could fill. */
  protected readonly droppable = computed(() => {
    const { run } = this.bench();
    if (this.view()?.stage?.method.kind === 'stroke') return [];
    return this.typedChannels().map((g) => ({
      channel: g.channel,
      title: g.title,
      unit: g.instrument?.low.unit ?? '1',
      after: readingsOf(run, g.channel).at(-1)?.at ?? -1,
    }));
  });
  protected readonly startedMs = computed(() => Date.parse(this.bench().run.opened?.startedAt ?? ''));
  protected readonly gaugeFacts = computed(() => {
    const { run } = this.bench();
    return (this.view()?.gauges ?? []).map((g) => {
      const i = run.opened?.instruments[g.channel];
      return i
        ? { title: g.title, fact: `${i.id} ±${showQuantity(i.accuracy)}, ${i.fitted ? 'fitted' : `to ${i.calibrationDue ?? 'no date'}`}` }
        : { title: g.title, fact: '' };
    });
  });
  protected readonly limitFacts = computed(() => {
    const { plan } = this.bench();
    const stage = this.view()?.stage;
    const n = this.view()?.next;
    const asked = n?.kind === 'read' ? n.channel : null;
    if (!plan || !stage) return [];
    return plan.limits
      .filter((l) => l.stage === stage.id && (asked === null || (l.channel ?? asked) === asked))
      .map((l) => {
        const liked = preferred(l.resolved, this.units.choices(), Math.abs(l.resolved.value) / 1000 || 1);
        return liked ? `${limitInWords(l)}, that is ${showQuantity(liked)}` : limitInWords(l);
      });
  });
  /** A store is timed by the sun and the wind as much as by the clock: before its half-life starts, both are asked about. */
  protected readonly byWeather = computed(() => {
    const n = this.view()?.next;
    const waits = n?.kind === 'begin' || n?.kind === 'answer' || n?.kind === 'reach' || n?.kind === 'act' || n?.kind === 'wait' || n?.kind === 'start';
    return waits && (this.bench().plan?.stages ?? []).some((s) => s.method.kind === 'halfLife');
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
    const key = (event: KeyboardEvent): void => this.key(event);
    const pointer = (): void => {
      this.walking = false;
    };
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

  /** While one thing is to be read, only its form is open. */
  private askedFor(channel: string): boolean {
    const n = this.view()?.next;
    return n?.kind !== 'read' || n.channel === channel;
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

  /** The person walks the buttons with Tab: Space then presses the one it stands on. After a touch or a click it is the primary action again. */
  private walking = false;

  private key(event: KeyboardEvent): void {
    if (event.key === 'Tab') this.walking = true;
    const target = event.target instanceof HTMLElement ? event.target : null;
    if (event.ctrlKey || event.metaKey || event.altKey || this.asking() || target?.matches('input, textarea, select')) return;
    const pressed = event.key === ' ' ? 'space' : event.key.toLowerCase();
    if (pressed === 'space' && this.walking && target?.matches('button, a') && !target.matches('.primary')) return;
    const act: Readonly<Record<string, () => void>> = {
      space: () => this.press(),
      n: () => this.no(),
      a: () => this.notApplicable(),
      t: () => this.touched(),
      r: () => this.again(),
      x: () => this.abandon(),
      u: () => this.takeBack(),
      g: () => this.neverComes(),
      s: () => this.chime.toggle(),
      '?': () => this.sheet.update((open) => !open),
      c: () => this.calculating.update((open) => !open),
      escape: () => {
        this.sheet.set(false);
        this.calculating.set(false);
      },
    };
    const found = act[pressed];
    if (!found) return;
    event.preventDefault();
    found();
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

  protected no(): void {
    const n = this.view()?.next;
    if (n?.kind !== 'answer' || !this.mine()) return;
    this.asking.set({ question: 'What is not in order?', action: 'No', body: (reason) => ({ kind: 'answered', item: n.item.id, answer: 'no', reason }) });
  }

  /** A place of the route, with how hard it bubbled. */
  protected grade(grade: Grade): void {
    const n = this.view()?.next;
    const spot = this.graded() ?? (n?.kind === 'spot' ? n.spot.id : null);
    this.graded.set(null);
    if (spot !== null && this.mine()) this.say({ kind: 'spotted', spot, grade });
  }

  protected notApplicable(): void {
    const n = this.view()?.next;
    if (n?.kind !== 'answer' || !n.item.optional || !this.mine()) return;
    this.asking.set({
      question: 'Why does it not apply?',
      action: 'Does not apply',
      body: (reason) => ({ kind: 'answered', item: n.item.id, answer: 'notApplicable', reason }),
    });
  }

  protected touched(): void {
    if (this.view()?.next.kind !== 'hold' || !this.mine()) return;
    this.asking.set({ question: 'What touched it?', action: 'Note it', body: (note) => ({ kind: 'disturbed', note }) });
  }

  protected again(): void {
    const redo = this.redo();
    if (!redo || !this.mine()) return;
    this.asking.set({
      question: `Why is “${redo.stage.title}” done again?`,
      action: 'Do it again',
      body: (reason) => ({ kind: 'began', stage: redo.stage.id, attempt: redo.attempt, reason }),
    });
  }

  protected giveUp(): void {
    const n = this.view()?.next;
    if (n?.kind !== 'hold' || !this.mine()) return;
    this.asking.set({
      question: 'Why is the hold broken off?',
      action: 'Break it off',
      body: (reason) => ({ kind: 'ended', stage: n.stage.id, attempt: n.attempt, reason }),
    });
  }

  /** What a step waits for does not come: the stage ends with the reason, and the judge says what that means. */
  protected neverComes(): void {
    const n = this.view()?.next;
    if ((n?.kind !== 'act' && n?.kind !== 'reach' && n?.kind !== 'start') || !this.mine()) return;
    this.asking.set({
      question: 'It never comes? Say what is seen instead.',
      action: 'End this stage',
      body: (reason) => ({ kind: 'ended', stage: n.stage.id, attempt: n.attempt, reason }),
    });
  }

  /** The last statement is withdrawn by one that says why; nothing is erased. */
  protected takeBack(): void {
    const last = this.view()?.lastSaid;
    if (!last || !this.mine()) return;
    this.asking.set({
      question: `Why is ${last.words} taken back?`,
      action: 'Take it back',
      body: (reason) => ({ kind: 'withdrawn', event: last.event, reason }),
    });
  }

  /** A place tapped on the drawing: the one that is soaped now, or one that has been looked at and has grown worse. */
  protected tapped(spot: string): void {
    const view = this.view();
    if (!view || !this.mine() || !this.mayWork()) return;
    const n = view.next;
    if (n.kind === 'spot' && n.spot.id === spot) this.graded.set(spot);
    else if (this.refusal({ kind: 'spotted', spot, grade: 'grows' }) === null) this.graded.set(spot);
  }

  protected abandon(): void {
    if (this.view()?.next.kind === 'closed' || !this.mine()) return;
    this.asking.set({ question: 'Why is the run abandoned?', action: 'Abandon the run', body: (reason) => ({ kind: 'abandoned', reason }) });
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
