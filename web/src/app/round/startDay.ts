import { ChangeDetectionStrategy, Component, inject, output, signal } from '@angular/core';
import { Router } from '@angular/router';
import type { DayWork } from '@grellin/contract';
import { Api } from '../api/api';
import { Undo } from '../undo/undo';

/** One key that makes rounds of what is owed today; where it is one round, the screen is on it, and where it is several, on their list. */
@Component({
  selector: 'gr-start-day',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<button i18n type="button" class="control main" [disabled]="starting()" (click)="start()">Start the day’s work</button>`,
  styles: `
    button {
      min-height: var(--touch);
    }
  `,
})
export class StartDay {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly undo = inject(Undo);
  readonly started = output<DayWork>();
  protected readonly starting = signal(false);

  protected start(): void {
    if (this.starting()) return;
    this.starting.set(true);
    this.api.startDay().subscribe({
      next: (day) => {
        this.starting.set(false);
        const [only, other] = day.rounds;
        this.started.emit(day);
        if (only && !other && day.alone.length === 0) void this.router.navigate(['/rounds', only.id]);
        // What has to be begun by itself is told with the rounds: the list of them has it in its hand.
        else void this.router.navigate(['/rounds'], { state: { day } });
      },
      error: (e: unknown) => {
        this.starting.set(false);
        this.undo.refused(e);
      },
    });
  }
}
