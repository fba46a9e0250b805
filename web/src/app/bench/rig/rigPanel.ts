import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, input, output, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import type { RigCommand, Scene } from '@grellin/contract';
import { convert, gradeInWords, showQuantity, type Channel, type Quantity } from '@grellin/core';
import { setupFor, movesAt, type DefiniteMove } from '@grellin/core/practice';
import { concatMap, from, interval, lastValueFrom, switchMap, toArray } from 'rxjs';
import { Api, problemOf, type RigView } from '../../api/api';
import type { RigAsk } from './rigAsk';
import type { TypedReading } from '../ask/readingForm';

/** How often the scene is asked for while the rig's clock runs by itself. */
const LOOK_MS = 2000;
/** Nobody waits longer than this for something to happen, s. */
const PATIENCE_S = 900;
/** Nor longer for what the gauges showed meanwhile, ms: a logger that keeps its values for itself sends none. */
const HEARING_MS = 3000;
/** The last reading of a while may come as much before its end, ms. */
const LAST_READING_MS = 2000;

/** The simulated rig: the hands and eyes of somebody who stands beside it, and the clock of a simulation. Plainly marked. */
@Component({
  selector: 'gr-rig-panel',
  imports: [FormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './rigPanel.html',
  styleUrl: './rigPanel.css',
})
export class RigPanel {
  private readonly api = inject(Api);
  readonly instrument = input.required<string>();
  readonly procedure = input.required<string>();
  readonly ruleSet = input.required<string>();
  readonly ask = input.required<RigAsk>();
  /** Whether something was said at the bench that is not stored yet. */
  readonly unsaid = input(false);
  /** How far the run has come by what this bench has heard of its gauges, ms; null where none of them streams. */
  readonly heard = input<number | null>(null);
  /** What was read by eye is taken over. */
  readonly written = output<TypedReading>();

  protected readonly rig = signal<RigView | null>(null);
  protected readonly scene = signal<Scene | null>(null);
  protected readonly problem = signal<string | null>(null);
  protected readonly busy = signal(false);
  /** How many things that were asked of the rig it has done. */
  protected readonly done = signal(0);
  protected readonly fault = signal('none');
  protected readonly seconds = signal(10);
  /** What the noise starts from; empty for other noise each time. */
  protected readonly seed = signal<number | null>(null);
  private readonly untilStored: (() => void)[] = [];
  private untilHeard: { readonly at: number; readonly go: () => void } | null = null;
  private readonly lastWindow = signal<RigAsk['window']>(null);
  protected readonly speed = computed(() => this.scene()?.speed ?? null);
  protected readonly behind = computed(() => this.scene()?.behind ?? false);
  protected readonly moves = computed((): readonly DefiniteMove[] => {
    const { moves, window } = this.ask();
    return moves === null ? [] : movesAt(this.procedure(), moves, window ?? this.lastWindow() ?? undefined);
  });
  private readonly readByHand = computed((): Readonly<Record<Channel, Channel>> => {
    try {
      return setupFor(this.procedure(), this.ruleSet()).readByHand;
    } catch {
      return {}; // an officer's own procedure has no practice setup
    }
  });

  /** What is seen or heard of the thing that is asked about. */
  protected readonly seen = computed((): { readonly words: string; readonly reading: TypedReading | null; readonly wrong: boolean } | null => {
    const scene = this.scene();
    const { look } = this.ask();
    if (!scene || !look) return null;
    if (look.kind === 'item') {
      const wrong = scene.wrong.includes(look.id);
      return { words: wrong ? 'It is not in order.' : 'It is in order.', reading: null, wrong };
    }
    if (look.kind === 'spot') {
      const grade = scene.bubbles[look.id] ?? 'none';
      return { words: gradeInWords(grade), reading: null, wrong: grade !== 'none' };
    }
    const quantity = scene.seen[this.readByHand()[look.id] ?? look.id];
    return quantity ? { words: `It reads ${showQuantity(quantity)}.`, reading: { channel: look.id, quantity }, wrong: false } : null;
  });
  protected readonly happening = computed(() => (this.scene()?.happening ?? []).join(', '));

  constructor() {
    effect(() => {
      const instrument = this.instrument();
      this.api.rig(instrument).subscribe({ next: (rig) => this.rig.set(rig), error: (e: unknown) => this.problem.set(problemOf(e).message) });
    });
    // A wait is spent at the pressure that the step before it reached.
    effect(() => {
      const { window } = this.ask();
      if (window) this.lastWindow.set(window);
    });
    effect(() => {
      if (!this.unsaid()) for (const go of this.untilStored.splice(0)) go();
    });
    effect(() => {
      const heard = this.heard() ?? Infinity;
      if (this.untilHeard && heard >= this.untilHeard.at) this.untilHeard.go();
    });
    effect(() => {
      this.ask();
      void this.look();
    });
    interval(LOOK_MS)
      .pipe(
        takeUntilDestroyed(inject(DestroyRef)),
        switchMap(() => (this.speed() === 0 || this.busy() ? Promise.resolve() : this.look())),
      )
      .subscribe();
  }

  private async look(): Promise<void> {
    try {
      this.scene.set(await lastValueFrom(this.api.scene(this.instrument())));
    } catch (e) {
      this.problem.set(problemOf(e).message);
    }
  }

  /** What was asked last: one thing after the other, however fast the keys are pressed. A step of the clock must not overtake the tap that is shut before it. */
  private last: Promise<void> = Promise.resolve();

  private send(commands: readonly RigCommand[]): void {
    this.busy.set(true);
    this.last = this.last.then(() => this.carryOut(commands));
  }

  private async carryOut(commands: readonly RigCommand[]): Promise<void> {
    this.busy.set(true);
    this.problem.set(null);
    try {
      // Nor overtake a word: readings that come before it would count for the step it ended.
      if (this.unsaid()) await new Promise<void>((stored) => this.untilStored.push(stored));
      const [before, heard] = [this.scene()?.clockMs, this.heard()];
      await lastValueFrom(
        from(commands).pipe(
          concatMap((c) => this.api.workRig(this.instrument(), c)),
          toArray(),
        ),
      );
      await this.look();
      const passed = (this.scene()?.clockMs ?? 0) - (before ?? 0);
      if (heard !== null && before !== undefined && passed > 0 && this.speed() === 0) await this.hears(heard + passed - Math.min(LAST_READING_MS, passed / 2));
    } catch (e) {
      this.problem.set(problemOf(e).message);
    } finally {
      this.busy.set(false);
      this.done.update((n) => n + 1);
    }
  }

  /**
   * Waits until the bench has heard what passed on a clock that is stepped: whoever said something before that would have said it at a moment that is past, and
   * a hold would count minutes from before its tap was shut.
   */
  private async hears(at: number): Promise<void> {
    if ((this.heard() ?? Infinity) >= at) return;
    await new Promise<void>((go) => {
      this.untilHeard = { at, go };
      setTimeout(go, HEARING_MS);
    });
    this.untilHeard = null;
  }

  /** Where the clock stands still, waiting is a step of it; where it runs, the person waits and watches. */
  private commandFor(move: DefiniteMove): readonly RigCommand[] {
    if ('act' in move) return [{ act: 'hand', move: move.act, ...(move.to === undefined ? {} : { to: Math.round(move.to) }) }];
    if (this.speed() !== 0) return [];
    return 'seconds' in move ? [{ act: 'step', seconds: move.seconds }] : [{ act: 'until', event: move.until, seconds: PATIENCE_S }];
  }

  protected doStep(): void {
    this.send(this.moves().flatMap((m) => this.commandFor(m)));
  }

  protected move(act: string, aims: boolean): void {
    const window = this.ask().window ?? this.lastWindow();
    const aim = window && aims ? middle(window) : undefined;
    this.send([{ act: 'hand', move: act, ...(aim === undefined ? {} : { to: aim }) }]);
  }

  protected reset(): void {
    const seed = this.seed();
    this.send([{ act: 'reset', fault: this.fault(), ...(seed === null ? {} : { seed }) }]);
  }

  protected gear(speed: number): void {
    this.send([{ act: 'free', speed }]);
  }

  protected pass(): void {
    this.send([{ act: 'step', seconds: this.seconds() }]);
  }
}

/** The middle of a window, Pa. */
function middle(window: { readonly low: Quantity; readonly high: Quantity }): number {
  return Math.round((convert(window.low, 'Pa').value + convert(window.high, 'Pa').value) / 2);
}
