import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { InstrumentView } from '@grellin/contract';
import { decimalIn, showQuantity, unitLabel, type CalibrationPoint, type Quantity } from '@grellin/core';
import { Store } from '@ngrx/store';
import { accountFeature } from '../account/accountStore';
import { Api } from '../api/api';
import { Loader } from '../api/loader';
import { typedNumber } from '../form/typedNumber';
import { Seal } from '../mark/seal';
import { Undo } from '../undo/undo';
import { StationDay } from '../account/stationDay';

interface TypedPoint {
  readonly nominal: string;
  readonly asFound: string;
  readonly asLeft: string;
}

const emptyPoint: TypedPoint = { nominal: '', asFound: '', asLeft: '' };

/** One instrument: its calibrations as found and as left, and every run that was recalled for it. */
@Component({
  selector: 'gr-instrument-screen',
  imports: [FormsModule, RouterLink, Seal],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './instrumentScreen.html',
  styleUrl: './instrumentScreen.css',
})
export class InstrumentScreen {
  protected readonly day = inject(StationDay);
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);
  readonly id = input.required<string>();
  protected readonly today = this.day.today();
  protected readonly page = new Loader<InstrumentView>();
  protected readonly officer = computed(() => this.me()?.role === 'officer');
  protected readonly mayTest = computed(() => this.me()?.role !== 'reader');
  protected readonly show = showQuantity;
  protected readonly points = signal<readonly TypedPoint[]>([emptyPoint, emptyPoint, emptyPoint]);
  protected readonly typed = signal<Readonly<Record<string, string>>>({});
  protected readonly writing = signal(false);
  protected readonly busy = signal(false);
  protected readonly unit = computed(() => this.page.value()?.low.unit ?? '1');
  protected readonly unitWords = computed(() => unitLabel(this.unit()));
  /** What is written, as points; null while one of them is half written. */
  private readonly written = computed((): readonly CalibrationPoint[] | null => {
    const found: CalibrationPoint[] = [];
    for (const p of this.points()) {
      if (Object.values(p).every((t) => t === '')) continue;
      const q = (text: string): Quantity | null => {
        const value = typedNumber(text);
        return value === null ? null : { value, unit: this.unit() };
      };
      const [nominal, asFound, asLeft] = [q(p.nominal), q(p.asFound), q(p.asLeft === '' ? p.asFound : p.asLeft)];
      if (!nominal || !asFound || !asLeft) return null;
      found.push({ nominal, asFound, asLeft });
    }
    return found.length === 0 ? null : found;
  });
  protected readonly lacks = computed(() => {
    for (const [field, words] of [
      ['on', 'the day'],
      ['due', 'the next day due'],
      ['by', 'who did it'],
      ['certificate', 'the certificate’s number'],
    ] as const)
      // prettier-ignore
      if ((this.typed()[field] ?? '').trim() === '') return `Say ${words}.`;
    return this.written() === null ? 'Write at least one point whole: nominal, as found, as left.' : null;
  });

  constructor() {
    effect(() => this.page.load(this.api.instrument(this.id())));
  }

  protected error(p: CalibrationPoint, which: 'asFound' | 'asLeft'): string {
    const error = decimalIn(p[which], p.nominal.unit).minus(p.nominal.value);
    return `${error.gt(0) ? '+' : error.lt(0) ? '−' : ''}${error.abs().toFixed()}`;
  }

  protected say(field: string, text: string): void {
    this.typed.update((t) => ({ ...t, [field]: text }));
  }

  protected sayPoint(i: number, field: keyof TypedPoint, text: string): void {
    this.points.update((all) => all.map((p, k) => (k === i ? { ...p, [field]: text } : p)));
  }

  protected morePoints(): void {
    this.points.update((all) => [...all, emptyPoint]);
  }

  private again(): void {
    this.page.load(this.api.instrument(this.id()));
  }

  protected calibrate(): void {
    const points = this.written();
    if (!points || this.lacks() !== null) return;
    const { on = '', due = '', by = '', certificate = '' } = this.typed();
    this.busy.set(true);
    this.api.calibrate(this.id(), { on, due, by: by.trim(), certificate: certificate.trim(), points }).subscribe({
      next: (done) => {
        this.busy.set(false);
        this.writing.set(false);
        this.points.set([emptyPoint, emptyPoint, emptyPoint]);
        const words = done.outOfTolerance
          ? `Found out of tolerance: ${String(done.recalled)} runs judged again, ${String(done.changed)} to be tested again`
          : 'Kept. It was found within its limits.';
        this.undo.done(null, words, () => undefined);
        this.again();
      },
      error: (e: unknown) => {
        this.busy.set(false);
        this.undo.refused(e);
      },
    });
  }

  protected zero(text: string): void {
    const value = typedNumber(text);
    if (value === null) return;
    this.api.checkZero(this.id(), { value, unit: this.unit() }).subscribe({
      next: ({ within }) => {
        this.undo.done(null, within ? 'Kept: within its limits at nothing' : 'Kept: beyond its limits at nothing. Do not test with it.', () => undefined);
        this.again();
      },
      error: (e: unknown) => this.undo.refused(e),
    });
  }
}
