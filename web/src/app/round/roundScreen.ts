import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { RoundRun, RoundView } from '@grellin/contract';
import { Store } from '@ngrx/store';
import { ButtonModule } from 'primeng/button';
import { TableModule } from 'primeng/table';
import { accountFeature } from '../account/accountStore';
import { StationDay } from '../account/stationDay';
import { Api } from '../api/api';
import { Loader } from '../api/loader';
import { Undo } from '../undo/undo';
import { NextItem } from './nextItem';

/** A round: its sheet with every item and what it came to, the next item, and its end. */
@Component({
  selector: 'gr-round-screen',
  imports: [RouterLink, ButtonModule, TableModule, NextItem],
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

  constructor() {
    effect(() => this.loaded.load(this.api.round(this.id())));
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
