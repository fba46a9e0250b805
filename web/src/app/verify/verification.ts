import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import type { Anchor, VerificationProgress } from '@grellin/contract';
import { ButtonModule } from 'primeng/button';
import { ProgressBarModule } from 'primeng/progressbar';
import { TableModule } from 'primeng/table';
import { StationDay } from '../account/stationDay';
import { Api } from '../api/api';
import { Loader } from '../api/loader';
import { Undo } from '../undo/undo';

/** Verifies everything that is kept, and keeps the head of all heads outside of the database. */
@Component({
  selector: 'gr-verification',
  imports: [ButtonModule, ProgressBarModule, TableModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './verification.html',
  styleUrl: './verification.css',
})
export class Verification {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  protected readonly day = inject(StationDay);
  protected readonly anchors = new Loader<readonly Anchor[]>();
  protected readonly newest = computed(() => [...(this.anchors.value() ?? [])].reverse().slice(0, 30));
  protected readonly progress = signal<VerificationProgress | null>(null);
  protected readonly running = signal(false);
  protected readonly failed = signal(false);
  protected readonly percent = computed(() => {
    const p = this.progress();
    return p && p.total > 0 ? Math.round((p.done / p.total) * 100) : 0;
  });
  /** The newest anchor as a letter to whoever keeps it elsewhere. */
  protected readonly letter = computed(() => {
    const [last] = this.newest();
    if (!last) return null;
    const body = `Grellin anchor of ${last.at}\n${String(last.records)} records\nroot ${last.root}\nbefore it ${last.previous}\n`;
    return `mailto:?subject=${encodeURIComponent(`Grellin anchor ${this.day.of(last.at)}`)}&body=${encodeURIComponent(body)}`;
  });
  private source: EventSource | null = null;

  constructor() {
    this.look();
    inject(DestroyRef).onDestroy(() => this.source?.close());
  }

  private look(): void {
    this.anchors.load(this.api.anchors());
  }

  protected begin(): void {
    this.running.set(true);
    this.failed.set(false);
    this.progress.set(null);
    const source = new EventSource('/api/verification');
    this.source = source;
    source.onmessage = ({ data }: MessageEvent<string>) => {
      const told = JSON.parse(data) as VerificationProgress;
      this.progress.set(told);
      if (!told.finished) return;
      this.failed.set(told.failed ?? false);
      this.end();
    };
    // It began once: a connection that was lost does not begin it again.
    source.onerror = () => {
      this.failed.set(true);
      this.end();
    };
  }

  private end(): void {
    this.source?.close();
    this.source = null;
    this.running.set(false);
  }

  protected anchor(): void {
    this.api.anchor().subscribe({
      next: (made) => {
        this.undo.done(null, `${String(made.records)} records anchored`, () => undefined);
        this.look();
      },
      error: (e: unknown) => this.undo.refused(e),
    });
  }

  protected print(): void {
    window.print();
  }
}
