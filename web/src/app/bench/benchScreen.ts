import { ChangeDetectionStrategy, Component, DestroyRef, DOCUMENT, effect, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Calculator } from '../calculator/calculator';
import { WatchRows } from '../watch/watchRows';
import { OldPage } from '../door/oldPage';
import { AnswerBar } from './part/answerBar';
import { BenchHand } from './shown/benchHand';
import { GaugeAside } from './part/gaugeAside';
import { BenchKeys, keys } from './ask/keys';
import { BURST_MS, Wedge } from '../scan/wedge';
import { BenchHead } from './part/benchHead';
import { BenchRun } from './shown/benchRun';
import { BenchActions } from './session/benchStore';
import { goesOnByItself } from './shown/byItself';
import { handsFree } from './shown/handsFree';
import { PictureSheet } from './part/pictureSheet';
import { StageScene } from './part/stageScene';

/** The bench: one run on the whole screen, one primary action at a time. */
@Component({
  selector: 'gr-bench-screen',
  imports: [RouterLink, AnswerBar, BenchHead, Calculator, GaugeAside, OldPage, PictureSheet, StageScene, WatchRows],
  providers: [BenchRun, BenchHand],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './benchScreen.html',
  styleUrl: './benchScreen.css',
})
export class BenchScreen {
  private readonly store = inject(Store);
  private readonly run = inject(BenchRun);
  protected readonly hand = inject(BenchHand);
  readonly id = input.required<string>();
  protected readonly bench = this.run.bench;
  protected readonly view = this.run.view;
  protected readonly mine = this.run.mine;
  protected readonly mayWork = this.run.mayWork;
  protected readonly works = this.run.works;
  protected readonly keys = keys;

  constructor() {
    effect(() => this.store.dispatch(BenchActions.opened({ id: this.id() })));
    const document = inject(DOCUMENT);
    const pressed = new BenchKeys();
    const wedge = new Wedge();
    let waiting: ReturnType<typeof setTimeout> | undefined;
    const key = (event: KeyboardEvent): void => {
      if (pressed.holdsDown(event)) event.preventDefault();
      // What a scanner types is no answer: a serial has an N in it, and a Z.
      const heard = event.repeat ? 'alone' : wedge.heard(event.key, event.timeStamp);
      if (heard !== 'alone') clearTimeout(waiting);
      const act = pressed.pressed(event);
      if (act === null || this.hand.asking() || this.hand.picturing()) return;
      event.preventDefault();
      if (heard === 'alone') waiting = setTimeout(() => this.hand.act(act), BURST_MS);
    };
    const pointer = (): void => pressed.pointed();
    document.addEventListener('keydown', key);
    document.addEventListener('pointerdown', pointer);
    inject(DestroyRef).onDestroy(() => {
      clearTimeout(waiting);
      document.removeEventListener('keydown', key);
      document.removeEventListener('pointerdown', pointer);
      this.store.dispatch(BenchActions.left());
    });
    goesOnByItself();
    handsFree();
  }

  protected takeOver(): void {
    this.store.dispatch(BenchActions.takeOverPressed());
  }
}
