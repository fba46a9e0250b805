import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { sameDimension, unitLabel, units } from '@grellin/core';
import { guess, parseCsv, readingsFromCsv, signatureOf, type ColumnMatch, type CsvFile, type Timed } from './csvReadings';

export interface DropChannel {
  readonly channel: string;
  readonly title: string;
  readonly unit: string;
  /** Readings up to this time are in the run already, ms. */
  readonly after: number;
}

const KEY = 'grellin.csv';

function remembered(signature: string): ColumnMatch | null {
  try {
    const all = JSON.parse(localStorage.getItem(KEY) ?? '{}') as Record<string, ColumnMatch | undefined>;
    return all[signature] ?? null;
  } catch {
    return null;
  }
}

/** A logger's file is dropped or chosen; its columns are matched once and remembered, and every row's fate is said before anything is taken. */
@Component({
  selector: 'gr-csv-drop',
  imports: [FormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="drop" (dragover)="$event.preventDefault()" (drop)="dropped($event)">
      <label i18n for="csv-file">A logger’s file (CSV): drop it here, or choose it</label>
      <input id="csv-file" type="file" accept=".csv,text/csv,text/plain" (change)="chosen($event)" />
    </div>
    @if (problem(); as p) {
      <p role="alert">{{ p }}</p>
    }
    @if (file(); as f) {
      <form (ngSubmit)="take()">
        <label i18n for="csv-time">Time column</label>
        <div class="pair">
          <select id="csv-time" name="time" [ngModel]="match()?.time" (ngModelChange)="change({ time: $event })">
            @for (h of f.header; track h) {
              <option [value]="h">{{ h }}</option>
            }
          </select>
          <select name="clock" aria-label="How the time is written" i18n-aria-label [ngModel]="match()?.clock" (ngModelChange)="change({ clock: $event })">
            <option i18n value="moment">date and time</option>
            <option i18n value="seconds">seconds, the last is now</option>
          </select>
        </div>
        @for (c of channels(); track c.channel) {
          <label [attr.for]="'csv-' + c.channel">{{ c.title }}</label>
          <div class="pair">
            <select [id]="'csv-' + c.channel" [name]="c.channel" [ngModel]="match()?.channels?.[c.channel]?.column" (ngModelChange)="column(c.channel, $event)">
              @for (h of f.header; track h) {
                <option [value]="h">{{ h }}</option>
              }
            </select>
            <select
              [name]="c.channel + '-unit'"
              [attr.aria-label]="'Unit of ' + c.title"
              [ngModel]="match()?.channels?.[c.channel]?.unit"
              (ngModelChange)="unit(c.channel, $event)"
            >
              @for (u of unitsLike(c.unit); track u) {
                <option [value]="u">{{ label(u) }}</option>
              }
            </select>
          </div>
        }
        @if (outcome(); as o) {
          <p i18n class="fate">{{ o.taken }} readings are taken{{ o.left.length > 0 ? ', ' + o.left.length + ' rows are left out' : '' }}.</p>
          @for (l of o.left.slice(0, 4); track $index) {
            <p class="faint">{{ l }}</p>
          }
          <button i18n type="submit" [disabled]="o.taken === 0">Take them</button>
        }
      </form>
    }
  `,
  styles: `
    .drop {
      border: var(--edge) dashed var(--faint);
      padding: var(--space-2) var(--space-3);
    }
    label {
      display: block;
      font-size: var(--type-label);
      color: var(--faint);
      margin-top: var(--space-1);
    }
    input {
      width: 100%;
    }
    .pair {
      display: flex;
      gap: var(--space-1);
    }
    select,
    button {
      font: 400 var(--type-small) var(--text);
      min-height: var(--touch);
      border: var(--line) solid var(--faint);
      border-radius: var(--radius);
      background: var(--panel);
      color: var(--ink);
      min-width: 0;
      flex: 1;
    }
    button {
      border-color: var(--accent);
      color: var(--accent);
      font-weight: 600;
      padding: 0 var(--space-4);
      margin-top: var(--space-2);
    }
    [role='alert'] {
      color: var(--leaks);
    }
    .fate {
      font-weight: 600;
      margin-top: var(--space-2);
    }
    .faint {
      font-size: var(--type-label);
    }
  `,
})
export class CsvDrop {
  readonly channels = input.required<readonly DropChannel[]>();
  readonly startedMs = input.required<number>();
  readonly now = input.required<number>();
  readonly taken = output<readonly Timed[]>();
  protected readonly file = signal<CsvFile | null>(null);
  protected readonly match = signal<ColumnMatch | null>(null);
  protected readonly problem = signal<string | null>(null);
  private readonly readAt = signal(0);
  protected readonly outcome = computed(() => {
    const file = this.file();
    const match = this.match();
    if (!file || !match) return null;
    return readingsFromCsv(file, match, this.startedMs(), this.readAt(), Object.fromEntries(this.channels().map((c) => [c.channel, c.after])));
  });

  protected dropped(event: DragEvent): void {
    event.preventDefault();
    const file = event.dataTransfer?.files[0];
    if (file) void this.open(file);
  }

  protected chosen(event: Event): void {
    const file = event.target instanceof HTMLInputElement ? event.target.files?.[0] : undefined;
    if (file) void this.open(file);
  }

  private async open(blob: File): Promise<void> {
    const file = parseCsv(await blob.text());
    this.problem.set(file ? null : 'This file has no header and rows that could be matched.');
    this.file.set(file);
    this.readAt.set(this.now());
    this.match.set(file && (remembered(signatureOf(file)) ?? guess(file, this.channels())));
  }

  protected change(part: Partial<ColumnMatch>): void {
    this.match.update((m) => m && { ...m, ...part });
  }

  private readonly of = (channel: string) => this.match()?.channels[channel] ?? { column: '', unit: '' };

  protected column(channel: string, column: string): void {
    this.match.update((m) => m && { ...m, channels: { ...m.channels, [channel]: { ...this.of(channel), column } } });
  }

  protected unit(channel: string, unit: string): void {
    this.match.update((m) => m && { ...m, channels: { ...m.channels, [channel]: { ...this.of(channel), unit } } });
  }

  protected unitsLike(unit: string): readonly string[] {
    return units.filter((u) => sameDimension(u.code, unit)).map((u) => u.code);
  }

  protected label(unit: string): string {
    return unitLabel(unit);
  }

  protected take(): void {
    const file = this.file();
    const match = this.match();
    const outcome = this.outcome();
    if (!file || !match || !outcome || outcome.taken === 0) return;
    const all = JSON.parse(localStorage.getItem(KEY) ?? '{}') as Record<string, ColumnMatch>;
    localStorage.setItem(KEY, JSON.stringify({ ...all, [signatureOf(file)]: match }));
    this.taken.emit(outcome.events);
    this.file.set(null);
  }
}
