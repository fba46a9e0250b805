import { ChangeDetectionStrategy, Component, computed, DestroyRef, effect, inject, input, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MOST_IN_ROUND, type RoundRun, type RoundView } from '@grellin/contract';
import { Store } from '@ngrx/store';
import { ButtonModule } from 'primeng/button';
import { TableModule } from 'primeng/table';
import { of } from 'rxjs';
import { accountFeature } from '../account/accountStore';
import { StationDay } from '../account/stationDay';
import { Api } from '../api/api';
import { Loader } from '../api/loader';
import { Undo } from '../undo/undo';
import { ItemPicker } from '../pick/itemPicker';
import { NextItem } from './nextItem';
import { RoundItems } from './roundItems';

/** How often an open round is asked for anew: whoever has it before him sees what the others take and have done. */
const AGAIN_MS = 5000;

/** A round: its list of what is to be tested and who has it, its sheet with every item and what it came to, the next item, and its end. */
@Component({
  selector: 'gr-round-screen',
  imports: [RouterLink, ButtonModule, TableModule, ItemPicker, NextItem, RoundItems],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './roundScreen.html',
  styleUrl: './roundScreen.css',
})
export class RoundScreen {
  readonly id = input.required<string>();
  private readonly api = inject(Api);
  private readonly undo = inject(Undo);
  protected readonly days = inject(StationDay);
  private readonly me = inject(Store).selectSignal(accountFeature.selectMe);
  protected readonly loaded = new Loader<RoundView>();
  protected readonly works = computed(() => this.me()?.role !== 'reader');
  protected readonly ending = signal(false);

  protected readonly most = MOST_IN_ROUND;
  /** More items are being chosen. */
  protected readonly adding = signal(false);
  protected readonly chosen = signal<readonly string[]>([]);

  constructor() {
    effect(() => this.look());
    const timer = setInterval(() => {
      // Nobody looks at a page that lies behind another, and an ended round stays as it is.
      if (document.visibilityState === 'visible' && this.loaded.value()?.closedAt === null && !this.loaded.loading()) this.look();
    }, AGAIN_MS);
    inject(DestroyRef).onDestroy(() => clearInterval(timer));
  }

  protected look(): void {
    this.loaded.load(this.api.round(this.id()));
  }

  /** What an act answered with is shown at once. */
  protected changed(round: RoundView | null): void {
    this.loaded.load(round ? of(round) : this.api.round(this.id()));
  }

  protected add(): void {
    this.api.addToRound(this.id(), this.chosen()).subscribe({
      next: () => {
        this.adding.set(false);
        this.look();
      },
      error: (e: unknown) => this.undo.refused(e),
    });
  }

  protected word(r: RoundRun): string {
    return r.record === null ? $localize`open` : r.word;
  }

  protected end(): void {
    this.api.endRound(this.id()).subscribe({
      next: () => this.loaded.load(this.api.round(this.id())),
      error: (e: unknown) => this.undo.refused(e),
    });
    this.ending.set(false);
  }
}
