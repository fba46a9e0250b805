import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { stillAir } from '@grellin/core';

const TICK_MS = 15_000;
const DAY_MIN = 1440;

/** The minute of the day by this machine's clock. */
const minuteNow = (): number => {
  const now = new Date();
  return now.getHours() * 60 + now.getMinutes();
};

const clockOf = (minute: number): string => `${String(Math.floor((minute % DAY_MIN) / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`;

/** Whether the hour and the weather suit a half-life: from the clock, and from what somebody looking at the sky types. */
@Component({
  selector: 'gr-still-air',
  imports: [FormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section aria-labelledby="still-air">
      <h3 i18n id="still-air">Hour and weather</h3>
      <p [class.unfit]="!advice().fit" data-advice role="status">
        @for (r of advice().reasons; track r) {
          <span>{{ r }}</span>
        } @empty {
          <span i18n>{{ clock() }}: it suits</span>
        }
        @if (from(); as f) {
          <span i18n>The next hour that suits begins at {{ f }}.</span>
        }
      </p>
      <div class="grid">
        <label i18n for="sunrise">Sunrise</label>
        <input id="sunrise" type="time" [ngModel]="sunrise()" (ngModelChange)="sunrise.set($event)" />
        <label i18n for="wind">Wind, m/s</label>
        <input id="wind" type="number" inputmode="decimal" min="0" max="60" step="0.1" [ngModel]="wind()" (ngModelChange)="wind.set($event)" />
        <label i18n for="cloud">Cloud, eighths</label>
        <input id="cloud" type="number" inputmode="numeric" min="0" max="8" [ngModel]="cloud()" (ngModelChange)="cloud.set($event)" />
      </div>
      @if (noting()) {
        <button i18n type="button" (click)="note.emit(words())">Put it into a note</button>
      }
    </section>
  `,
  styles: `
    h3 {
      margin: 0;
      font: 700 var(--type-body) var(--text);
    }
    p {
      margin: var(--space-1) 0 var(--space-2);
    }
    p span {
      display: block;
    }
    .unfit {
      border-left: var(--space-1) solid var(--ink);
      padding-left: var(--space-2);
    }
    .grid {
      display: grid;
      grid-template-columns: 1fr 12ch;
      gap: var(--space-1) var(--space-2);
      align-items: center;
      font-size: var(--type-small);
    }
    input,
    button {
      min-height: 2.5rem;
      padding: 0 var(--space-2);
      border: var(--line) solid var(--rule);
      border-radius: var(--radius);
      background: var(--panel);
      color: var(--ink);
      font: inherit;
    }
    button {
      margin-top: var(--space-2);
    }
  `,
})
export class StillAir {
  /** A note can be written into the run. */
  readonly noting = input(false);
  readonly note = output<string>();
  private readonly minute = signal(minuteNow());
  protected readonly sunrise = signal<string | null>(null);
  protected readonly wind = signal<number | null>(null);
  protected readonly cloud = signal<number | null>(null);
  protected readonly clock = computed(() => clockOf(this.minute()));
  protected readonly advice = computed(() => {
    const [h, m] = (this.sunrise() ?? '').split(':').map(Number);
    const wind = this.wind();
    const cloud = this.cloud();
    return stillAir({
      minuteOfDay: this.minute(),
      ...(h !== undefined && m !== undefined ? { sunriseMinute: h * 60 + m } : {}),
      ...(wind === null ? {} : { windMs: wind }),
      ...(cloud === null ? {} : { cloudEighths: cloud }),
    });
  });
  protected readonly from = computed(() => {
    const wait = this.advice().waitMin;
    return wait === null || wait === 0 ? null : clockOf(this.minute() + wait);
  });
  protected readonly words = computed(() => {
    const known = [
      this.sunrise() ? `sunrise ${this.sunrise() ?? ''}` : null,
      this.wind() === null ? null : `wind ${String(this.wind())} m/s`,
      this.cloud() === null ? null : `cloud ${String(this.cloud())} eighths`,
    ].filter((w) => w !== null);
    return `Weather at ${this.clock()}${known.length > 0 ? `: ${known.join(', ')}` : ''}. ${this.advice().fit ? 'The hour and what is known of the weather suit.' : this.advice().reasons.join('. ')}`;
  });

  constructor() {
    const timer = setInterval(() => this.minute.set(minuteNow()), TICK_MS);
    inject(DestroyRef).onDestroy(() => clearInterval(timer));
  }
}
