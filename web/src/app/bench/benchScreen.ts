import { ChangeDetectionStrategy, Component, computed, DestroyRef, DOCUMENT, effect, inject, input, signal, untracked } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { decimalIn, limitInWords, may, refusalInWords, showQuantity, stageUnit, verdictWord, type EventBody, type Grade, type Quantity } from '@grellin/core';
import { Store } from '@ngrx/store';
import { accountFeature } from '../account/accountStore';
import { Allowance } from '../mark/allowance';
import { FindingCard } from '../mark/findingCard';
import { Seal } from '../mark/seal';
import { BenchActions, benchFeature } from './benchStore';
import { benchView } from './benchView';
import { DecayStrip } from './decayStrip';
import { ReadingForm, type TypedReading } from './readingForm';
import { ReasonBar } from './reasonBar';
import { RigPanel } from './rigPanel';
import { stripView } from './stripView';

/** A question that needs a reason before something is said. */
interface Asking {
  readonly question: string;
  readonly action: string;
  readonly body: (reason: string) => EventBody;
}

/** The bench: one run on the whole screen, one primary action at a time. */
@Component({
  selector: 'gr-bench-screen',
  imports: [RouterLink, Allowance, FindingCard, Seal, DecayStrip, ReadingForm, ReasonBar, RigPanel],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './benchScreen.html',
  styleUrl: './benchScreen.css',
})
export class BenchScreen {
  private readonly store = inject(Store);
  private readonly router = inject(Router);
  readonly id = input.required<string>();

  protected readonly bench = this.store.selectSignal(benchFeature.selectBenchState);
  protected readonly mine = this.store.selectSignal(benchFeature.selectMine);
  protected readonly now = this.store.selectSignal(benchFeature.selectNow);
  private readonly me = this.store.selectSignal(accountFeature.selectMe);
  protected readonly asking = signal<Asking | null>(null);
  protected readonly view = computed(() => {
    const { plan, run } = this.bench();
    return plan ? benchView(plan, run, this.now()) : null;
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
  protected readonly rigStep = computed(() => {
    const n = this.view()?.next;
    if (!n) return null;
    if (n.kind === 'start') return 'start';
    if ('step' in n) return n.step.id;
    return n.kind === 'begin' ? n.stage.id : null;
  });
  protected readonly rigInstrument = computed(() => Object.values(this.bench().view?.instruments ?? {}).find((i) => i.simulated && i.streams));
  protected readonly typedChannels = computed(() =>
    (this.view()?.gauges ?? []).map((g) => ({ ...g, instrument: this.bench().view?.instruments[g.channel] })).filter((g) => g.instrument?.streams === false),
  );
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
    return plan && stage ? plan.limits.filter((l) => l.stage === stage.id).map(limitInWords) : [];
  });

  /** Why the primary action is not open yet; null when it is. */
  protected readonly notYet = computed(() => {
    const body = this.view()?.primary.body;
    return body ? this.refusal(body) : null;
  });
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
    return plan && result ? verdictWord(plan, result.verdict) : '';
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
    const { plan, run, held } = this.bench();
    if (!plan || !held) return 'This tab only looks on.';
    const last = run.sources[held.source];
    const refused = may(plan, run, { id: 'probe', source: held.source, n: (last?.n ?? 0) + 1, at: Math.max(this.now(), last?.at ?? 0), ...body });
    return refused && refusalInWords(refused);
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
    if (n?.kind === 'spot' && this.mine()) this.say({ kind: 'spotted', spot: n.spot.id, grade });
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

  protected abandon(): void {
    if (this.view()?.next.kind === 'closed' || !this.mine()) return;
    this.asking.set({ question: 'Why is the run abandoned?', action: 'Abandon the run', body: (reason) => ({ kind: 'abandoned', reason }) });
  }

  protected given(reason: string): void {
    const asking = this.asking();
    this.asking.set(null);
    if (asking) this.say(asking.body(reason));
  }

  protected read(reading: TypedReading): void {
    this.say({ kind: 'reading', channel: reading.channel, quantity: reading.quantity });
  }

  protected takeOver(): void {
    this.store.dispatch(BenchActions.takeOverPressed());
  }
}
