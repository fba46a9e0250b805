import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { AlongRow } from '@grellin/contract';
import { Store } from '@ngrx/store';
import { ButtonModule } from 'primeng/button';
import { TableModule } from 'primeng/table';
import { accountFeature } from '../account/accountStore';
import { StationDay } from '../account/stationDay';
import { Api } from '../api/api';
import { Loader } from '../api/loader';
import { Seal } from '../mark/seal';
import { readinessWords } from '../register/list/readinessWords';
import { Undo } from '../undo/undo';
import { Away, type Brought } from './away';
import { TakeForm } from './takeForm';

/** How often a device that is away asks whether it may go on, where the server can be reached, ms. */
const ASKS_MS = 300_000;
const MEGABYTE = 1_000_000;

/** What goes along: what lies on this device, what was done with it, and taking more along; for officers, every device that is away. */
@Component({
  selector: 'gr-along-screen',
  imports: [RouterLink, ButtonModule, TableModule, Seal, TakeForm],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './alongScreen.html',
  styleUrl: './alongScreen.css',
})
export class AlongScreen {
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  protected readonly away = inject(Away);
  protected readonly days = inject(StationDay);
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);
  protected readonly works = computed(() => this.me()?.role !== 'reader');
  protected readonly officer = computed(() => this.me()?.role === 'officer');
  /** What lies here is another's: it is opened, and handed in, by whoever took it along. */
  protected readonly anothers = computed(() => {
    const held = this.away.onDevice();
    return held !== null && held.account !== '' && held.account !== this.me()?.id;
  });
  protected readonly devices = new Loader<readonly AlongRow[]>();
  protected readonly brought = signal<readonly Brought[]>([]);
  protected readonly handing = signal(false);
  protected readonly sure = signal(false);
  protected readonly space = signal<string | null>(null);
  protected readonly note = signal<string | null>(null);
  protected readonly closed = computed(() => this.away.done().filter((r) => r.closed).length);

  constructor() {
    if (!this.away.isOpen() && this.officer()) this.devices.load(this.api.along());
    void navigator.storage.estimate().then(({ usage = 0, quota = 0 }) => {
      this.space.set($localize`${(usage / MEGABYTE).toFixed(1)}:used: MB of ${(quota / MEGABYTE).toFixed(0)}:all: MB used on this device`);
    });
    const ask = async (): Promise<void> => {
      const state = await this.away.asked();
      if (state === 'disabled' || state === 'ended') this.note.set($localize`The server has ended this: what lay on this device is gone.`);
    };
    void ask();
    const timer = setInterval(() => void ask(), ASKS_MS);
    inject(DestroyRef).onDestroy(() => clearInterval(timer));
  }

  protected word(readiness: keyof typeof readinessWords): string {
    return readinessWords[readiness];
  }

  protected async handIn(): Promise<void> {
    this.handing.set(true);
    const brought = await this.away.handIn();
    this.brought.update((before) => [...before.filter((b) => b.handedIn !== null), ...brought]);
    this.handing.set(false);
    if (this.officer() && !this.away.isOpen()) this.devices.load(this.api.along());
  }

  protected back(): void {
    this.away.shut();
    if (this.officer()) this.devices.load(this.api.along());
  }

  protected async wipe(): Promise<void> {
    await this.away.wipe();
    this.sure.set(false);
    this.note.set($localize`Nothing is left on this device.`);
  }

  protected async save(): Promise<void> {
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([await this.away.exported()], { type: 'application/json' }));
    link.download = `grellin-away-${new Date().toISOString().slice(0, 10)}.json`;
    link.click();
    URL.revokeObjectURL(link.href);
  }

  protected async lay(event: Event): Promise<void> {
    const field = event.target as HTMLInputElement;
    const file = field.files?.[0];
    if (!file) return;
    try {
      await this.away.laidDown(await file.text());
      this.note.set($localize`It lies on this device: open it with its PIN.`);
    } catch {
      this.note.set($localize`That is no file of this kind.`);
    }
    field.value = '';
  }

  protected end(id: string): void {
    this.api.endAlong(id).subscribe({ next: () => this.devices.load(this.api.along()), error: (e: unknown) => this.undo.refused(e) });
  }
}
