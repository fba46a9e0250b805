import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { RigCommand } from '@grellin/contract';
import { convert, type Quantity } from '@grellin/core';
import { handAt } from '@grellin/core/rig';
import { concatMap, from, toArray } from 'rxjs';
import { Api, problemOf, type RigView } from '../api/api';

/** The simulated rig: the hand that a real rig would have, and the clock of a simulation. Plainly marked. */
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
  /** The step that comes next, and the window it must reach. */
  readonly step = input.required<string | null>();
  readonly window = input.required<{ readonly low: Quantity; readonly high: Quantity } | null>();

  protected readonly rig = signal<RigView | null>(null);
  protected readonly problem = signal<string | null>(null);
  protected readonly busy = signal(false);
  protected readonly fault = signal('none');
  protected readonly speed = signal(1);
  protected readonly seconds = signal(10);
  private readonly lastWindow = signal<{ readonly low: Quantity; readonly high: Quantity } | null>(null);
  protected readonly hand = computed(() => {
    const step = this.step();
    return step === null ? [] : handAt(this.procedure(), step, this.window() ?? this.lastWindow() ?? undefined);
  });

  constructor() {
    effect(() => {
      this.api.rig(this.instrument()).subscribe({ next: (rig) => this.rig.set(rig), error: (e: unknown) => this.problem.set(problemOf(e).message) });
    });
    // A wait is spent at the pressure that the step before it reached.
    effect(() => {
      const window = this.window();
      if (window) this.lastWindow.set(window);
    });
  }

  private send(commands: readonly RigCommand[]): void {
    this.busy.set(true);
    this.problem.set(null);
    from(commands)
      .pipe(
        concatMap((c) => this.api.workRig(this.instrument(), c)),
        toArray(),
      )
      .subscribe({
        next: () => this.busy.set(false),
        error: (e: unknown) => {
          this.busy.set(false);
          this.problem.set(problemOf(e).message);
        },
      });
  }

  protected doStep(): void {
    this.send(this.hand().map((a): RigCommand => ({ act: 'hand', move: a.act, ...(a.to === undefined ? {} : { to: Math.round(a.to) }) })));
  }

  protected move(act: string, aims: boolean): void {
    const window = this.window() ?? this.lastWindow();
    const aim = window && aims ? middle(window) : undefined;
    this.send([{ act: 'hand', move: act, ...(aim === undefined ? {} : { to: aim }) }]);
  }

  protected reset(): void {
    this.send([{ act: 'reset', fault: this.fault() }]);
  }

  protected gear(speed: number): void {
    this.speed.set(speed);
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
